<script setup lang="ts">
/** Levels: over all channels or over one of them, and what black and white become at last. */
import { computed, ref } from 'vue';
import { ADJUSTMENTS } from '#core/develop/list.ts';
import ChoiceRow from '../ui/ChoiceRow.vue';
import SettingRows from '../ui/SettingRows.vue';
import type { RowWords } from '../ui/settingRows.ts';

type Levels = (typeof ADJUSTMENTS)['levels']['rest'];

defineProps<{ settings: Levels }>();
const emit = defineEmits<{ preview: [change: object]; commit: [change: object] }>();

const CHANNELS = [
  { value: 'all', label: 'All', hint: 'All three channels alike' },
  { value: 'red', label: 'Red' },
  { value: 'green', label: 'Green' },
  { value: 'blue', label: 'Blue' },
] as const;
const of = ref<(typeof CHANNELS)[number]['value']>('all');
const rows = computed(() => ADJUSTMENTS.levels.rows.map((row) => (row.path.length === 2 ? { ...row, path: [of.value, row.path[1]] } : row)));
const words = computed<RowWords>(() => ({
  [`${of.value}.black`]: { label: 'Black', title: 'Tones up to this become black' },
  [`${of.value}.power`]: { label: 'Midtones', title: 'Lightens or darkens the tones in between' },
  [`${of.value}.white`]: { label: 'White', title: 'Tones from this on become white' },
  outBlack: { label: 'Black to', title: 'The tone that black has at last' },
  outWhite: { label: 'White to', title: 'The tone that white has at last' },
}));
</script>

<template>
  <ChoiceRow label="Levels of" :value="of" :choices="CHANNELS" @choose="of = $event" />
  <SettingRows :rows="rows" :settings="settings" :words="words" @preview="emit('preview', $event)" @commit="emit('commit', $event)" />
</template>
