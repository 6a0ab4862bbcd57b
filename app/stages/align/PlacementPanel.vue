<script setup lang="ts">
/** How the chosen frame lies: what was found and why, numbers to type, pairs of points, the worst places, the common area. */
import { computed, ref } from 'vue';
import { handNumbers, type HandNumbers, withHandNumbers } from '#core/align/byHand.ts';
import { farthest } from '#core/align/localFit.ts';
import { compose, isIdentity, mapPoint, type Point } from '#core/align/placement.ts';
import { placeByPairs } from '#core/align/pointPairs.ts';
import { IDENTITY3 } from '#core/raster/matrix3.ts';
import type { Size } from '#core/raster/size.ts';
import { placeFrames, restoreFound, setCrop, setLocalFit, setLocked } from '#core/scene/edits/placing.ts';
import type { Frame } from '#core/scene/frame.ts';
import PairList from '../../bench/PairList.vue';
import { useNotices } from '../../stores/notices.ts';
import { usePlacing } from '../../stores/placing.ts';
import { useSession } from '../../stores/session.ts';
import RuleSlider from '../../ui/RuleSlider.vue';
import { frameLabel } from '../../frameLabel.ts';
import { sayPixels, sayShare } from '../../wording.ts';
import { MODEL_NAMES, VERDICTS, sayReason } from './sayPlacement.ts';
import { guidesOf, lookOnly } from './lookOnly.ts';
import { useCommonArea } from '../useCommonArea.ts';
import type { Pairs } from '../../stores/pointPairs.ts';
import { plain } from '../../plain.ts';

const props = defineProps<{ frame: Frame; matrix: readonly number[]; size: Size; pairs: Pairs; tool: string; stops: number; mayPlace: boolean }>();
const emit = defineEmits<{ place: [matrix: readonly number[], drag?: string]; done: []; visit: [at: Point] }>();
const misfits = defineModel<boolean>('misfits', { required: true });

const session = useSession();
const placing = usePlacing();
const notices = useNotices();

const label = computed(() => frameLabel(session.scene, props.frame.id));
const found = computed(() => session.evidence.get(props.frame.id)?.found);
const compared = computed(() => session.evidence.get(props.frame.id)?.compared ?? []);
const shown = computed(() => (found.value?.verdict === 'failed' && props.frame.placement?.model !== 'hand' ? found.value : props.frame.placement));
/** What kind of motion it is, and what the verdict goes by. */
const saysHow = computed(() => {
  const { model, reason, verdict } = shown.value ?? { model: 'none' as const, reason: null, verdict: null };
  const how = `It ${model === 'none' ? '' : 'is '}${MODEL_NAMES[model]}`;
  const because = sayReason(reason);
  if (verdict === 'failed') return because.charAt(0).toUpperCase() + because.slice(1);
  return because ? `${how}: ${because}` : how;
});
const numbers = computed(() => handNumbers(props.matrix, props.size));
const preview = (change: Partial<HandNumbers>) => emit('place', withHandNumbers(props.matrix, props.size, change), 'placing in numbers');
function commit(change: Partial<HandNumbers>): void {
  preview(change);
  emit('done');
}

const baseMatrix = computed(() => placing.base?.placement?.matrix ?? IDENTITY3);
/** The grid of a local fit lies over the base, so the base has to lie as it was taken. */
const baseLies = computed(() => isIdentity(baseMatrix.value));
const limit = ref(8);
const byPairs = computed(() => (props.pairs.pairs.value.length === 0 ? undefined : placeByPairs(props.pairs.pairs.value, props.size)));
function takePairs(): void {
  if (!byPairs.value) return;
  emit('place', compose(byPairs.value.matrix, baseMatrix.value));
}

/** The worst first; those that could be measured before those that hold something else. */
const worst = computed(() => compared.value.filter(({ missPx }) => missPx === null || missPx > 0.4).sort((a, b) => (b.missPx ?? -1) - (a.missPx ?? -1)).slice(0, 8));

const sameMoment = computed(() => session.scene.frames.filter(({ id, moment, locked }) => id !== props.frame.id && id !== session.scene.base && moment === props.frame.moment && !locked));
const copy = () => session.dispatch(placeFrames({ frameIds: sameMoment.value.map(({ id }) => id), placement: props.frame.placement }));

const area = useCommonArea();
const { common, isWhole } = area;

const masks = computed(() => guidesOf(session.scene));
const lookAt = ref<{ key: string; way: 'only' | 'not' }>({ key: '', way: 'only' });
async function find(): Promise<void> {
  const guide = masks.value.find(({ key }) => key === lookAt.value.key);
  const wanted = guide ? await lookOnly(guide, props.size, lookAt.value.way) : null;
  if (guide && !wanted) notices.tell('The mask cannot be drawn yet. Try again when all frames are read.', { tone: 'error' });
  else await placing.align([props.frame.id], wanted);
}
</script>

<template>
  <aside class="flex w-80 shrink-0 flex-col gap-4 overflow-y-auto bg-panel px-4 py-3" :aria-label="`Placement of ${label}`" data-skip="Placement" tabindex="-1">
    <section class="flex flex-col gap-1">
      <h2 class="text-[15px] font-semibold" data-testid="verdict">{{ shown?.verdict ? VERDICTS[shown.verdict] : shown ? 'Placed by hand' : 'Not aligned yet' }}</h2>
      <p v-if="shown" class="text-soft">{{ saysHow }}.</p>
      <p v-if="shown?.verdict === 'failed' && masks.length === 0" class="text-soft">To mark something, paint a mask over it in Blend, then choose that mask here.</p>
      <p v-if="shown?.verdict && shown.verdict !== 'failed' && shown.residualPx !== null" class="text-soft">Off by {{ sayPixels(shown.residualPx) }} · {{ shown.agreement === null ? '' : `${sayShare(shown.agreement)} agrees` }}{{ shown.confidence === undefined ? '' : ` · ${sayShare(shown.confidence)} sure` }}</p>
      <div class="mt-1 flex flex-wrap gap-1.5">
        <button type="button" class="btn h-7 px-2" :disabled="placing.isRunning || frame.locked || session.readOnly" :aria-label="`Align: ${label}`" title="Align this frame (F)" @click="find">Align</button>
        <button type="button" class="btn h-7 px-2" :disabled="!mayPlace || !found || found.verdict === 'failed'" :aria-label="`As aligned: ${label}`" title="Go back to the placement that aligning found" @click="found && session.dispatch(restoreFound({ found: [{ frameId: frame.id, placement: plain(found) }] }))">As aligned</button>
        <button type="button" class="btn h-7 px-2" :disabled="!mayPlace || !frame.placement" :aria-label="`As shot: ${label}`" title="Go back to no placement at all" @click="session.dispatch(placeFrames({ frameIds: [frame.id], placement: null }))">As shot</button>
        <button type="button" class="btn h-7 px-2" :aria-pressed="frame.locked" :disabled="session.readOnly" :aria-label="`${frame.locked ? 'Unlock' : 'Lock'}: ${label}`" @click="session.dispatch(setLocked({ frameIds: [frame.id], locked: !frame.locked }))">{{ frame.locked ? 'Unlock' : 'Lock' }}</button>
        <button v-if="sameMoment.length > 0" type="button" class="btn h-7 px-2" :disabled="!frame.placement || session.readOnly" :aria-label="`Copy to moment: ${label}`" :title="`To the ${sameMoment.length} other frames of this moment`" @click="copy">Copy to moment</button>
      </div>
      <div v-if="masks.length > 0" class="mt-1 flex items-center gap-1.5 text-soft">
        <select v-model="lookAt.way" class="field h-6 px-1 text-[12px]" aria-label="How the mask is used"><option value="only">Search only in</option><option value="not">Do not search in</option></select>
        <select v-model="lookAt.key" class="field h-6 min-w-0 flex-1 px-1 text-[12px]" aria-label="Mask that says where to search"><option value="">no mask</option><option v-for="guide in masks" :key="guide.key" :value="guide.key">{{ guide.label }}</option></select>
      </div>
    </section>
    <section class="flex flex-col gap-1.5" aria-label="By hand">
      <h3 class="caption">By hand</h3>
      <div class="grid grid-cols-2 gap-x-4 gap-y-1.5" :class="mayPlace ? '' : 'pointer-events-none opacity-45'">
        <RuleSlider label="Across" wide unit="px" :value="numbers.x" :min="-200" :max="200" :step="0.01" :usual="0" @preview="preview({ x: $event })" @commit="commit({ x: $event })" />
        <RuleSlider label="Down" wide unit="px" :value="numbers.y" :min="-200" :max="200" :step="0.01" :usual="0" @preview="preview({ y: $event })" @commit="commit({ y: $event })" />
        <RuleSlider label="Rotation" wide unit="°" :value="numbers.turnDegrees" :min="-5" :max="5" :step="0.001" :usual="0" @preview="preview({ turnDegrees: $event })" @commit="commit({ turnDegrees: $event })" />
        <RuleSlider label="Scale" wide unit="%" :shown="100" :value="numbers.scale" :min="0.8" :max="1.25" :step="0.0001" :usual="1" @preview="preview({ scale: $event })" @commit="commit({ scale: $event })" />
      </div>
    </section>
    <section v-if="tool === 'pairs' || pairs.pairs.value.length > 0" class="flex flex-col gap-1.5" aria-label="Pairs of points">
      <h3 class="caption">Pairs of points</h3>
      <p class="text-soft">{{ pairs.isSnapping.value ? 'Finding the exact point…' : pairs.pending.value ? 'Now click the same point on the frame.' : 'Click a point on the base, then the same point on the frame; its exact position is found. The “Half” view shows both.' }}</p>
      <PairList :count="pairs.pairs.value.length" :misses="byPairs?.misses" :disabled="!mayPlace" @remove="pairs.remove" @place="takePairs" @clear="pairs.clear" />
    </section>
    <section v-if="compared.length > 0" class="flex flex-col gap-1" aria-label="Places that do not match">
      <div class="flex items-center justify-between"><h3 class="caption">Places that do not match</h3><label class="flex items-center gap-1 text-soft"><input v-model="misfits" type="checkbox" class="accent-verdigris" /> Show on picture</label></div>
      <p v-if="worst.length === 0" class="text-soft">None: every place compared agrees.</p>
      <div v-else class="flex flex-wrap gap-1">
        <button v-for="(place, i) in worst" :key="i" type="button" class="rounded bg-raised px-1.5 py-0.5 text-[12px] hover:shadow-[inset_0_0_0_1px_var(--ink-soft)]" :aria-label="`Zoom in to place ${i + 1} that does not match`" title="Zoom in to 400 % there" @click="emit('visit', mapPoint(baseMatrix, place))">{{ place.missPx === null ? `differs at ${Math.round((place.x / size.width) * 100)} %, ${Math.round((place.y / size.height) * 100)} %` : sayPixels(place.missPx) }}</button>
      </div>
    </section>
    <section class="flex flex-col gap-1.5" aria-label="Local fit">
      <h3 class="caption">Local fit</h3>
      <p class="text-soft">{{ frame.local ? `Shifted locally by up to ${sayPixels(farthest(frame.local))}; the arrows are drawn ten times as long.` : 'For parallax and wind. Off unless you ask for it.' }}</p>
      <RuleSlider slim label="At most" unit="px" :value="limit" :min="1" :max="24" :step="0.5" :usual="8" @preview="limit = $event" @commit="limit = $event" />
      <div class="flex gap-1.5">
        <button type="button" class="btn h-7 px-2" :disabled="placing.isRunning || !mayPlace || !baseLies" :aria-label="`Fit locally: ${label}`" :title="baseLies ? '' : 'The base has been moved itself: set it to “As shot” first'" @click="placing.fitFurther(frame, limit)">Fit locally</button>
        <button v-if="frame.local" type="button" class="btn h-7 px-2" :disabled="!mayPlace" :aria-label="`Remove it: local fit of ${label}`" @click="session.dispatch(setLocalFit({ frameId: frame.id, local: null }))">Remove it</button>
      </div>
    </section>
    <section class="flex flex-col gap-1.5" aria-label="Common area">
      <h3 class="caption">Common area</h3>
      <p class="text-soft">{{ isWhole ? 'All frames cover the whole picture.' : common ? `All frames cover ${common.width} × ${common.height} pixels of ${size.width} × ${size.height}. Beyond a frame's edge the base shows${area.leavesBorders.value ? '; beyond the edge of the base there is nothing' : ''}.` : 'The frames have no area in common.' }}</p>
      <div class="flex gap-1.5">
        <button type="button" class="btn h-7 px-2" :disabled="isWhole || !common || session.readOnly" @click="area.crop">Crop to it</button>
        <button v-if="session.scene.geometry.crop" type="button" class="btn h-7 px-2" :disabled="session.readOnly" @click="session.dispatch(setCrop({ crop: null }))">Remove the crop</button>
      </div>
    </section>
  </aside>
</template>
