<script setup lang="ts">
/** A group: a bracket over the cards that lie in it, or folded to one. */
import { PhBracketsSquare, PhCaretDown, PhCaretRight } from '@phosphor-icons/vue';
import { computed } from 'vue';
import type { Size } from '#core/raster/size.ts';
import type { Group } from '#core/scene/item.ts';
import { cardsOf, leavesOf } from '#core/scene/tree.ts';
import TileThumb from '../../../bench/TileThumb.vue';
import { itemLabel } from '../../../frameLabel.ts';
import { useBench } from '../../../stores/bench.ts';
import { useSession } from '../../../stores/session.ts';
import NameField from '../../../ui/NameField.vue';
import AloneButton from './AloneButton.vue';
import CardMenu from './CardMenu.vue';
import StackCard from './StackCard.vue';
import { howLaid, useCard } from './useCard.ts';

const props = defineProps<{ item: Group; size: Size }>();
const session = useSession();
const bench = useBench();
const { label, holdAlone, set, actions } = useCard(() => props.item);

const isChosen = computed(() => props.item.id === bench.state.layerId);
const isFolded = computed(() => bench.state.folded.includes(props.item.id) && !bench.sought);
const first = computed(() => cardsOf({ stack: props.item.items, base: session.scene.base }).find(({ item }) => item !== 'group'));
const count = computed(() => leavesOf(props.item.items).length);
const named = computed(() => (props.item.label ? label.value : `group of ${first.value ? itemLabel(session.scene, first.value) : ''}`));
function fold(): void {
  const { folded } = bench.state;
  bench.state.folded = isFolded.value ? folded.filter((id) => id !== props.item.id) : [...folded, props.item.id];
}
function choose(): void {
  bench.state.layerId = props.item.id;
  bench.open('mask');
}
</script>

<template>
  <div class="flex h-full shrink-0 flex-col rounded-md border-t-2 border-verdigris" :class="isChosen ? 'bg-raised' : 'bg-ground/60'" data-testid="group-bracket" :data-chosen="isChosen || undefined" role="group" :aria-label="`Group ${named}`">
    <div class="flex h-5 shrink-0 items-center gap-0.5 border-x-2 border-verdigris px-1 text-[11px]" data-grip>
      <button type="button" class="rounded p-0.5 hover:bg-panel" :aria-expanded="!isFolded" :aria-label="`${isFolded ? 'Unfold' : 'Fold'} ${named}`" :title="isFolded ? 'Show the cards' : 'Fold to one card'" @click="fold"><component :is="isFolded ? PhCaretRight : PhCaretDown" :size="11" /></button>
      <button type="button" class="rounded p-0.5 hover:bg-panel" :class="isChosen ? 'text-verdigris' : ''" :aria-pressed="isChosen" :aria-label="`Select ${named}`" title="Work on the group" @click="choose"><PhBracketsSquare :size="12" /></button>
      <NameField class="w-0 min-w-10 flex-1 truncate bg-transparent" :label="`Name of the group of ${first ? itemLabel(session.scene, first) : ''}`" :most="80" empty placeholder="Group" :value="item.label" @commit="set({ label: $event })" />
      <span class="truncate whitespace-nowrap text-soft" :title="`Laid in ${item.mode}, ${Math.round(item.opacity * 100)} %`">{{ howLaid(item) }}</span>
      <button type="button" class="rounded px-1 text-soft hover:bg-panel" :aria-pressed="item.visible" :aria-label="`${item.visible ? 'Visible' : 'Hidden'}: ${named}`" :title="item.visible ? 'It shows: hide it' : 'It is hidden: show it'" @click="set({ visible: !item.visible })">{{ item.visible ? 'On' : 'Off' }}</button>
      <AloneButton :label="named" @hold="holdAlone" />
      <CardMenu :label="named" :actions="actions" />
    </div>
    <button v-if="isFolded" type="button" class="relative m-1 mt-0 block min-h-0 w-28 flex-1 overflow-hidden rounded-sm text-left" :aria-label="`Select the folded ${named}`" @click="choose">
      <TileThumb :size="size" :view="{ show: { what: 'tried', at: item.id, as: 'alone' } }" :side="110" class="absolute inset-0 h-full w-full" :class="{ 'opacity-35': !item.visible }" label="What the group shows" />
      <span class="absolute bottom-1 left-1 rounded-sm bg-raised/85 px-1 text-[11px] text-ink">{{ count }} {{ count === 1 ? 'card' : 'cards' }}</span>
    </button>
    <div v-else class="flex min-h-0 flex-1 gap-1 p-1 pt-0" :class="{ 'opacity-60': !item.visible }">
      <slot />
      <StackCard v-for="own in item.adjustments" :key="own.id" :item="own" :size="size" />
    </div>
  </div>
</template>
