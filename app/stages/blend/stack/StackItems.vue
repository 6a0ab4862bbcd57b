<script setup lang="ts">
/** Cards that lie in one group, or beside all, from below upwards; dragged to another place or into another group. */
import Sortable from 'sortablejs';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import type { GroupId } from '#core/ids.ts';
import type { Size } from '#core/raster/size.ts';
import { placeItem } from '#core/scene/edits/cards.ts';
import type { Item } from '#core/scene/item.ts';
import { everyItem, shownItems } from '#core/scene/tree.ts';
import { itemLabel } from '../../../frameLabel.ts';
import { useBench } from '../../../stores/bench.ts';
import { useSession } from '../../../stores/session.ts';
import GroupCards from './GroupCards.vue';
import StackCard from './StackCard.vue';

const props = defineProps<{ items: readonly Item[]; group: GroupId | null; size: Size }>();
const session = useSession();
const bench = useBench();

const shown = computed(() => shownItems(props.items, session.scene.base));
const isSought = (item: Item) => {
  const text = bench.sought.trim().toLowerCase();
  return text === '' || [...everyItem([item])].some((each) => itemLabel(session.scene, each).toLowerCase().includes(text));
};

const list = ref<HTMLElement>();
let sortable: Sortable | undefined;
onMounted(() => {
  sortable = list.value && new Sortable(list.value, {
    group: 'stack', animation: 120, draggable: '[data-card]', filter: 'input, [data-no-drag]', preventOnFilter: false, delay: 120, delayOnTouchOnly: true,
    scroll: true, fallbackOnBody: true, swapThreshold: 0.6, invertSwap: true,
    onEnd({ item, from, to, oldIndex = 0 }) {
      const next = item.nextElementSibling as HTMLElement | null;
      const below = next?.dataset.card ?? null;
      // The list is drawn from the scene: the element goes back, and the scene moves it.
      item.remove();
      from.insertBefore(item, from.children[oldIndex] ?? null);
      const { dataset } = to;
      session.dispatch(placeItem({ id: item.dataset.card as never, group: (dataset.group || null) as never, below: below as never }));
    },
  });
});
onBeforeUnmount(() => sortable?.destroy());
</script>

<template>
  <div ref="list" class="flex h-full gap-2" :data-group="group ?? ''">
    <div v-for="item in shown" v-show="isSought(item)" :key="item.id" class="flex h-full shrink-0" :data-card="item.id">
      <GroupCards v-if="item.item === 'group'" :item="item" :size="size"><StackItems :items="item.items" :group="item.id" :size="size" /></GroupCards>
      <template v-else>
        <StackCard :item="item" :size="size" />
        <template v-if="item.item === 'layer'"><StackCard v-for="own in item.adjustments" :key="own.id" :item="own" :size="size" /></template>
      </template>
    </div>
  </div>
</template>
