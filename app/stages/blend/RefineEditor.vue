<script setup lang="ts">
/** What is done to coverage after it is made, of a part or of the whole mask; each shows its effect while it is dragged. */
import { computed, ref } from 'vue';
import { smoothCurve } from '#core/masks/greyCurve.ts';
import { AT_REST, type Refinements } from '#core/scene/refinements.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import CurveField from '../../ui/CurveField.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import { sourcesOf } from './partNames.ts';

const props = defineProps<{ refine: Refinements }>();
const session = useSession();
const tools = useMaskTools();
const sources = computed(() => sourcesOf(session.scene));
/** The curve takes the place of the numbers while it is open. */
const showsCurve = ref(false);

const curve = computed(() => (props.refine.curve.length >= 2 ? smoothCurve(props.refine.curve) : (x: number) => x));
const levels = (change: Partial<Refinements['levels']>) => ({ levels: { ...props.refine.levels, ...change } });
const fit = (change: Partial<Refinements['edgeFit']>) => ({ edgeFit: { ...props.refine.edgeFit, ...change } });
const core = (change: Partial<Refinements['coreFill']>) => ({ coreFill: { ...props.refine.coreFill, ...change } });
const atRest = computed(() => JSON.stringify(props.refine) === JSON.stringify({ ...AT_REST, edgeFit: { ...AT_REST.edgeFit, guide: props.refine.edgeFit.guide } }));

interface Row { label: string; unit: string; shown?: number; value: number; min: number; max: number; step: number; usual: number; geometric?: boolean; set: (value: number) => Partial<Refinements> }
const rows = computed<Row[]>(() => [
  { label: 'Black', unit: '%', shown: 100, value: props.refine.levels.black, min: 0, max: 1, step: 0.005, usual: 0, set: (black) => levels({ black }) },
  { label: 'Middle', unit: '', value: props.refine.levels.gamma, min: 0.1, max: 10, step: 0.01, usual: 1, geometric: true, set: (gamma) => levels({ gamma }) },
  { label: 'White', unit: '%', shown: 100, value: props.refine.levels.white, min: 0, max: 1, step: 0.005, usual: 1, set: (white) => levels({ white }) },
  { label: 'Softness', unit: 'px', value: props.refine.softness, min: 0, max: 200, step: 0.5, usual: 0, set: (softness) => ({ softness }) },
  { label: 'Grow', unit: 'px', value: props.refine.grow, min: -60, max: 60, step: 0.5, usual: 0, set: (grow) => ({ grow }) },
  { label: 'Edge fit', unit: 'px', value: props.refine.edgeFit.radius, min: 0, max: 120, step: 1, usual: 0, set: (radius) => fit({ radius }) },
  { label: 'Edges from', unit: '%', shown: 100, value: props.refine.edgeFit.contrast, min: 0.002, max: 0.3, step: 0.001, usual: 0.05, geometric: true, set: (contrast) => fit({ contrast }) },
  { label: 'Core fill', unit: '%', shown: 100, value: props.refine.coreFill.amount, min: 0, max: 1, step: 0.01, usual: 0, set: (amount) => core({ amount }) },
  { label: 'Reach', unit: 'px', value: props.refine.coreFill.reach, min: 1, max: 400, step: 1, usual: 40, geometric: true, set: (reach) => core({ reach }) },
  { label: 'Inside from', unit: '%', shown: 100, value: props.refine.coreFill.from, min: 0.01, max: 1, step: 0.01, usual: 0.25, set: (from) => core({ from }) },
  { label: 'Strength', unit: '%', shown: 100, value: props.refine.strength, min: 0, max: 1, step: 0.01, usual: 1, set: (strength) => ({ strength }) },
]);
</script>

<template>
  <div class="flex flex-col gap-0.5" @keydown.esc="session.cancelDrag()">
    <CurveField v-if="showsCurve" class="mx-auto max-w-50" label="Curve over the greys" :points="refine.curve" :curve="curve" @preview="tools.refinePreview({ curve: $event })" @commit="tools.refineCommit({ curve: $event })" @cancel="session.cancelDrag()" />
    <RuleSlider v-for="{ set, ...row } in showsCurve ? [] : rows" :key="row.label" slim v-bind="row" @preview="tools.refinePreview(set($event))" @commit="tools.refineCommit(set($event))" />
    <div class="mt-1 flex gap-1.5">
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': refine.inverted }" :aria-pressed="refine.inverted" title="Covered where it was not" @click="tools.refine({ inverted: !refine.inverted })">{{ refine.inverted ? 'Inverted' : 'Invert' }}</button>
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': showsCurve }" :aria-pressed="showsCurve" @click="showsCurve = !showsCurve">Curve</button>
      <ChoiceField v-if="refine.edgeFit.radius > 0" class="min-w-0 flex-1" label="Edges of" quiet title="The picture whose edges are fitted to" :value="refine.edgeFit.guide" :choices="sources" @choose="tools.refine(fit({ guide: $event }))" />
      <button type="button" class="btn ml-auto h-7 px-2" :disabled="atRest" title="As it was made" @click="tools.refine({ ...AT_REST, edgeFit: { ...AT_REST.edgeFit, guide: refine.edgeFit.guide } })">Reset</button>
    </div>
  </div>
</template>
