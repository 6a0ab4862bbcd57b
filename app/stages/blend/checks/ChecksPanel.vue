<script setup lang="ts">
/** Checks in the place of the readings: what was found, the place at hand in a sentence, and ways to mend it. */
import { PhArrowLeft, PhArrowRight, PhX } from '@phosphor-icons/vue';
import { computed, nextTick, watch } from 'vue';
import type { ItemId } from '#core/ids.ts';
import { cardsAndSteps, cardsOf } from '#core/scene/tree.ts';
import type { Point } from '../../../bench/viewTransform.ts';
import { itemLabel } from '../../../frameLabel.ts';
import { useChecks } from '../../../stores/checks.ts';
import { useSession } from '../../../stores/session.ts';
import { type Remedy, remediesOf } from './remedies.ts';
import { useVisits } from './useVisits.ts';
import { cardOf, CHECK_WORDS, sayVisit } from './visitWords.ts';

const checks = useChecks();
const session = useSession();
const props = defineProps<{ /** Shows a place of the scene at 100 %. */ look: (at: Point) => void }>();
const { visit, choose, step, tried, tryOut, endTrying, take } = useVisits(props.look);

const rows = computed(() =>
  checks.byWorst.map((check) => ({
    check,
    ...CHECK_WORDS[check],
    count: checks.open.filter((each) => each.check === check).length,
    reason: checks.notMade.find((each) => each.check === check)?.reason,
  })),
);
const left = computed(() => checks.visits.filter(({ check }) => check === checks.chosen).length - checks.ofChosen.length);
const remedies = computed(() => (checks.visited ? remediesOf(checks.visited, session.scene) : []));
const place = computed(() => checks.ofChosen.findIndex(({ id }) => id === checks.visitedId) + 1);
const cards = computed(() => (checks.finished ? cardsAndSteps : cardsOf)(session.scene).filter(({ item }) => item !== 'group'));
const words = computed(() => checks.chosen && CHECK_WORDS[checks.chosen]);

function chooseWithin(event: Event): void {
  const { value } = event.target as HTMLSelectElement;
  checks.within = value === '' ? undefined : (value as ItemId);
}
/** Whoever goes there by keys sees it as well; a press of the pointer has shown it already. */
function tryByKeys(event: FocusEvent, remedy: Remedy): void {
  if ((event.target as Element).matches(':focus-visible')) void nextTick(() => tryOut(remedy));
}
watch(() => checks.visitedId, endTrying);
</script>

<template>
  <section class="flex w-125 border-l border-line" aria-label="Checks" data-skip="Checks" tabindex="-1" data-testid="checks">
    <div class="flex w-44 shrink-0 flex-col border-r border-line py-1.5 pl-2 pr-1">
      <div class="flex items-center gap-1 text-[12px] text-soft">
        <span class="mr-auto pl-1">Checks<span v-if="checks.progress" role="status"> · {{ Math.round((100 * checks.progress.done) / checks.progress.of) }} %</span></span>
        <button type="button" class="rounded p-0.5 hover:bg-raised" aria-label="Back to the readings" title="Back to the readings (Shift C)" @click="checks.isOpen = false"><PhX :size="13" /></button>
      </div>
      <p v-if="session.scene.frames.length < 2" class="p-1 text-[12px] text-soft">One frame: there is nothing to check.</p>
      <p v-else-if="!checks.isBlended" class="p-1 text-[12px] text-soft">The base alone shows: there is nothing to check yet.</p>
      <ul v-else class="min-h-0 flex-1 overflow-y-auto [scrollbar-width:thin]" aria-label="All checks, worst first">
        <li v-for="row in rows" :key="row.check">
          <button
            type="button" class="flex w-full items-baseline gap-1 rounded px-1 text-left text-[12px] leading-4.5 hover:bg-raised" :class="checks.chosen === row.check ? 'bg-raised font-semibold' : row.count === 0 ? 'text-soft' : ''"
            :aria-pressed="checks.chosen === row.check" :title="row.reason ? `Not checked: ${row.reason}` : `${row.name}: ${row.looksFor}`" :data-testid="`check-${row.check}`" @click="choose(checks.chosen === row.check ? undefined : row.check)"
          >
            <span class="mr-auto">{{ row.name }}</span><span>{{ row.reason ? 'not checked' : row.count === 0 ? '–' : row.count }}</span>
          </button>
        </li>
      </ul>
      <label v-if="checks.isBlended" class="flex items-center gap-1 px-1 text-[11px] text-soft">Only in
        <select class="min-w-0 flex-1 truncate rounded-sm bg-sunken text-ink" aria-label="Check only where a card counts" :value="checks.within ?? ''" @change="chooseWithin">
          <option value="">the whole picture</option>
          <option v-for="card in cards" :key="card.id" :value="card.id">{{ itemLabel(session.scene, card) }}</option>
        </select>
      </label>
    </div>
    <div class="flex min-w-0 flex-1 flex-col gap-1 px-3 py-1.5 text-[12px]">
      <p v-if="checks.failure" role="alert">The checks stopped: {{ checks.failure }}. They go on with the next change.</p>
      <template v-else-if="checks.chosen && words">
        <div class="flex items-center gap-1">
          <span class="mr-auto truncate text-soft" data-testid="visit-place">{{ words.name }}<template v-if="checks.ofChosen.length > 0"> · {{ place > 0 ? `${place} of ${checks.ofChosen.length}` : checks.ofChosen.length }}</template><template v-if="checks.visited && cardOf(checks.visited, session.scene)"> · {{ cardOf(checks.visited, session.scene) }}</template></span>
          <button v-if="left > 0" type="button" class="rounded px-1 text-soft hover:bg-raised" title="Bring back the places that were left as they are" @click="checks.recall()">{{ left }} left</button>
          <button v-if="checks.visited" type="button" class="rounded px-1 hover:bg-raised" title="Leave the place as it is (Shift D); it stays so until something changes there" @click="checks.dismiss(checks.visited)">Leave it</button>
          <button type="button" class="rounded p-1 hover:bg-raised" aria-label="The place before" title="The place before ([)" :disabled="checks.open.length === 0" @click="step(-1)"><PhArrowLeft :size="14" /></button>
          <button type="button" class="rounded p-1 hover:bg-raised" aria-label="The next place" title="The next place (])" :disabled="checks.open.length === 0" @click="step(1)"><PhArrowRight :size="14" /></button>
        </div>
        <p v-if="checks.ofChosen.length === 0" class="text-soft">{{ checks.progress ? 'Nothing found so far' : 'Nothing found' }}: {{ words.looksFor }}.</p>
        <p v-else-if="!checks.visited" class="text-soft">{{ checks.ofChosen.length === 1 ? 'One place' : `${checks.ofChosen.length} places` }}: {{ words.looksFor }}. <button type="button" class="underline" @click="visit(checks.ofChosen[0])">Visit the worst</button></p>
        <template v-else>
          <p data-testid="visit-says" aria-live="polite">{{ sayVisit(checks.visited, session.scene) }}</p>
          <div class="flex min-h-0 flex-wrap gap-1.5 overflow-y-auto" role="group" aria-label="Ways to mend it: shown while pointed at, done when pressed">
            <button
              v-for="remedy in remedies" :key="remedy.name" type="button" class="btn h-6.5 px-2 text-[12px]" :class="{ 'btn-main': tried === remedy.name }" :title="`${remedy.label}: ${remedy.why}`" :disabled="session.readOnly"
              @pointerenter="tryOut(remedy)" @pointerleave="endTrying" @focus="tryByKeys($event, remedy)" @blur="endTrying" @click="take(remedy)"
            >
              {{ remedy.label }}
            </button>
          </div>
          <p class="mt-auto truncate text-[11px] text-soft">{{ remedies.find(({ name }) => name === tried)?.why ?? 'Point at a remedy to see it; press to take it.' }}</p>
        </template>
      </template>
      <p v-else class="text-soft">{{ checks.open.length === 0 ? (checks.progress ? 'Being measured.' : 'Nothing to visit.') : 'Choose a check to see where it found something.' }} Places are suggestions: what you like may stay.</p>
    </div>
  </section>
</template>
