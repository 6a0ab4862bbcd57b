<script setup lang="ts">
/** A whole mask of another card laid here: copied, moved, or followed live. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { PhSwap } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import type { ItemId } from '#core/ids.ts';
import { isOwnFollower, layWholeMask } from '#core/scene/edits/wholeMask.ts';
import type { Item } from '#core/scene/item.ts';
import { cardsAndSteps } from '#core/scene/tree.ts';
import { itemLabel } from '../../frameLabel.ts';
import { useBench } from '../../stores/bench.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { sayRing } from './partNames.ts';

const props = defineProps<{ item: Item }>();
const session = useSession();
const bench = useBench();
const notices = useNotices();

const others = computed(() => cardsAndSteps(session.scene).filter(({ id }) => id !== props.item.id));
const chosen = ref<ItemId>();
const from = computed(() => others.value.find(({ id }) => id === chosen.value) ?? others.value[0]);
const WAYS = [
  { as: 'copy', label: 'Copy it here', hint: 'with joins, refinements and guard; it reads what the original reads' },
  { as: 'move', label: 'Move it here', hint: 'the other card is left with a new mask' },
  { as: 'reference', label: 'Follow it', hint: 'live: what changes there changes here' },
] as const;
function lay(as: (typeof WAYS)[number]['as'], close: () => void): void {
  if (!from.value) return;
  if (isOwnFollower(session.scene, from.value.id, props.item.id, as)) {
    notices.tell(sayRing(itemLabel(session.scene, from.value)), { tone: 'error' });
    return;
  }
  session.dispatch(layWholeMask({ from: from.value.id, to: props.item.id, as }));
  bench.state.of = 'mask';
  close();
}
</script>

<template>
  <Popover v-if="others.length > 0" class="relative">
    <PopoverButton class="btn h-7 px-1.5" aria-label="Lay a whole mask here" title="Lay the whole mask of another card here"><PhSwap :size="14" /></PopoverButton>
    <PopoverPanel v-slot="{ close }" class="absolute right-0 top-8 z-20 flex w-66 flex-col gap-1 rounded bg-raised p-2 shadow-xl focus:outline-none">
      <label class="flex items-baseline gap-2 text-[12px]"><span class="text-soft">Mask of</span>
        <select class="min-w-0 flex-1 rounded-sm bg-panel px-1 py-0.5" aria-label="Whose mask" :value="from?.id" @change="chosen = ($event.target as HTMLSelectElement).value as ItemId">
          <option v-for="each in others" :key="each.id" :value="each.id">{{ itemLabel(session.scene, each) }}</option>
        </select>
      </label>
      <button v-for="{ as, label, hint } in WAYS" :key="as" type="button" class="menu-item hover:bg-panel" @click="lay(as, close)">
        <span class="w-24 shrink-0 font-semibold">{{ label }}</span><span class="text-[11px] leading-tight text-soft">{{ hint }}</span>
      </button>
    </PopoverPanel>
  </Popover>
</template>
