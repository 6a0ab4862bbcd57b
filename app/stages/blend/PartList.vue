<script setup lang="ts">
/** The parts of a mask, first to last, ordered by dragging, and the mask as a whole. */
import { PhStack } from '@phosphor-icons/vue';
import Sortable from 'sortablejs';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { movePart } from '#core/scene/edits/masks.ts';
import type { Size } from '#core/raster/size.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import PartRow from './PartRow.vue';

defineProps<{ size: Size }>();
const session = useSession();
const tools = useMaskTools();
const parts = computed(() => tools.mask?.parts ?? []);

const list = ref<HTMLElement>();
let sortable: Sortable | undefined;
onMounted(() => {
  sortable = list.value && new Sortable(list.value, {
    handle: '[data-grip]', animation: 120,
    onEnd({ item, oldIndex, newIndex }) {
      const { place } = tools;
      if (!place || oldIndex === undefined || newIndex === undefined || oldIndex === newIndex) return;
      // The list is drawn from the scene: the element goes back, and the scene moves it.
      const { parentNode } = item;
      parentNode?.insertBefore(item, parentNode.children[oldIndex < newIndex ? oldIndex : oldIndex + 1]);
      session.dispatch(movePart({ ...place, part: parts.value[oldIndex].id, to: newIndex }));
    },
  });
});
onBeforeUnmount(() => { sortable?.destroy(); tools.peek = undefined; });
</script>

<template>
  <div v-if="tools.place" class="flex flex-col">
    <ul ref="list" class="flex flex-col" aria-label="Parts of the mask">
      <PartRow v-for="(part, index) in parts" :key="part.id" :part="part" :index="index" :place="tools.place" :size="size" :is-open="part.id === tools.partId" />
    </ul>
    <button
      type="button" class="flex h-7 items-center gap-2 pl-2.5 pr-2 text-left" :aria-pressed="tools.partId === null" data-testid="part-whole"
      :class="tools.partId === null ? 'bg-raised shadow-[inset_3px_0_0_var(--color-verdigris)]' : ''" @click="tools.partId = null"
    >
      <PhStack :size="15" /><span class="flex-1">Whole mask</span>
    </button>
  </div>
</template>
