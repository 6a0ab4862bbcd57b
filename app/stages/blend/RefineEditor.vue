<script setup lang="ts">
/** What is done to coverage after it is made, of a part or of the whole mask; each shows its effect while it is dragged. */
import { PhCaretRight } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import { hasShape, smoothCurve } from '#core/masks/greyCurve.ts';
import { AT_REST, type Refinements } from '#core/refinements/list.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import CurveField from '../../ui/CurveField.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import { sourcesOf } from './partNames.ts';

const props = defineProps<{ refine: Refinements }>();
const session = useSession();
const tools = useMaskTools();
const guides = computed(() => sourcesOf(session.scene).map(({ value, label }) => ({ value, label: `Edges of: ${label}` })));
/** Tones are seldom refined: they are folded away while they are at rest. */
const tonesOpen = ref(hasShape(props.refine));

const curve = computed(() => (props.refine.curve.length >= 2 ? smoothCurve(props.refine.curve) : (x: number) => x));
const levels = (change: Partial<Refinements['levels']>) => ({ levels: { ...props.refine.levels, ...change } });
const fit = (change: Partial<Refinements['edgeFit']>) => ({ edgeFit: { ...props.refine.edgeFit, ...change } });
const core = (change: Partial<Refinements['coreFill']>) => ({ coreFill: { ...props.refine.coreFill, ...change } });
const atRest = computed(() => JSON.stringify(props.refine) === JSON.stringify({ ...AT_REST, edgeFit: { ...AT_REST.edgeFit, guide: props.refine.edgeFit.guide } }));

interface Row { label: string; title: string; unit: string; shown?: number; value: number; min: number; max: number; step: number; usual: number; geometric?: boolean; set: (value: number) => Partial<Refinements> }
const share = { unit: '%', shown: 100, min: 0, max: 1, step: 0.01 };
const edge = computed<Row[]>(() => [
  { label: 'Softness', title: 'Blurs the mask', unit: 'px', value: props.refine.softness, min: 0, max: 200, step: 0.5, usual: 0, set: (softness) => ({ softness }) },
  { label: 'Grow', title: 'Widens what is covered; negative values shrink it', unit: 'px', value: props.refine.grow, min: -60, max: 60, step: 0.5, usual: 0, set: (grow) => ({ grow }) },
  { label: 'Edge fit', title: 'Draws the mask to edges of a picture, within this distance', unit: 'px', value: props.refine.edgeFit.radius, min: 0, max: 120, step: 1, usual: 0, set: (radius) => fit({ radius }) },
  ...(props.refine.edgeFit.radius > 0 ? [{ label: 'Contrast', title: 'Contrast from which on an edge counts', unit: '%', shown: 100, value: props.refine.edgeFit.contrast, min: 0.002, max: 0.3, step: 0.001, usual: 0.05, geometric: true, set: (contrast: number) => fit({ contrast }) }] : []),
]);
const inside = computed<Row[]>(() => [
  { label: 'Core fill', title: 'Fills the inside of covered areas and leaves their edges as they are', ...share, value: props.refine.coreFill.amount, usual: 0, set: (amount) => core({ amount }) },
  ...(props.refine.coreFill.amount > 0 ? [
    { label: 'Fill reach', title: 'How far around a place is looked to tell whether it lies inside', unit: 'px', value: props.refine.coreFill.reach, min: 1, max: 400, step: 1, usual: 40, geometric: true, set: (reach: number) => core({ reach }) },
    { label: 'Inside from', title: 'Coverage around a place from which on it counts as inside', ...share, min: 0.01, value: props.refine.coreFill.from, usual: 0.25, set: (from: number) => core({ from }) },
  ] : []),
]);
const tones = computed<Row[]>(() => [
  { label: 'Black', title: 'Greys up to this become black', ...share, step: 0.005, value: props.refine.levels.black, usual: 0, set: (black) => levels({ black }) },
  { label: 'Midtones', title: 'Lightens or darkens the greys in between', unit: '', value: props.refine.levels.gamma, min: 0.1, max: 10, step: 0.01, usual: 1, geometric: true, set: (gamma) => levels({ gamma }) },
  { label: 'White', title: 'Greys from this on become white', ...share, step: 0.005, value: props.refine.levels.white, usual: 1, set: (white) => levels({ white }) },
]);
const whole = computed<Row[]>(() => [
  { label: 'Strength', title: 'Weakens the mask as a whole', ...share, value: props.refine.strength, usual: 1, set: (strength) => ({ strength }) },
]);
const groups = computed(() => [
  { name: 'Edge', rows: edge.value },
  { name: 'Inside', rows: inside.value },
  { name: 'Whole', rows: whole.value },
]);
</script>

<template>
  <div class="flex flex-col gap-1.5" @keydown.esc="session.cancelDrag()">
    <section v-for="group in groups" :key="group.name" :aria-label="group.name" class="flex flex-col gap-0.5">
      <h3 class="caption">{{ group.name }}</h3>
      <RuleSlider v-for="{ set, ...row } in group.rows" :key="row.label" slim v-bind="row" @preview="tools.refinePreview(set($event))" @commit="tools.refineCommit(set($event))" />
      <ChoiceField v-if="group.name === 'Edge' && refine.edgeFit.radius > 0" label="Edges of" quiet title="The picture whose edges the mask follows" :value="refine.edgeFit.guide" :choices="guides" @choose="tools.refine(fit({ guide: $event }))" />
    </section>
    <section aria-label="Greys" class="flex flex-col gap-0.5">
      <button type="button" class="caption flex items-center gap-1 text-left hover:text-ink" :aria-expanded="tonesOpen" title="Levels and a curve over the greys of the mask" @click="tonesOpen = !tonesOpen"><PhCaretRight :size="11" :class="{ 'rotate-90': tonesOpen }" /> Levels and curve</button>
      <template v-if="tonesOpen">
        <RuleSlider v-for="{ set, ...row } in tones" :key="row.label" slim v-bind="row" @preview="tools.refinePreview(set($event))" @commit="tools.refineCommit(set($event))" />
        <CurveField class="mx-auto mt-1 w-full max-w-44" label="Curve over the greys" :points="refine.curve" :curve="curve" @preview="tools.refinePreview({ curve: $event })" @commit="tools.refineCommit({ curve: $event })" @cancel="session.cancelDrag()" />
      </template>
    </section>
    <div class="flex gap-1.5">
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': refine.inverted }" :aria-pressed="refine.inverted" title="Swap what is covered and what is not" @click="tools.refine({ inverted: !refine.inverted })">{{ refine.inverted ? 'Inverted' : 'Invert' }}</button>
      <button type="button" class="btn ml-auto h-7 px-2" :disabled="atRest" title="Reset all refinements" @click="tools.refine({ ...AT_REST, edgeFit: { ...AT_REST.edgeFit, guide: refine.edgeFit.guide } })">Reset</button>
    </div>
  </div>
</template>
