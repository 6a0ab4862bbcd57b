<script setup lang="ts">
/** The numbers of the open part. */
import { kindOf, type Part } from '#core/parts/list.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { PART_WORDS } from '../rowWords.ts';
import SettingRows from '../../../ui/SettingRows.vue';

defineProps<{ part: Part }>();
const tools = useMaskTools();
</script>

<template>
  <div class="flex flex-col gap-0.5">
    <SettingRows :rows="kindOf(part).rows" :settings="part" :words="PART_WORDS[part.kind]" @preview="tools.preview" @commit="tools.commit" />
  </div>
</template>
