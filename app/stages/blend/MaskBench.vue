<script setup lang="ts">
/** The mask bench: one of the selected layer's masks as its parts, and the open part below them. The layer's mask, the guard over it,
 * the stencil that its brush paints through and the mask of its group are all edited here. */
import { computed, nextTick, ref, watch } from 'vue';
import { setItem } from '#core/scene/edits/items.ts';
import { beginGuard, removeGuard } from '#core/scene/edits/masks.ts';
import { setIsolated } from '#core/scene/edits/stack.ts';
import type { Size } from '#core/raster/size.ts';
import { groupAround, isStep } from '#core/scene/tree.ts';
import type { Item } from '#core/scene/item.ts';
import { itemLabel } from '../../frameLabel.ts';
import { useBench } from '../../stores/bench.ts';
import type { MaskChoice } from '../../stores/benchState.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import AddPart from './AddPart.vue';
import WholeMask from './WholeMask.vue';
import { maskLabel } from './partNames.ts';
import PartEditor from './PartEditor.vue';
import PartList from './PartList.vue';
import StencilBar from './StencilBar.vue';
import KeepOut from './stack/KeepOut.vue';
import AdjustmentEditor from './stack/AdjustmentEditor.vue';
import ContentEditor from './stack/ContentEditor.vue';
import MeetBelow from './stack/MeetBelow.vue';
import ModeBoard from './stack/ModeBoard.vue';
import ToneWindowEditor from './stack/ToneWindowEditor.vue';

const props = defineProps<{ item: Item; size: Size }>();
const session = useSession();
const bench = useBench();
const tools = useMaskTools();

const layer = computed(() => (props.item.item === 'layer' ? props.item : undefined));
/** What may have a stencil. */
const stencilled = computed(() => (props.item.item === 'group' ? undefined : props.item));
const isFinishing = computed(() => isStep(session.scene, props.item.id));
const group = computed(() => groupAround(session.scene, props.item.id));
const masks = computed<{ value: MaskChoice; label: string; hint: string }[]>(() => [
  tools.isMap ? { value: 'mask', label: 'Map', hint: 'What was painted: light above middle grey, dark below (1)' } : { value: 'mask', label: 'Mask', hint: 'Where the layer shows (1)' },
  { value: 'guard', label: props.item.guard ? 'Guard ·' : 'Guard', hint: 'A second mask, which limits the first without touching it (2)' },
  ...(stencilled.value ? [{ value: 'stencil' as const, label: stencilled.value.stencil ? 'Stencil ·' : 'Stencil', hint: 'What the brush paints through (3)' }] : []),
  ...(group.value ? [{ value: 'group' as const, label: 'Group', hint: 'The mask of the group that the layer belongs to' }] : []),
]);

const EMPTY = computed<Record<MaskChoice, string>>(() => ({
  mask: tools.isMap ? 'Nothing is painted yet: it is even grey, which changes nothing.' : 'Nothing shows yet: paint, or add a part.',
  guard: 'No guard yet. Add a part to limit the mask to it, or begin with everything and hide with the brush.',
  stencil: 'No stencil yet. Add tones or another part, and the brush paints through it.',
  group: '',
}));
const owner = computed(() => (bench.state.of === 'group' && group.value) || props.item);
/** What was asked for in the strip comes into sight. */
const aside = ref<HTMLElement>();
watch(() => bench.asked, async ({ what }) => {
  await nextTick();
  aside.value?.querySelector(what === 'mask' ? '[data-opens=mask]' : '[data-opens=content]')?.scrollIntoView({ block: 'nearest' });
});
const opacity = (value: number) => setItem({ id: owner.value.id, change: { opacity: value } });
function commitOpacity(value: number): void {
  session.dispatch(opacity(value), 'bench');
  session.closeDrag();
}
</script>

<template>
  <aside ref="aside" class="flex w-76 shrink-0 flex-col overflow-y-auto bg-panel [scrollbar-width:thin]" aria-label="Mask bench" data-skip="Mask bench" tabindex="-1" @keydown.esc="session.cancelDrag()">
    <header class="flex items-center justify-between gap-2 px-3 pb-1.5 pt-2.5">
      <h2 class="min-w-0 truncate text-[15px] font-semibold">{{ tools.isMap ? 'Map' : 'Mask' }} of {{ itemLabel(session.scene, item) }}</h2>
      <span class="flex gap-1"><WholeMask v-if="bench.state.of === 'mask'" :item="item" /><AddPart :size="size" /></span>
    </header>
    <div class="flex flex-col gap-1.5 px-3 pb-1.5" role="group" :aria-label="`How it is laid: ${itemLabel(session.scene, owner)}`">
      <ModeBoard :key="owner.id" :item="owner" :size="size" :label="itemLabel(session.scene, owner)" />
      <RuleSlider
        slim label="Opacity" unit="%" :shown="100" :value="owner.opacity" :min="0" :max="1" :step="0.01" :usual="1" @preview="session.dispatch(opacity($event), 'bench')" @commit="commitOpacity"
      />
    </div>
    <label v-if="owner.item === 'group'" class="flex items-center gap-1.5 px-3 pb-1.5 text-[12px]" title="What is in the group is mixed first, then laid; otherwise it is laid over what lies below one by one">
      <input type="checkbox" class="accent-verdigris" :checked="owner.isolated" @change="session.dispatch(setIsolated({ id: owner.id, isolated: !owner.isolated }))" /> Mixed on its own first
    </label>
    <div v-if="bench.state.of !== 'group'" data-opens="content">
      <ContentEditor v-if="layer" :layer="layer" />
      <MeetBelow v-if="layer && 'frame' in layer.content" :layer="layer" />
      <ToneWindowEditor v-if="layer" :layer="layer" :size="size" />
      <AdjustmentEditor v-if="item.item === 'adjustment'" :adjustment="item" :size="size" />
      <KeepOut v-if="isFinishing" :item="item" />
    </div>
    <ChoiceRow data-opens="mask" class="mx-3 mb-1.5 mt-1.5" label="Which mask" :value="bench.state.of" :choices="masks" @choose="bench.state.of = $event" />
    <StencilBar v-if="bench.state.of === 'stencil' && stencilled" :layer="stencilled" />
    <PartList v-if="tools.mask" :key="`${item.id}:${bench.state.of}`" :size="size" />
    <p v-if="!tools.mask || tools.mask.parts.length === 0" class="px-3 py-2 text-soft">{{ tools.mask?.refine.inverted ? 'It shows everywhere: hide with the brush, or add a part.' : EMPTY[bench.state.of] }}</p>
    <button v-if="bench.state.of === 'guard' && !item.guard" type="button" class="btn mx-3 my-1 h-7 self-start px-2" title="A guard that lets the whole layer through" :aria-label="`Begin with everything: ${maskLabel(session.scene, item, 'guard')}`" @click="session.dispatch(beginGuard({ owner: item.id, part: null }))">Begin with everything</button>
    <button v-if="bench.state.of === 'guard' && item.guard" type="button" class="btn mx-3 my-1 h-7 self-start px-2" :aria-label="`Remove the guard: ${itemLabel(session.scene, item)}`" @click="session.dispatch(removeGuard({ owner: item.id }))">Remove the guard</button>
    <p v-if="tools.mask && bench.state.of !== tools.paintsOn" class="flex items-center justify-between gap-2 px-3 pb-1.5 text-[12px] text-soft">
      <span>The brush paints on the {{ maskLabel(session.scene, item, tools.paintsOn) }}.</span>
      <button type="button" class="btn h-6 shrink-0 px-2" title="Strokes go to the mask that is open (R)" :aria-label="`Paint on this one: ${maskLabel(session.scene, item, bench.state.of)}`" @click="bench.state.paintsOn = bench.state.of">Paint on this one</button>
    </p>
    <div class="border-t border-line"><PartEditor :size="size" /></div>
  </aside>
</template>
