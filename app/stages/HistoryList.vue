<script setup lang="ts">
/** All steps that can be undone, or done again: each is a press away. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { PhClockCounterClockwise } from '@phosphor-icons/vue';
import { computed } from 'vue';
import { useSession } from '../stores/session.ts';

const session = useSession();

const time = (at: number | undefined) => (at === undefined ? '' : new Date(at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' }));
/** The latest on top; the oldest that is kept, and what lay before it, at the foot. */
const rows = computed(() => {
  const { steps, done } = session.history;
  const made = steps.map(({ label, edit }, index) => ({ done: index + 1, label, time: time(edit.at), isUndone: index >= done }));
  return [{ done: 0, label: 'Before all these steps', time: '', isUndone: false }, ...made].reverse();
});
const now = computed(() => session.history.done);
const nameOf = ({ label, done }: { label: string; done: number }) => (done === 0 ? label : `Step ${done}: ${label}`);
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="rounded p-1.5 hover:bg-raised" aria-label="All steps" title="All steps, to go there and back"><PhClockCounterClockwise :size="17" /></PopoverButton>
    <PopoverPanel class="fixed bottom-4 left-29 z-40 flex max-h-[75vh] w-64 flex-col overflow-hidden rounded bg-raised shadow-xl focus:outline-none">
      <h2 class="caption px-3 pb-1.5 pt-2.5">Steps, the latest on top</h2>
      <ol class="overflow-y-auto px-1 pb-1" aria-label="All steps">
        <li v-for="row in rows" :key="row.done">
          <button
            type="button" class="flex w-full items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-panel" :class="row.isUndone ? 'text-soft' : ''" :aria-current="row.done === now ? 'step' : undefined" :aria-label="nameOf(row)"
            :disabled="session.readOnly" @click="session.goTo(row.done)"
          >
            <span class="h-2 w-2 shrink-0 self-center rounded-full border border-soft" :class="row.done === now ? 'border-verdigris bg-verdigris' : row.isUndone ? '' : 'bg-soft'" aria-hidden="true" />
            <span class="min-w-0 flex-1 truncate" :class="row.done === now ? 'font-semibold' : ''">{{ row.label }}</span>
            <span class="text-[11px] text-soft">{{ row.isUndone ? 'undone' : row.time }}</span>
          </button>
        </li>
      </ol>
    </PopoverPanel>
  </Popover>
</template>
