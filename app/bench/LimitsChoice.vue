<script setup lang="ts">
/** Whether limits are hatched, and from which levels on. */
import { BLOCKED_TO, BLOWN_FROM } from '#core/checks/limits.ts';
import { useBench } from '../stores/bench.ts';

defineProps<{ label: string }>();
const bench = useBench();

function set(end: 'blockedTo' | 'blownFrom', field: HTMLInputElement): void {
  const level = Math.round(Number(field.value));
  const isFine = field.value !== '' && (end === 'blockedTo' ? level >= 0 && level < bench.state.blownFrom : level <= 255 && level > bench.state.blockedTo);
  if (isFine) bench.state[end] = level;
  field.value = String(bench.state[end]);
}
const ENDS = [
  { end: 'blockedTo', sign: '≤', usual: BLOCKED_TO, name: 'Blocked up to level' },
  { end: 'blownFrom', sign: '≥', usual: BLOWN_FROM, name: 'Blown from level' },
] as const;
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-2.5 gap-y-1">
    <label class="flex shrink-0 items-center gap-1.5" title="Blown and blocked places, hatched (S)"><input v-model="bench.state.limits" type="checkbox" class="accent-verdigris" /> {{ label }}</label>
    <template v-if="bench.state.limits">
      <label v-for="{ end, sign, usual, name } in ENDS" :key="end" class="flex items-center gap-1 text-soft" :title="`${name} of 255; ${usual} as in Gather (double click)`">
        {{ sign }}
        <input
          type="number" min="0" max="255" class="w-11 [appearance:textfield] [&::-webkit-inner-spin-button]:appearance-none rounded bg-sunken px-1 py-0.5 text-right text-ink" :aria-label="name" :value="bench.state[end]"
          @change="set(end, $event.target as HTMLInputElement)" @focus="($event.target as HTMLInputElement).select()" @dblclick="bench.state[end] = usual"
        />
      </label>
    </template>
  </div>
</template>
