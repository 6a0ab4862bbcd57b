<script setup lang="ts">
/** Numbers of a part or a refinement, a row each: its range from the definition, its words from here. */
import type { SettingRow } from '#core/refinements/settingRow.ts';
import RuleSlider from './RuleSlider.vue';
import { changeOf, numberOf, type RowWords, rowsFor, unitOf, wordsOf } from './settingRows.ts';

defineProps<{ rows: readonly SettingRow[]; settings: object; words: RowWords; /** Each says in a line what it does. */ explained?: boolean }>();
const emit = defineEmits<{ preview: [change: object]; commit: [change: object] }>();
</script>

<template>
  <template v-for="row in rowsFor(rows, settings)" :key="row.path.join('.')">
    <RuleSlider
      slim v-bind="{ ...unitOf(row), ...wordsOf(words, row) }"
      :value="numberOf(settings, row)" :min="row.min" :max="row.max" :step="row.step" :usual="row.usual" :geometric="row.geometric"
      @preview="emit('preview', changeOf(settings, row, $event))" @commit="emit('commit', changeOf(settings, row, $event))"
    />
    <p v-if="explained" class="pb-0.5 text-[11px] leading-3.5 text-soft">{{ wordsOf(words, row).title }}</p>
  </template>
</template>
