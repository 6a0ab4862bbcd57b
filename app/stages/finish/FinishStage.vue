<script setup lang="ts">
/** Finish: the blend made ready. Steps above it, spots in it, and how it is turned and cut; all of it on the picture as it will be delivered. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { deliveredFrom, tableFrom } from '#core/finish/turning.ts';
import { placeItem, stepOf } from '#core/scene/edits/cards.ts';
import { setItem } from '#core/scene/edits/items.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { isStep } from '#core/scene/tree.ts';
import { Lane } from '#engine/lanes.ts';
import type { View } from '#engine/protocol.ts';
import LimitsOverlay from '../../bench/LimitsOverlay.vue';
import { turnedMap } from '../../bench/pictureMap.ts';
import type { Point } from '../../bench/viewTransform.ts';
import SceneCanvas from '../../bench/SceneCanvas.vue';
import { useFingers } from '../../bench/useFingers.ts';
import { useFirstPen } from '../../bench/useFirstPen.ts';
import { useBench } from '../../stores/bench.ts';
import { useChecks } from '../../stores/checks.ts';
import { useFinish } from '../../stores/finish.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import DividerBar from '../../ui/DividerBar.vue';
import EmptyStage from '../../ui/EmptyStage.vue';
import { useShortcuts } from '../../useShortcuts.ts';
import BeforeTag from '../blend/BeforeTag.vue';
import ChecksOverlay from '../blend/checks/ChecksOverlay.vue';
import ChecksPanel from '../blend/checks/ChecksPanel.vue';
import { useCheckKeys } from '../blend/checks/useCheckKeys.ts';
import LoupePane from '../blend/LoupePane.vue';
import MaskBench from '../blend/MaskBench.vue';
import MaskOverlay from '../blend/MaskOverlay.vue';
import type { ProbeReading } from '../blend/probe.ts';
import ReadingsPanel from '../blend/ReadingsPanel.vue';
import { modeAfter } from '../blend/stack/modeWords.ts';
import { useBenchKeys } from '../blend/useBenchKeys.ts';
import { useBlendView } from '../blend/useBlendView.ts';
import { usePainting } from '../blend/usePainting.ts';
import CropOverlay from './CropOverlay.vue';
import FinishLine from './FinishLine.vue';
import ProofOverlay from './ProofOverlay.vue';
import { useProofing } from './proofing.ts';
import SpotOverlay from './SpotOverlay.vue';
import SpotPanel from './SpotPanel.vue';
import StepStrip from './StepStrip.vue';
import TurnPanel from './TurnPanel.vue';

const session = useSession();
const bench = useBench();
const tools = useMaskTools();
const finish = useFinish();
const proofing = useProofing();
const checks = useChecks();

const canvas = ref<InstanceType<typeof SceneCanvas>>();
const picture = ref<HTMLElement>();
const hovered = ref<{ x: number; y: number }>();
/** The same place in what is shown. */
const hoveredShown = ref<{ x: number; y: number }>();
const reading = shallowRef<ProbeReading>();

const size = computed(() => sceneSize(session.scene));
const step = computed(() => (isStep(session.scene, bench.state.layerId) ? tools.item : undefined));
/** A step is at hand as long as there is one, but for when the blend itself was chosen. */
const atBlend = ref(false);
watch(() => session.scene.finish, (steps) => {
  if (!atBlend.value && !steps.some(({ id }) => id === bench.state.layerId)) bench.state.layerId = steps.at(-1)?.id ?? null;
}, { immediate: true });
watch(() => bench.state.layerId, (id) => { if (id !== null) atBlend.value = false; });
function chooseBlend(): void {
  atBlend.value = true;
  bench.state.layerId = null;
}

const isTurning = computed(() => bench.finishing === 'turn');
/** How scene pixels come to lie in what the canvas shows. */
const shown = computed(() => size.value && (isTurning.value ? tableFrom(session.scene.geometry, size.value) : deliveredFrom(session.scene.geometry, size.value)));
const map = computed(() => shown.value && turnedMap(shown.value.fromScene));
const turned = computed(() => (isTurning.value ? ('table' as const) : ('finished' as const)));
const { view: looked, before, blinking, toggleBlink } = useBlendView(() => ({ what: 'result', turned: turned.value }));
const view = computed<View>(() => {
  if (bench.finishing === 'spots' && finish.showsRelief) return { show: { what: 'relief', turned: turned.value } };
  return bench.finishing === 'steps' || bench.before || bench.showsOther || blinking.value ? looked.value : { show: { what: 'result', turned: turned.value } };
});
/** What is counted is what is delivered, also while it is turned on its table. */
const delivered: View = { show: { what: 'result', turned: 'finished' } };
const counted = computed(() => size.value && deliveredFrom(session.scene.geometry, size.value).size);
const divider = ref(0.5);
/** What is told of the picture as it is now ends where what was before it begins. */
const rightOfDivider = computed(() => (bench.divides && !isTurning.value ? { clipPath: `inset(0 0 0 ${divider.value * 100}%)` } : {}));
useFingers(picture, (grip) => canvas.value?.gripped(grip), useFirstPen());

const { paint, through, held, spread, turned: paintsTurned, tellIfAllShows } = usePainting(() => bench.finishing === 'steps' && step.value !== undefined, () => reading.value);
/** A canvas of another size is another canvas. */
const canvasKey = computed(() => `${session.scene.workingSpace} ${turned.value} ${shown.value?.size.width} ${shown.value?.size.height}`);

/** Shows a place of the scene, if it is not seen or is to be seen at a scale. */
function lookAt(place: Point, scale?: number): void {
  const at = map.value?.fromScene(place);
  const [seen, element] = [canvas.value, picture.value];
  if (!at || !seen || !element) return;
  const { transform, density } = seen;
  const [x, y] = [(at.x * transform.scale + transform.offsetX) / density, (at.y * transform.scale + transform.offsetY) / density];
  const isSeen = x >= 0 && y >= 0 && x <= element.clientWidth && y <= element.clientHeight;
  if (scale === undefined && isSeen) return;
  bench.state.viewport = { fit: false, scale: scale ?? bench.state.viewport.scale, x: at.x, y: at.y };
}

/** The brush of spots is another one than that of masks. */
function resize(factor: number): void {
  const { brush } = bench.state;
  if (bench.finishing === 'spots') finish.width = Math.round(Math.min(2000, Math.max(4, finish.width * factor)));
  else brush.size = Math.round(Math.min(4000, Math.max(1, brush.size * factor)));
}
function selectBy(by: number): void {
  const { finish: steps } = session.scene;
  const at = steps.findIndex(({ id }) => id === bench.state.layerId);
  const next = steps[Math.min(steps.length - 1, Math.max(0, at + by))];
  if (next) bench.state.layerId = next.id;
}
const set = (change: Parameters<typeof setItem>[0]['change']) => { if (step.value) session.dispatch(setItem({ id: step.value.id, change })); };
function moveBy(by: 1 | -1): void {
  const to = step.value && stepOf(session.scene, step.value.id, by);
  if (to) session.dispatch(placeItem(to));
}

useBenchKeys({ full: () => canvas.value?.toggleFull(), toggleBlink, resize });
const look = (at: Point) => lookAt(at, 1);
useCheckKeys(true, look);
useShortcuts({
  'layer.fainter': () => set({ opacity: Math.max(0, (step.value?.opacity ?? 1) - 0.1) }),
  'layer.fuller': () => set({ opacity: Math.min(1, (step.value?.opacity ?? 1) + 0.1) }),
  'layer.modeBefore': () => step.value && set({ mode: modeAfter(step.value.mode, -1) }),
  'layer.modeAfter': () => step.value && set({ mode: modeAfter(step.value.mode, 1) }),
  'layer.lower': () => selectBy(-1),
  'layer.higher': () => selectBy(1),
  'layer.moveLower': () => moveBy(-1),
  'layer.moveHigher': () => moveBy(1),
  'layer.visible': () => step.value && set({ visible: !step.value.visible }),
  'finish.steps': () => { bench.finishing = 'steps'; },
  'finish.spots': () => { bench.finishing = 'spots'; },
  'finish.turn': () => { bench.finishing = 'turn'; },
});

onMounted(() => { document.title = `${session.scene.name} · Finish`; });
onBeforeUnmount(() => { tools.peek = undefined; tools.peeksInner = false; tools.peeksClipped = undefined; });
</script>

<template>
  <EmptyStage v-if="!size || !shown" text="There is nothing to finish yet." />
  <div v-else class="flex h-full flex-col">
    <FinishLine :scale="canvas?.scale ?? 1" :item="step" :blinking="blinking" @full="canvas?.toggleFull()" @blink="toggleBlink" />
    <div class="flex min-h-0 flex-1">
      <div ref="picture" class="relative min-w-0 flex-1">
        <SceneCanvas
          ref="canvas" :key="canvasKey" :size="shown.size" :view="view" :map="map" :paint="paint" :through="through" :held="held" :spread="spread" :turned="paintsTurned" @stroke="tellIfAllShows"
          @hover="(at, onPicture) => { hovered = at; hoveredShown = onPicture; }"
        />
        <template v-if="bench.divides && !isTurning">
          <div class="pointer-events-none absolute inset-0" data-testid="before" :style="{ clipPath: `inset(0 ${(1 - divider) * 100}% 0 0)` }">
            <SceneCanvas :key="canvasKey" :size="shown.size" :view="before" :lane="Lane.Before" still />
            <LimitsOverlay v-if="canvas && bench.state.limits" :view="before" :size="shown.size" :transform="canvas.transform" :density="canvas.density" />
            <BeforeTag finish />
          </div>
          <DividerBar v-model="divider" class="z-10" />
        </template>
        <ProofOverlay v-if="canvas && proofing.isOn && !isTurning" :key="canvasKey" :size="shown.size" :transform="canvas.transform" :density="canvas.density" :style="rightOfDivider" />
        <LimitsOverlay v-if="canvas && bench.state.limits" :view="view" :size="shown.size" :transform="canvas.transform" :density="canvas.density" :style="rightOfDivider" />
        <ChecksOverlay v-if="canvas && map && checks.isOpen && checks.chosen" :transform="canvas.transform" :density="canvas.density" :map="map" />
        <MaskOverlay v-if="canvas && step && bench.finishing === 'steps'" :transform="canvas.transform" :density="canvas.density" :size="size" :map="map" @pan="(dx, dy) => canvas?.pan(dx, dy)" @wheel="canvas?.onWheel($event)" />
        <SpotOverlay v-if="canvas && map && bench.finishing === 'spots'" :transform="canvas.transform" :density="canvas.density" :size="size" :map="map" @pan="(dx, dy) => canvas?.pan(dx, dy)" @wheel="canvas?.onWheel($event)" />
        <CropOverlay v-if="canvas && map && isTurning" :transform="canvas.transform" :density="canvas.density" :size="size" :map="map" @pan="(dx, dy) => canvas?.pan(dx, dy)" @wheel="canvas?.onWheel($event)" />
        <LoupePane v-if="bench.state.loupe && !isTurning" :key="canvasKey" :size="shown.size" :view="view" :point="hoveredShown" />
      </div>
      <TurnPanel v-if="isTurning" :size="size" />
      <SpotPanel v-else-if="bench.finishing === 'spots'" @look="lookAt" />
      <MaskBench v-else-if="step" :key="step.id" :item="step" :size="size" />
      <aside v-else class="flex w-76 shrink-0 flex-col gap-2 bg-panel p-4 text-soft">
        <p v-if="session.scene.finish.length > 0">The blend lies below all steps. Choose one of them to change it, or add another at the foot.</p>
        <p v-else>Nothing is done to the blend yet. Add a step at the foot: levels for black and white, light painted in and out, a glow round a lamp.</p>
        <p>Each step has a mask of its own, and stays changeable for ever.</p>
      </aside>
    </div>
    <div class="flex h-39 shrink-0 bg-panel">
      <StepStrip class="min-w-0 flex-1" :size="size" :at-blend="!step" @blend="chooseBlend" />
      <ChecksPanel v-if="checks.isOpen" class="shrink-0" :look="look" />
      <ReadingsPanel v-show="!checks.isOpen" class="shrink-0" :size="size" :view="isTurning ? delivered : view" finished :point="hovered" :counted="counted" :layer-id="step?.id ?? null" @reading="reading = $event" />
    </div>
  </div>
</template>
