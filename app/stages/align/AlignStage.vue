<script setup lang="ts">
/** Align: how each frame lies on the base; found, looked at, and mended by hand. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { handNumbers, withHandNumbers } from '#core/align/byHand.ts';
import { mapPoint } from '#core/align/placement.ts';
import { IDENTITY3, invert3 } from '#core/raster/matrix3.ts';
import { placeFrames } from '#core/scene/edits/placing.ts';
import type { Frame, Placement } from '#core/scene/frame.ts';
import { sceneSize } from '#core/scene/scene.ts';
import SceneCanvas from '../../bench/SceneCanvas.vue';
import { useLoupe } from '../../bench/useLoupe.ts';
import { useFingers } from '../../bench/useFingers.ts';
import { usePlacing } from '../../stores/placing.ts';
import { useSession } from '../../stores/session.ts';
import EmptyStage from '../../ui/EmptyStage.vue';
import { useShortcuts } from '../../useShortcuts.ts';
import AlignLine from './AlignLine.vue';
import AlignOverlay from './AlignOverlay.vue';
import FrameStrip from './FrameStrip.vue';
import PlacementPanel from './PlacementPanel.vue';
import { useAlignView } from './useAlignView.ts';
import { usePairs } from '../../stores/pointPairs.ts';

const session = useSession();
const placing = usePlacing();

const canvas = ref<InstanceType<typeof SceneCanvas>>();
const picture = ref<HTMLElement>();
useFingers(picture, (grip) => canvas.value?.gripped(grip));
const size = computed(() => sceneSize(session.scene));
const others = computed(() => session.scene.frames.filter(({ id }) => id !== session.scene.base));
const chosenId = ref(others.value[0]?.id);
const frame = computed(() => others.value.find(({ id }) => id === chosenId.value) ?? others.value[0]);

const { look, share, divider, speed, view, under, showsUnder, stops } = useAlignView(frame);
const matrixOf = (of: Frame | undefined) => of?.placement?.matrix ?? IDENTITY3;
const pairs = usePairs(() => {
  const { value: on } = frame;
  return on && {
    toBase: (at) => mapPoint(invert3(matrixOf(placing.base)), at),
    toFrame: (at) => mapPoint(invert3(matrixOf(on)), at),
    snap: (pair) => placing.snap(on, pair),
  };
});
/** What a press on the picture does. */
const tool = ref<'look' | 'move' | 'corners' | 'pairs'>('look');
const showsMisfits = ref(false);
watch(frame, () => { if (tool.value === 'pairs') pairs.clear(); });

const matrix = computed(() => frame.value?.placement?.matrix ?? IDENTITY3);
const mayPlace = computed(() => frame.value !== undefined && !frame.value.locked && !session.readOnly);

const byHand = (next: readonly number[]): Placement => ({
  matrix: [...next], model: 'hand', verdict: null, reason: null, residualPx: null, agreement: null, stops: frame.value?.placement?.stops ?? null,
});

/** Places the frame by hand. @param drag - Names a drag: its steps become one. */
function place(next: readonly number[], drag?: string): void {
  if (frame.value && mayPlace.value) session.dispatch(placeFrames({ frameIds: [frame.value.id], placement: byHand(next) }), drag);
}

/** Arrow keys move the frame by a pixel, with Shift by a tenth. */
function onKey(event: KeyboardEvent): void {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!way || !size.value || !mayPlace.value) return;
  event.preventDefault();
  const step = event.shiftKey ? 0.1 : 1;
  const now = handNumbers(matrix.value, size.value);
  place(withHandNumbers(matrix.value, size.value, { x: now.x + way[0] * step, y: now.y + way[1] * step }));
}

const { zoomTo, fit } = useLoupe(() => size.value);

let blinking: ReturnType<typeof setInterval> | undefined;
watch([look, speed], () => {
  clearInterval(blinking);
  showsUnder.value = false;
  if (look.value === 'blink') blinking = setInterval(() => { showsUnder.value = !showsUnder.value; }, Number(speed.value));
}, { immediate: true });
onBeforeUnmount(() => clearInterval(blinking));

useShortcuts({
  full: () => canvas.value?.toggleFull(),
  'align.find': () => frame.value && void placing.align([frame.value.id]),
  'align.difference': () => { look.value = 'difference'; },
  'align.edges': () => { look.value = 'edges'; },
  'align.blink': () => { look.value = 'blink'; },
});
onMounted(() => { document.title = `${session.scene.name} · Align`; });
</script>

<template>
  <EmptyStage v-if="!size || !frame" text="Two frames are needed to lay one on the other." />
  <div v-else class="flex h-full flex-col">
    <AlignLine v-model:look="look" v-model:share="share" v-model:speed="speed" v-model:tool="tool" :scale="canvas?.scale ?? 1" :may-place="mayPlace" @zoom="zoomTo" @fit="fit" />
    <div class="flex min-h-0 flex-1">
      <div ref="picture" class="relative min-w-0 flex-1" @keydown="onKey">
        <SceneCanvas ref="canvas" :key="session.scene.workingSpace" :size="size" :view="look === 'divider' ? under : view" />
        <div v-if="look === 'divider'" class="pointer-events-none absolute inset-0" :style="{ clipPath: `inset(0 0 0 ${divider * 100}%)` }">
          <SceneCanvas :key="session.scene.workingSpace" :size="size" :view="view" still />
        </div>
        <AlignOverlay
          v-if="canvas" v-model:divider="divider" :transform="canvas.transform" :density="canvas.density" :size="size" :frame="frame" :matrix="matrix" :tool="mayPlace ? tool : 'look'"
          :pairs="pairs" :has-divider="look === 'divider'" :misfits="showsMisfits ? (session.evidence.get(frame.id)?.compared ?? []) : []" @place="place" @done="session.closeDrag()"
          @pan="(dx, dy) => canvas?.pan(dx, dy)" @wheel="canvas?.onWheel($event)"
        />
      </div>
      <PlacementPanel
        :key="frame.id" v-model:misfits="showsMisfits" :frame="frame" :matrix="matrix" :size="size" :pairs="pairs" :tool="tool" :stops="stops" :may-place="mayPlace"
        @place="place" @done="session.closeDrag()" @visit="zoomTo(4, $event)"
      />
    </div>
    <FrameStrip v-model:chosen="chosenId" :size="size" />
  </div>
</template>
