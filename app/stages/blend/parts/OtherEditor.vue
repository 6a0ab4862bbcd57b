<script setup lang="ts">
/** Parts with few settings: painting, differences of frames, references and pictures. */
import { computed, ref } from 'vue';
import { addStroke, clearStrokes } from '#core/scene/edits/painting.ts';
import { freezeReference } from '#core/scene/edits/references.ts';
import { FrameId, ItemId, StencilId, StrokeId } from '#core/ids.ts';
import { type DifferencePart, LIGHTS_FROM } from '#core/parts/difference.ts';
import type { PaintedPart } from '#core/parts/painted.ts';
import type { PicturePart } from '#core/parts/picture.ts';
import type { ReferencePart } from '#core/parts/reference.ts';
import { leadsBack } from '#core/scene/maskGraph.ts';
import { cardsAndSteps } from '#core/scene/tree.ts';
import { frameLabel, itemLabel } from '../../../frameLabel.ts';
import { useBench } from '../../../stores/bench.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useSession } from '../../../stores/session.ts';
import ChoiceField from '../../../ui/ChoiceField.vue';
import ChoiceRow from '../../../ui/ChoiceRow.vue';
import PartRows from './PartRows.vue';
import { referenceLabel, sayRing } from '../partNames.ts';

const props = defineProps<{ part: DifferencePart | PaintedPart | PicturePart | ReferencePart }>();
const tools = useMaskTools();
const session = useSession();
const bench = useBench();
const notices = useNotices();

const frames = computed(() => session.scene.frames.map(({ id }) => ({ value: id as string, label: frameLabel(session.scene, id) })));
const masks = computed(() => [
  ...cardsAndSteps(session.scene).flatMap((item) => (item.id === tools.item?.id ? [] : [{ value: `item:${item.id}`, label: `Layer ${itemLabel(session.scene, item)}` }])),
  ...session.scene.stencils.map(({ id, name }) => ({ value: `stencil:${id}`, label: `Stencil ${name}` })),
]);
const referred = computed(() => {
  if (props.part.kind !== 'reference') return '';
  const { to } = props.part;
  return 'item' in to ? `item:${to.item}` : 'stencil' in to ? `stencil:${to.stencil}` : '';
});
function refer(name: string): void {
  const at = name.indexOf(':');
  const id = name.slice(at + 1);
  const to = name.startsWith('item') ? { item: ItemId.parse(id) } : { stencil: StencilId.parse(id) };
  if (!tools.place || !leadsBack(session.scene, tools.place, to)) {
    tools.change({ to });
    return;
  }
  notices.tell(sayRing(referenceLabel(session.scene, to)), { tone: 'error' });
  // The list shows again what is referred to.
  refusals.value++;
}
const refusals = ref(0);

const MODES: readonly { value: DifferencePart['mode']; label: string; hint: string }[] = [
  { value: 'any', label: 'Any difference', hint: 'Whatever differs once the exposures are matched' },
  { value: 'lights', label: 'Lights that came on', hint: 'What became brighter than its surroundings did, whatever dusk did to the whole' },
];
/** Lights are far brighter than what else differs; they have thresholds of their own. */
const mark = (mode: DifferencePart['mode']) => tools.change(mode === 'lights' ? { mode, ...LIGHTS_FROM } : { mode, from: 0.06, shoulder: 0.12 });

const where = computed(() => ({ ...tools.place!, part: props.part.id }));
function fill(): void {
  const { effect, grey, strength } = bench.state.brush;
  const stroke = { id: StrokeId.parse(crypto.randomUUID()), fill: true as const, outline: null, feather: 0, target: effect === 'hide' ? 0 : grey, strength, stencil: null };
  session.dispatch(addStroke({ ...where.value, stroke }));
}
</script>

<template>
  <div class="flex flex-col gap-2">
    <template v-if="part.kind === 'painted'">
      <p class="text-[12px] text-soft">The brush paints here, over the parts before it: reveal adds, hide takes away.</p>
      <div class="flex gap-1.5">
        <button type="button" class="btn h-7 px-2" title="Everywhere, with the brush's effect and strength" @click="fill">Fill</button>
        <button type="button" class="btn h-7 px-2" :disabled="part.strokes.length === 0" @click="session.dispatch(clearStrokes(where))">Clear</button>
      </div>
    </template>
    <template v-else-if="part.kind === 'difference'">
      <ChoiceField label="Between" :value="part.first as string" :choices="frames" @choose="tools.change({ first: FrameId.parse($event) })" />
      <ChoiceField label="and" :value="part.second as string" :choices="frames" @choose="tools.change({ second: FrameId.parse($event) })" />
      <ChoiceRow label="What is marked" :value="part.mode" :choices="MODES" @choose="mark" />
      <PartRows :part="part" />
      <p v-if="part.mode === 'lights'" class="text-[12px] text-soft">What became brighter from the first to the second than all around it did.</p>
      <p v-else class="text-[12px] text-soft">{{ part.stops === null ? 'The second is matched to the first by its exposure data.' : 'The second is matched to the first by hand.' }} <button v-if="part.stops !== null" type="button" class="underline" @click="tools.change({ stops: null })">Use its exposure data</button></p>
    </template>
    <template v-else-if="part.kind === 'reference'">
      <ChoiceField v-if="!('frozen' in part.to)" :key="refusals" label="Mask of" :value="referred" :choices="masks" @choose="refer" />
      <p class="text-[12px] text-soft">{{ 'frozen' in part.to ? `A copy of the mask of ${referenceLabel(session.scene, part.to)}; it no longer changes with it.` : 'It follows that mask as it changes.' }}</p>
      <button v-if="!('frozen' in part.to)" type="button" class="btn h-7 self-start px-2" @click="session.dispatch(freezeReference({ ...where, name: referenceLabel(session.scene, part.to) }))">Keep as it is now</button>
    </template>
    <p v-else class="text-[12px] text-soft">{{ part.file.name }}: white is covered. Levels and Invert are under Refine.</p>
  </div>
</template>
