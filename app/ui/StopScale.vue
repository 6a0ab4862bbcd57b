<script setup lang="ts">
/** The notched stop scale: marks stand where their exposure is, drawn to scale. */
import { computed } from 'vue';
import { sayEv } from '../wording.ts';

const props = defineProps<{ marks: readonly { id: string; ev: number; label: string; strong: boolean }[]; lit?: string }>();
const emit = defineEmits<{ point: [id: string | undefined] }>();

const low = computed(() => Math.min(-2, Math.floor(Math.min(...props.marks.map(({ ev }) => ev))) - 1));
const high = computed(() => Math.max(2, Math.ceil(Math.max(...props.marks.map(({ ev }) => ev))) + 1));
const stops = computed(() => Array.from({ length: high.value - low.value + 1 }, (_, i) => low.value + i));
const at = (ev: number) => ((ev - low.value) / (high.value - low.value)) * 100;
</script>

<template>
  <div class="relative h-16" role="img" aria-label="Exposures on a scale of stops">
    <div class="absolute inset-x-0 top-9 h-px bg-on-surround opacity-70" />
    <template v-for="stop in stops" :key="stop">
      <div class="absolute top-9 w-px bg-on-surround opacity-70" :class="stop === 0 ? 'h-3.5' : 'h-2'" :style="{ left: `${at(stop)}%` }" />
      <div v-if="stop < high" class="absolute top-9 h-1 w-px bg-on-surround opacity-50" :style="{ left: `${at(stop + 1 / 3)}%` }" />
      <div v-if="stop < high" class="absolute top-9 h-1 w-px bg-on-surround opacity-50" :style="{ left: `${at(stop + 2 / 3)}%` }" />
      <div class="absolute top-12 -translate-x-1/2 text-[11px] text-on-surround" :style="{ left: `${at(stop)}%` }">{{ sayEv(stop) }}</div>
    </template>
    <div
      v-for="mark in marks" :key="mark.id" class="absolute top-0 flex -translate-x-1/2 flex-col items-center"
      :style="{ left: `${at(mark.ev)}%` }" @mouseenter="emit('point', mark.id)" @mouseleave="emit('point', undefined)"
    >
      <span class="rounded px-1.5 text-[11px] font-semibold leading-5" :class="mark.strong || lit === mark.id ? 'bg-verdigris text-on-verdigris' : 'bg-panel text-ink'">{{ mark.label }}</span>
      <span class="h-4 w-0.5" :class="mark.strong || lit === mark.id ? 'bg-verdigris' : 'bg-panel'" />
    </div>
  </div>
</template>
