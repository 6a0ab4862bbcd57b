<script setup lang="ts">
/** What is done to coverage after it is made, of a part or of the whole mask; each shows its effect while it is dragged. */
import { PhCaretRight } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import { hasShape, smoothCurve } from '#core/masks/greyCurve.ts';
import { AT_REST, REFINEMENTS, type Refinements } from '#core/refinements/list.ts';
import type { SettingRow } from '#core/refinements/settingRow.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import CurveField from '../../ui/CurveField.vue';
import SourceField from './SourceField.vue';
import { REFINEMENT_GROUPS } from './rowWords.ts';
import SettingRows from '../../ui/SettingRows.vue';

const props = defineProps<{ refine: Refinements; /** Whose they are. */ what: string }>();
const session = useSession();
const tools = useMaskTools();
/** Tones are seldom refined: they are folded away while they are at rest. */
const tonesOpen = ref(hasShape(props.refine));

const curve = computed(() => (props.refine.curve.length >= 2 ? smoothCurve(props.refine.curve) : (x: number) => x));
const fit = (change: Partial<Refinements['edgeFit']>) => ({ edgeFit: { ...props.refine.edgeFit, ...change } });
const atRest = computed(() => JSON.stringify(props.refine) === JSON.stringify({ ...AT_REST, edgeFit: { ...AT_REST.edgeFit, guide: props.refine.edgeFit.guide } }));

/** Rows by group: details of a refinement that does nothing are left out. */
const groups = computed(() =>
  REFINEMENT_GROUPS.map((group) => ({ ...group, rows: Object.keys(group.words).flatMap((path) => rowAt(path)) })),
);
const rowAt = (path: string): SettingRow[] =>
  REFINEMENTS.flatMap((each) => each.rows.filter((row) => row.path.join('.') === path && !(row.isDetail && each.isAtRest(props.refine))));
const isOpen = ({ folded }: { folded?: boolean }): boolean => !folded || tonesOpen.value;
</script>

<template>
  <div class="flex flex-col gap-1.5" @keydown.esc="session.cancelDrag()">
    <section v-for="group in groups" :key="group.name" :aria-label="group.name" class="flex flex-col gap-0.5">
      <button v-if="group.folded" type="button" class="caption flex items-center gap-1 text-left hover:text-ink" :aria-expanded="tonesOpen" title="Levels and a curve over the greys of the mask" @click="tonesOpen = !tonesOpen"><PhCaretRight :size="11" :class="{ 'rotate-90': tonesOpen }" /> {{ group.name }}</button>
      <h3 v-else class="caption">{{ group.name }}</h3>
      <template v-if="isOpen(group)">
        <SettingRows :rows="group.rows" :settings="refine" :words="group.words" :explained="group.explained" @preview="tools.refinePreview" @commit="tools.refineCommit" />
        <CurveField v-if="group.folded" class="mx-auto mt-1 w-full max-w-44" label="Curve over the greys" :points="refine.curve" :curve="curve" @preview="tools.refinePreview({ curve: $event })" @commit="tools.refineCommit({ curve: $event })" @cancel="session.cancelDrag()" />
      </template>
      <label v-if="group.name === 'Inside' && refine.coreFill.amount > 0" class="flex items-start gap-2 text-[12px]">
        <input type="checkbox" class="mt-0.5 accent-verdigris" :checked="refine.coreFill.keepsOrder" @change="tools.refine({ coreFill: { ...refine.coreFill, keepsOrder: !refine.coreFill.keepsOrder } })" />
        <span>Keep the order of light <span class="block text-[11px] leading-3.5 text-soft">What is darker than its surroundings does not become brighter than they are</span></span>
      </label>
      <SourceField v-if="group.name === 'Edge' && refine.edgeFit.radius > 0" label="Edges of" quiet title="The picture whose edges the mask follows" :value="refine.edgeFit.guide" prefix="Edges of: " @choose="tools.refine(fit({ guide: $event }))" />
    </section>
    <div class="flex gap-1.5">
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': refine.inverted }" :aria-pressed="refine.inverted" :aria-label="`${refine.inverted ? 'Inverted' : 'Invert'}: ${what}`" title="Swap what is covered and what is not" @click="tools.refine({ inverted: !refine.inverted })">{{ refine.inverted ? 'Inverted' : 'Invert' }}</button>
      <template v-if="tools.partId === null">
        <button v-if="refine.coreFill.amount === 0" type="button" class="btn h-7 px-2" title="Core fill at values that suit the picture; where it acted is shown" :aria-label="`Fill the inside: ${what}`" @click="tools.fillInside">Fill inside</button>
        <button v-else type="button" class="btn h-7 px-2" :class="{ 'btn-main': tools.showsFilled }" :aria-pressed="tools.showsFilled" title="Shows where core fill acts, over the picture" :aria-label="`Show where the inside is filled: ${what}`" @click="tools.showsFilled = !tools.showsFilled">Where it fills</button>
      </template>
      <button type="button" class="btn ml-auto h-7 px-2" :disabled="atRest" :aria-label="`Reset all refinements: ${what}`" title="Reset all refinements" @click="tools.refine({ ...AT_REST, edgeFit: { ...AT_REST.edgeFit, guide: refine.edgeFit.guide } })">Reset</button>
    </div>
  </div>
</template>
