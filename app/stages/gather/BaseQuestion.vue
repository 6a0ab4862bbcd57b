<script setup lang="ts">
/** Says what changes with another base, before it is done. */
import DialogBox from '../../ui/DialogBox.vue';

defineProps<{ question: { title: string; lines: readonly string[] } | undefined }>();
const emit = defineEmits<{ answer: [isYes: boolean] }>();
</script>

<template>
  <DialogBox :title="question?.title ?? ''" :open="question !== undefined" @close="emit('answer', false)">
    <ul class="flex flex-col gap-1.5">
      <li v-for="line in question?.lines" :key="line">{{ line }}</li>
    </ul>
    <div class="flex justify-end gap-2">
      <button type="button" class="btn" @click="emit('answer', false)">Cancel</button>
      <button type="button" class="btn btn-main" @click="emit('answer', true)">Use as base</button>
    </div>
  </DialogBox>
</template>
