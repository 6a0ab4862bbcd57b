<script setup lang="ts">
/** Says what changes with another base, before it is done. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';

defineProps<{ question: { title: string; lines: readonly string[] } | undefined }>();
const emit = defineEmits<{ answer: [isYes: boolean] }>();
</script>

<template>
  <Dialog :open="question !== undefined" class="relative z-30" @close="emit('answer', false)">
    <div class="fixed inset-0 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-6">
      <DialogPanel class="flex max-h-full w-120 flex-col gap-3 overflow-y-auto rounded-lg bg-panel p-6 text-ink">
        <DialogTitle class="text-[17px] font-semibold">{{ question?.title }}</DialogTitle>
        <ul class="flex flex-col gap-1.5">
          <li v-for="line in question?.lines" :key="line">{{ line }}</li>
        </ul>
        <div class="mt-2 flex justify-end gap-2">
          <button type="button" class="btn" @click="emit('answer', false)">Cancel</button>
          <button type="button" class="btn btn-main" @click="emit('answer', true)">Use as base</button>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
