<script setup lang="ts">
/** Keeps a step out of some tones, or of what a mask holds, in one press: by its guard, so that its mask stays as it is. */
import { computed } from 'vue';
import type { ItemId } from '#core/ids.ts';
import type { Part } from '#core/parts/list.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { newTonePart } from '#core/parts/tone.ts';
import { AT_REST } from '#core/refinements/list.ts';
import { addPart, beginGuard } from '#core/scene/edits/masks.ts';
import type { Item } from '#core/scene/item.ts';
import { leadsBack } from '#core/scene/maskGraph.ts';
import { cardsAndSteps } from '#core/scene/tree.ts';
import { itemLabel } from '../../../frameLabel.ts';
import { useBench } from '../../../stores/bench.ts';
import { useSession } from '../../../stores/session.ts';

const props = defineProps<{ item: Item }>();
const session = useSession();
const bench = useBench();

/** Luminance from which on tones are light, and up to which they are dark; each over a shoulder (common practice, no source). */
const LIGHT_FROM = 0.6;
const DARK_TO = 0.3;
const SHOULDER = 0.25;
const even = { ...newTonePart('below'), curve: [{ x: 0, y: 1 }, { x: 1, y: 1 }], side: 'curve' as const };
const PARTS = {
  light: { ...even, curve: [{ x: LIGHT_FROM - SHOULDER / 2, y: 1 }, { x: LIGHT_FROM + SHOULDER / 2, y: 0 }] },
  dark: { ...even, curve: [{ x: DARK_TO - SHOULDER / 2, y: 0 }, { x: DARK_TO + SHOULDER / 2, y: 1 }] },
};

function limitTo(part: Part): void {
  const owner = props.item.id;
  session.dispatch(props.item.guard ? addPart({ owner, of: 'guard', part: { ...part, join: 'intersect' } }) : beginGuard({ owner, part }));
  bench.state.of = 'guard';
}
const others = computed(() => cardsAndSteps(session.scene).filter(({ id }) => id !== props.item.id && !leadsBack(session.scene, { owner: props.item.id, of: 'guard' }, { item: id })));
function notIn(event: Event, inverted: boolean): void {
  const select = event.target as HTMLSelectElement;
  const id = select.value as ItemId;
  select.value = '';
  if (!id) return;
  limitTo({ kind: 'reference', ...plainPart('reference'), to: { item: id }, refine: { ...AT_REST, inverted } });
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-1 border-b border-line px-3 py-1.5 text-[11.5px]" role="group" :aria-label="`Keep out: ${itemLabel(session.scene, item)}`">
    <span class="text-soft">Not in</span>
    <button type="button" class="btn h-6 px-1.5" :disabled="session.readOnly" title="Kept out of light tones, as skies" @click="limitTo(PARTS.light)">light tones</button>
    <button type="button" class="btn h-6 px-1.5" :disabled="session.readOnly" title="Kept out of dark tones" @click="limitTo(PARTS.dark)">dark tones</button>
    <select v-if="others.length > 0" class="field h-6 w-27 px-0.5" aria-label="Not in the mask of" :disabled="session.readOnly" @change="notIn($event, true)">
      <option value="">the mask of…</option>
      <option v-for="other in others" :key="other.id" :value="other.id">{{ itemLabel(session.scene, other) }}</option>
    </select>
    <select v-if="others.length > 0" class="field h-6 w-27 px-0.5" aria-label="Only in the mask of" :disabled="session.readOnly" @change="notIn($event, false)">
      <option value="">only in…</option>
      <option v-for="other in others" :key="other.id" :value="other.id">{{ itemLabel(session.scene, other) }}</option>
    </select>
  </div>
</template>
