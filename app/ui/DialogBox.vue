<script setup lang="ts">
/** A dialog in the middle of the page, under a title; Escape and a click beside it close it. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';

withDefaults(defineProps<{ title: string; open?: boolean }>(), { open: true });
const emit = defineEmits<{ close: [] }>();
</script>

<template>
  <Dialog :open="open" class="relative z-30" @close="emit('close')">
    <div class="fixed inset-0 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-6">
      <DialogPanel class="flex max-h-full w-110 flex-col gap-4 overflow-y-auto rounded-lg bg-panel p-6 text-ink">
        <DialogTitle class="text-[17px] font-semibold">{{ title }}</DialogTitle>
        <slot />
      </DialogPanel>
    </div>
  </Dialog>
</template>
