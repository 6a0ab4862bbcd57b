<script setup lang="ts">
/** Blend: the picture in the middle, the stack below, the masks of the selected layer beside it. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { placeItem, stepOf } from '#core/scene/edits/cards.ts';
import { setItem } from '#core/scene/edits/items.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { cardsOf, groupAround, holdersOf, layersOf, showsSomething } from '#core/scene/tree.ts';
import LimitsOverlay from '../../bench/LimitsOverlay.vue';
import SceneCanvas from '../../bench/SceneCanvas.vue';
import { useFingers } from '../../bench/useFingers.ts';
import { useFirstPen } from '../../bench/useFirstPen.ts';
import { useLoupe } from '../../bench/useLoupe.ts';
import type { Point } from '../../bench/viewTransform.ts';
import { useBench } from '../../stores/bench.ts';
import { useChecks } from '../../stores/checks.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { Lane } from '#engine/lanes.ts';
import DividerBar from '../../ui/DividerBar.vue';
import EmptyStage from '../../ui/EmptyStage.vue';
import { useShortcuts } from '../../useShortcuts.ts';
import BeforeTag from './BeforeTag.vue';
import LoupePane from './LoupePane.vue';
import MaskBench from './MaskBench.vue';
import { modeAfter } from './stack/modeWords.ts';
import MaskOverlay from './MaskOverlay.vue';
import type { ProbeReading } from './probe.ts';
import ReadingsPanel from './ReadingsPanel.vue';
import ChecksOverlay from './checks/ChecksOverlay.vue';
import ChecksPanel from './checks/ChecksPanel.vue';
import { useCheckKeys } from './checks/useCheckKeys.ts';
import StackStrip from './StackStrip.vue';
import ToolLine from './ToolLine.vue';
import { useBenchKeys } from './useBenchKeys.ts';
import { useBlendView } from './useBlendView.ts';
import { useSampledColour } from './tools/useSampledColour.ts';
import { usePainting } from './usePainting.ts';

const session = useSession();
const bench = useBench();
const tools = useMaskTools();
const notices = useNotices();
const checks = useChecks();

const canvas = ref<InstanceType<typeof SceneCanvas>>();
const picture = ref<HTMLElement>();
const hovered = ref<{ x: number; y: number }>();
const reading = shallowRef<ProbeReading>();

const size = computed(() => sceneSize(session.scene));
const item = computed(() => tools.item);

const layers = computed(() => layersOf(session.scene));
/** All that can be worked on, from the base upwards. */
const cards = computed(() => cardsOf(session.scene));
watch(cards, (now) => {
  if (!now.some(({ id }) => id === bench.state.layerId)) bench.state.layerId = (now.find((card) => card.item !== 'group') ?? now[0])?.id ?? null;
}, { immediate: true });
watch(() => item.value && groupAround(session.scene, item.value.id), (group) => {
  if (!group && bench.state.of === 'group') bench.state.of = 'mask';
});

useFingers(picture, (grip) => canvas.value?.gripped(grip), useFirstPen());

const showsNothing = computed(() => layers.value.length > 0 && !layers.value.some(showsSomething));

const { view, before, blinking, toggleBlink } = useBlendView(() => ({ what: bench.withFinish ? 'result' : 'blend' }));
const divider = ref(0.5);
/** What is told of the picture as it is now ends where what was before it begins. */
const rightOfDivider = computed(() => (bench.divides ? { clipPath: `inset(0 0 0 ${divider.value * 100}%)` } : {}));
const sample = useSampledColour();

const { paint, through, held, spread, turned: paintsTurned, tellIfAllShows } = usePainting(() => true, () => reading.value);

function selectBy(steps: number): void {
  const index = cards.value.findIndex(({ id }) => id === bench.state.layerId);
  const next = cards.value[Math.min(cards.value.length - 1, Math.max(0, index + steps))];
  if (next) bench.state.layerId = next.id;
}
function moveBy(by: 1 | -1): void {
  const to = item.value && stepOf(session.scene, item.value.id, by);
  if (to) session.dispatch(placeItem(to));
}

/** What the bench shows of: the layer at hand, or its group. */
const laid = computed(() => item.value && ((bench.state.of === 'group' && groupAround(session.scene, item.value.id)) || item.value));
function fadeBy(share: number): void {
  const { value: of } = laid;
  if (of) session.dispatch(setItem({ id: of.id, change: { opacity: Math.min(1, Math.max(0, Math.round((of.opacity + share) * 20) / 20)) } }));
}
function modeBy(steps: number): void {
  const { value: of } = laid;
  if (of) session.dispatch(setItem({ id: of.id, change: { mode: modeAfter(of.mode, steps) } }));
}

useBenchKeys({ full: () => canvas.value?.toggleFull(), toggleBlink });
const { zoomTo } = useLoupe(() => size.value);
const look = (at: Point) => zoomTo(1, at);
useCheckKeys(false, look);
useShortcuts({
  'brush.sample': sample,
  'layer.fainter': () => fadeBy(-0.1),
  'layer.fuller': () => fadeBy(0.1),
  'layer.modeBefore': () => modeBy(-1),
  'layer.modeAfter': () => modeBy(1),
  'layer.lower': () => selectBy(-1),
  'layer.higher': () => selectBy(1),
  'layer.moveLower': () => moveBy(-1),
  'layer.moveHigher': () => moveBy(1),
  'layer.visible': () => item.value && session.dispatch(setItem({ id: item.value.id, change: { visible: !item.value.visible } })),
});

/** What is painted on a hidden layer is kept, and not to be seen: that is said once for each layer, until it shows. */
let toldOf: string | undefined;
function tellIfHidden(): void {
  const painted = item.value;
  if (!painted) return;
  const hidden = [painted, ...holdersOf(session.scene, painted.id)].filter(({ visible }) => !visible);
  const isTold = toldOf === painted.id;
  toldOf = hidden.length > 0 ? painted.id : undefined;
  if (hidden.length === 0 || isTold) return;
  const what = painted.visible ? 'What this card lies in is hidden' : painted.item === 'layer' ? 'This layer is hidden' : 'This card is hidden';
  notices.tell(`${what}: what you paint on it is kept, and shows once it is visible.`, {
    action: { label: 'Show it', run: () => { for (const { id } of hidden) session.dispatch(setItem({ id, change: { visible: true } })); } },
  });
}

onMounted(() => { document.title = `${session.scene.name} · Blend`; });
onBeforeUnmount(() => { tools.peek = undefined; });
</script>

<template>
  <EmptyStage v-if="!size" text="There is nothing to blend yet." />
  <div v-else class="flex h-full flex-col">
    <ToolLine :scale="canvas?.scale ?? 1" :layer="item" :blinking="blinking" @full="canvas?.toggleFull()" @blink="toggleBlink" />
    <div class="flex min-h-0 flex-1">
      <div ref="picture" class="relative min-w-0 flex-1">
        <SceneCanvas ref="canvas" :key="session.scene.workingSpace" :size="size" :view="view" :paint="paint" :through="through" :held="held" :spread="spread" :turned="paintsTurned" @hover="hovered = $event" @stroke="tellIfHidden(), tellIfAllShows()" />
        <template v-if="bench.divides">
          <div class="pointer-events-none absolute inset-0" data-testid="before" :style="{ clipPath: `inset(0 ${(1 - divider) * 100}% 0 0)` }">
            <SceneCanvas :key="session.scene.workingSpace" :size="size" :view="before" :lane="Lane.Before" still />
            <LimitsOverlay v-if="canvas && bench.state.limits" :view="before" :size="size" :transform="canvas.transform" :density="canvas.density" />
            <BeforeTag />
          </div>
          <DividerBar v-model="divider" class="z-10" />
        </template>
        <LimitsOverlay v-if="canvas && bench.state.limits" :view="view" :size="size" :transform="canvas.transform" :density="canvas.density" :style="rightOfDivider" />
        <ChecksOverlay v-if="canvas && checks.isOpen && checks.chosen" :transform="canvas.transform" :density="canvas.density" />
        <MaskOverlay v-if="canvas && item" :transform="canvas.transform" :density="canvas.density" :size="size" @pan="(dx, dy) => canvas?.pan(dx, dy)" @wheel="canvas?.onWheel($event)" />
        <p v-if="showsNothing" class="pointer-events-none absolute inset-x-4 bottom-3 mx-auto w-fit rounded bg-panel/90 px-3 py-1 text-ink" role="note">All frames above the base are hidden by their masks. Choose one in the stack, then paint it in with the brush, or add a part to its mask.</p>
        <LoupePane v-if="bench.state.loupe" :key="session.scene.workingSpace" :size="size" :view="view" :point="hovered" />
      </div>
      <MaskBench v-if="item" :key="item.id" :item="item" :size="size" />
      <aside v-else class="w-76 shrink-0 bg-panel p-4 text-soft">Add a second frame in Gather to work on masks here.</aside>
    </div>
    <div class="flex h-39 shrink-0 bg-panel">
      <StackStrip class="min-w-0 flex-1" :size="size" />
      <ChecksPanel v-if="checks.isOpen" class="shrink-0" :look="look" />
      <ReadingsPanel v-show="!checks.isOpen" class="shrink-0" :size="size" :view="view" :finished="bench.withFinish" :point="hovered" :layer-id="item?.id ?? null" @reading="reading = $event" />
    </div>
  </div>
</template>
