<script setup lang="ts">
/** Match: frames developed so that neighbours of the stack come close enough to blend. */
import { computed, onMounted, ref, watch } from 'vue';
import type { FrameId } from '#core/ids.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { Lane } from '#engine/lanes.ts';
import LimitsOverlay from '../../bench/LimitsOverlay.vue';
import SceneCanvas from '../../bench/SceneCanvas.vue';
import { useFingers } from '../../bench/useFingers.ts';
import { useLoupe } from '../../bench/useLoupe.ts';
import { toScene } from '../../bench/viewTransform.ts';
import { frameLabel } from '../../frameLabel.ts';
import { useBench } from '../../stores/bench.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import DividerBar from '../../ui/DividerBar.vue';
import EmptyStage from '../../ui/EmptyStage.vue';
import { useShortcuts } from '../../useShortcuts.ts';
import DevelopPanel from './DevelopPanel.vue';
import DevelopStrip from './DevelopStrip.vue';
import MatchLine from './MatchLine.vue';
import { useDevelop } from './useDevelop.ts';
import { useEndsDrag } from './useEndsDrag.ts';
import { usePairMatch } from './usePairMatch.ts';
import { useSpotPick } from './useSpotPick.ts';
import { useMatchView } from './useMatchView.ts';

const session = useSession();
const bench = useBench();
const notices = useNotices();
const canvas = ref<InstanceType<typeof SceneCanvas>>();
const picture = ref<HTMLElement>();
useFingers(picture, (grip) => canvas.value?.gripped(grip));
const size = computed(() => sceneSize(session.scene));
const { zoomTo, fit } = useLoupe(() => size.value);

const chosen = ref<FrameId>();
const { look, divider, asTaken, order, frame, other, own, neighbour, view, shownFrames } = useMatchView(chosen);
const developing = useDevelop(frame);
const spot = useSpotPick(frame, developing);
const { wants, curveOver } = spot;
const endsDrag = useEndsDrag(frame, developing);
const { isOn: dragsEnds } = endsDrag;
const match = usePairMatch(frame, other, developing);

const nameOf = (id: FrameId | undefined) => (id ? `${frameLabel(session.scene, id)}${id === session.scene.base ? ' (base)' : ''}` : '');
const names = computed(() => ({ own: nameOf(frame.value?.id), other: nameOf(other.value?.id) }));
const captions = computed(() => shownFrames.value.map((each) => nameOf(each?.id)));
const hasTwo = computed(() => look.value === 'beside' && other.value !== undefined);

/** Where an event lies in pixels of the scene. */
function placeOf(event: MouseEvent) {
  if (!canvas.value) return undefined;
  const { left, top } = (event.currentTarget as HTMLElement).getBoundingClientRect();
  const { density, transform } = canvas.value;
  return toScene(transform, { x: (event.clientX - left) * density, y: (event.clientY - top) * density });
}
function onPick(event: MouseEvent): void {
  const at = placeOf(event);
  if (at && size.value) void spot.pick(at, size.value);
}
function onDragEnds(event: PointerEvent): void {
  const at = placeOf(event);
  if (!at || !size.value || event.button !== 0) return;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  endsDrag.begin(at, size.value, event.clientY).catch(notices.tellError);
}
watch(wants, (what) => { if (what) dragsEnds.value = false; });
function giveUp(): void {
  wants.value = undefined;
  endsDrag.cancel();
  dragsEnds.value = false;
}

useShortcuts({ full: () => canvas.value?.toggleFull(), 'look.limits': () => { bench.state.limits = !bench.state.limits; } });
onMounted(() => { document.title = `${session.scene.name} · Match`; });
</script>

<template>
  <EmptyStage v-if="!size || !frame" text="Add frames to develop them." />
  <div v-else class="flex h-full flex-col">
    <MatchLine v-model:look="look" :scale="canvas?.scale ?? 1" :names="names" @zoom="zoomTo" @fit="fit" />
    <div class="flex min-h-0 flex-1">
      <div ref="picture" class="relative flex min-w-0 flex-1 gap-1" @keydown.esc="giveUp">
        <div v-if="hasTwo" class="relative min-w-0 flex-1">
          <SceneCanvas :key="session.scene.workingSpace" :size="size" :view="neighbour" :lane="Lane.Loupe" />
          <LimitsOverlay v-if="canvas && bench.state.limits" :view="neighbour" :size="size" :transform="canvas.transform" :density="canvas.density" />
        </div>
        <div class="relative min-w-0 flex-1">
          <SceneCanvas ref="canvas" :key="session.scene.workingSpace" :size="size" :view="hasTwo ? own : view" />
          <template v-if="look === 'divider'">
            <div class="pointer-events-none absolute inset-0" :style="{ clipPath: `inset(0 0 0 ${divider * 100}%)` }">
              <SceneCanvas :key="session.scene.workingSpace" :size="size" :view="own" :lane="Lane.Loupe" still />
              <LimitsOverlay v-if="canvas && bench.state.limits" :view="own" :size="size" :transform="canvas.transform" :density="canvas.density" />
            </div>
            <DividerBar v-model="divider" />
          </template>
          <LimitsOverlay v-if="canvas && bench.state.limits" :view="hasTwo ? own : view" :size="size" :transform="canvas.transform" :density="canvas.density" :style="look === 'divider' ? { clipPath: `inset(0 ${(1 - divider) * 100}% 0 0)` } : {}" />
          <div
            v-if="dragsEnds" class="absolute inset-0 cursor-ns-resize touch-none" data-testid="drag-ends" @pointerdown="onDragEnds" @pointermove="endsDrag.move($event.clientY)"
            @pointerup="endsDrag.end()" @pointercancel="endsDrag.cancel()"
          />
          <div v-if="wants" class="absolute inset-0 cursor-crosshair" data-testid="pick-spot" @click="onPick" />
        </div>
        <template v-for="(caption, i) in captions" :key="i">
          <span v-if="caption" class="pointer-events-none absolute top-3 rounded bg-panel/90 px-2 py-0.5 text-[12px]" :class="i === 0 ? 'left-3' : 'right-3'" data-testid="caption">{{ caption }}</span>
        </template>
      </div>
      <DevelopPanel v-model:over="curveOver" :frame="frame" :developing="developing" :wants="wants" :match="match" :other="names.other" :order="order" :drags-ends="dragsEnds" @drag-ends="dragsEnds = !dragsEnds; wants = undefined" @pick="wants = wants === $event ? undefined : $event" @taken="asTaken = $event" @find-veil="spot.findVeilOf(frame).catch(notices.tellError)" />
    </div>
    <DevelopStrip
      :chosen="frame.id" :order="order" @update:chosen="chosen = $event"
      @preview="(of, stops) => developing.preview('exposure', { stops }, of)" @commit="(of, stops) => developing.commit('exposure', { stops }, of)" @cancel="developing.cancel()"
    />
  </div>
</template>
