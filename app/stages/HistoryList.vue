<script setup lang="ts">
/** All steps that can be undone, or done again: each is a press away, can be compared with, and kept by a name. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { PhBookmarkSimple, PhClockCounterClockwise, PhSquareSplitHorizontal, PhX } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import { type NamedStep, placeOfNamed, sceneAfter } from '#core/scene/history.ts';
import type { Scene } from '#core/scene/scene.ts';
import { wordsOfStep } from '../stepWords.ts';
import { useBench } from '../stores/bench.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import NameField from '../ui/NameField.vue';

const session = useSession();
const bench = useBench();
const notices = useNotices();

const time = (at: number | undefined) => (at === undefined ? '' : new Date(at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' }));
const names = computed(() => new Map(session.history.named.flatMap((each) => {
  const done = placeOfNamed(session.history, each);
  return done === undefined ? [] : [[done, each.name]];
})));
/** Named steps that lie before those that can be undone, or off their way. */
const older = computed(() => session.history.named.filter((each) => placeOfNamed(session.history, each) === undefined));
/** The latest on top; the oldest that is kept, and what lay before it, at the foot. */
const rows = computed(() => {
  const { steps, done } = session.history;
  const made = steps.map((step, index) => ({ ...wordsOfStep(step, sceneAfter(session.history, index)), done: index + 1, time: time(step.edit.at), isUndone: index >= done }));
  return [{ done: 0, label: 'Before all these steps', about: '', time: '', isUndone: false }, ...made].reverse();
});
const now = computed(() => session.history.done);
const nameOf = ({ label, about, done }: { label: string; about: string; done: number }) => (done === 0 ? label : `Step ${done}: ${label}${about && ` · ${about}`}`);

/** The row that is being named. */
const naming = ref<number>();
function keep(done: number, name: string): void {
  session.nameStep(done, name);
  naming.value = undefined;
}
function compare(scene: Scene, name: string): void {
  if (bench.since?.scene === scene && bench.divides) {
    bench.divides = false;
    return;
  }
  bench.since = { scene, name };
  bench.state.beforeIs = 'step';
  bench.divides = true;
  notices.tell(`Before is now ${name}: at the left of the upright, or alone while A is held.`);
}
const compareRow = (row: (typeof rows.value)[number]) => compare(sceneAfter(session.history, row.done), names.value.get(row.done) ?? nameOf(row));
const forget = ({ name }: NamedStep) => session.forgetNamed(name);
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="rounded p-1.5 hover:bg-raised" aria-label="All steps" title="All steps, to go there and back"><PhClockCounterClockwise :size="17" /></PopoverButton>
    <PopoverPanel class="fixed bottom-4 left-29 z-40 flex max-h-[75vh] w-76 flex-col overflow-hidden rounded bg-raised shadow-xl focus:outline-none">
      <template v-if="older.length > 0">
        <h2 class="caption px-3 pb-1 pt-2.5">Kept by name</h2>
        <ul class="max-h-40 shrink-0 overflow-y-auto px-1" aria-label="Kept steps">
          <li v-for="each in older" :key="each.name" class="flex items-center gap-0.5">
            <button type="button" class="flex min-w-0 flex-1 items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-panel" :disabled="session.readOnly" :aria-label="`Back to ${each.name}`" title="Back to it, by a step that can be undone" @click="session.goToNamed(each)">
              <span class="min-w-0 flex-1 truncate font-semibold">{{ each.name }}</span><span class="text-[11px] text-soft">{{ time(each.at) }}</span>
            </button>
            <button type="button" class="rounded p-1 text-soft hover:bg-panel" :aria-label="`Compare with ${each.name}`" title="Compare with it under a divider" @click="compare(each.scene, each.name)"><PhSquareSplitHorizontal :size="14" /></button>
            <button type="button" class="rounded p-1 text-soft hover:bg-panel" :aria-label="`Keep ${each.name} no more`" title="Keep it no more" @click="forget(each)"><PhX :size="12" /></button>
          </li>
        </ul>
      </template>
      <h2 class="caption px-3 pb-1.5 pt-2.5">Steps, the latest on top</h2>
      <ol class="overflow-y-auto px-1 pb-1" aria-label="All steps">
        <li v-for="row in rows" :key="row.done" class="group/row flex items-center gap-0.5">
          <NameField v-if="naming === row.done" class="mx-2 my-0.5 min-w-0 flex-1 rounded-sm bg-panel px-1" :label="`Name to keep ${nameOf(row)} by`" :most="60" value="" placeholder="first try" autofocus @commit="keep(row.done, $event)" @keydown.esc="naming = undefined" @vue:mounted="($event.el as HTMLElement).focus()" />
          <button
            v-else type="button" class="flex min-w-0 flex-1 items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-panel" :class="row.isUndone ? 'text-soft' : ''" :aria-current="row.done === now ? 'step' : undefined" :aria-label="nameOf(row)"
            :disabled="session.readOnly" @click="session.goTo(row.done)"
          >
            <span class="h-2 w-2 shrink-0 self-center rounded-full border border-soft" :class="row.done === now ? 'border-verdigris bg-verdigris' : row.isUndone ? '' : 'bg-soft'" aria-hidden="true" />
            <span class="min-w-0 flex-1 truncate" :class="row.done === now ? 'font-semibold' : ''">{{ row.label }}<span v-if="row.about" class="text-soft"> · {{ row.about }}</span><span v-if="names.get(row.done)" class="pl-1.5 font-semibold text-verdigris">{{ names.get(row.done) }}</span></span>
            <span class="text-[11px] text-soft">{{ row.isUndone ? 'undone' : row.time }}</span>
          </button>
          <button type="button" class="rounded p-1 text-soft hover:bg-panel" :aria-label="`Compare with ${nameOf(row)}`" title="Compare with it under a divider" @click="compareRow(row)"><PhSquareSplitHorizontal :size="14" /></button>
          <button type="button" class="rounded p-1 text-soft hover:bg-panel" :disabled="session.readOnly" :aria-label="`Keep ${nameOf(row)} by a name`" title="Keep it by a name, for ever" @click="naming = row.done"><PhBookmarkSimple :size="14" :weight="names.has(row.done) ? 'fill' : 'regular'" /></button>
        </li>
      </ol>
    </PopoverPanel>
  </Popover>
</template>
