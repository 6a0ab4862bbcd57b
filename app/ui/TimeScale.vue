<script setup lang="ts">
/** A rule of clock time: marks stand where they were, drawn to scale, ticks at round minutes. */
import { computed } from 'vue';

const props = defineProps<{ marks: readonly { id: string; /** Seconds. */ at: number; label: string }[]; lit?: string }>();

/** Steps between ticks that read well, in seconds. */
const STEPS = [60, 120, 300, 600, 900, 1800, 3600, 7200, 21600, 86400];
const MOST_TICKS = 14;

const first = computed(() => Math.min(...props.marks.map(({ at }) => at)));
const span = computed(() => Math.max(60, Math.max(...props.marks.map(({ at }) => at)) - first.value));
const from = computed(() => first.value - span.value * 0.05);
const to = computed(() => first.value + span.value * 1.05);
const ticks = computed(() => {
  const step = STEPS.find((each) => (to.value - from.value) / each <= MOST_TICKS) ?? 86400;
  const start = Math.ceil(from.value / step) * step;
  return Array.from({ length: Math.floor((to.value - start) / step) + 1 }, (_, i) => start + i * step);
});
const place = (seconds: number) => ((seconds - from.value) / (to.value - from.value)) * 100;
const clock = (seconds: number) => new Date(seconds * 1000).toISOString().slice(11, 16);
</script>

<template>
  <div class="relative h-14" role="img" aria-label="Moments on a scale of time">
    <div class="absolute inset-x-0 top-8 h-px bg-on-surround opacity-70" />
    <template v-for="tick in ticks" :key="tick">
      <div class="absolute top-8 h-2 w-px bg-on-surround opacity-70" :style="{ left: `${place(tick)}%` }" />
      <div class="absolute top-10.5 -translate-x-1/2 text-[11px] text-on-surround" :style="{ left: `${place(tick)}%` }">{{ clock(tick) }}</div>
    </template>
    <div
      v-for="mark in marks" :key="mark.id" class="absolute top-0 flex -translate-x-1/2 flex-col items-center" :style="{ left: `${place(mark.at)}%` }"
    >
      <span class="whitespace-nowrap rounded px-1.5 text-[11px] font-semibold leading-5" :class="lit === mark.id ? 'bg-verdigris text-on-verdigris' : 'bg-panel text-ink'">{{ mark.label }}</span>
      <span class="h-3 w-0.5" :class="lit === mark.id ? 'bg-verdigris' : 'bg-panel'" />
    </div>
  </div>
</template>
