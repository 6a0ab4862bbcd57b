<script setup lang="ts">
/** Ranges of hues, each with what is done to it; a new one begins at a colour that is clicked on the picture. */
import { HUE_ROWS } from '#core/develop/colour.ts';
import type { ADJUSTMENTS } from '#core/develop/list.ts';
import SettingRows from '../../ui/SettingRows.vue';

type Ranges = (typeof ADJUSTMENTS)['colour']['rest']['ranges'];
const MOST = 8;

const props = defineProps<{ ranges: Ranges; isPicking: boolean }>();
const emit = defineEmits<{ preview: [ranges: Ranges]; commit: [ranges: Ranges]; pick: [] }>();

const WORDS = {
  centre: { label: 'Hue', title: 'The hue in the middle of the range' },
  width: { label: 'Width', title: 'How far to both sides hues are changed in full' },
  shoulder: { label: 'Shoulder', title: 'Over how many hues further the change fades' },
  turn: { label: 'Turn', title: 'Moves these hues towards their neighbours' },
  saturation: { label: 'Saturation', title: 'Strength of these colours' },
  lightness: { label: 'Lightness', title: 'Lightens or darkens these colours' },
};
const changed = (index: number, change: object): Ranges => props.ranges.map((range, i) => (i === index ? { ...range, ...change } : range));
</script>

<template>
  <section v-for="(range, i) in ranges" :key="i" class="flex flex-col gap-1.5 border-l-4 pl-2" :style="{ borderColor: `oklch(0.7 0.13 ${range.centre})` }" :aria-label="`Hues ${i + 1}`">
    <div class="flex items-center justify-between">
      <span class="text-soft">Hues around {{ Math.round(range.centre) }}°</span>
      <button type="button" class="rounded px-1.5 text-[11px] text-soft hover:bg-raised" :aria-label="`Remove hues ${i + 1}`" @click="emit('commit', ranges.filter((_, k) => k !== i))">Remove</button>
    </div>
    <SettingRows :rows="HUE_ROWS" :settings="range" :words="WORDS" @preview="emit('preview', changed(i, $event))" @commit="emit('commit', changed(i, $event))" />
  </section>
  <button type="button" class="btn h-7 self-start px-2" :aria-pressed="isPicking" :disabled="ranges.length >= MOST" title="Click a colour of the picture to change colours of that hue" @click="emit('pick')">{{ isPicking ? 'Click a colour' : 'Pick a hue' }}</button>
</template>
