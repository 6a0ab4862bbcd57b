<script setup lang="ts">
/** All shortcuts and gestures, from the one list that binds them. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';
import { GESTURES, SHORTCUTS } from '../shortcuts.ts';

defineProps<{ open: boolean }>();
const emit = defineEmits<{ close: [] }>();

const groups = [...new Set(SHORTCUTS.map(({ group }) => group))].map((group) => ({ group, list: SHORTCUTS.filter((each) => each.group === group) }));
</script>

<template>
  <Dialog :open="open" class="relative z-50" @close="emit('close')">
    <div class="fixed inset-0 bg-black/50" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-6">
      <DialogPanel class="max-h-full w-full max-w-4xl overflow-y-auto rounded-lg bg-panel p-7 shadow-2xl">
        <div class="mb-4 flex items-center justify-between">
          <DialogTitle class="text-base font-semibold">Keys and gestures</DialogTitle>
          <button type="button" class="btn" @click="emit('close')">Close</button>
        </div>
        <div class="columns-2 gap-10">
          <section v-for="{ group, list } in groups" :key="group" class="mb-4 break-inside-avoid">
            <h3 class="caption mb-1">{{ group }}</h3>
            <div v-for="each in list" :key="each.action" class="flex justify-between border-t border-line py-1">
              <span>{{ each.label }}</span><kbd class="font-sans text-soft">{{ each.shown }}</kbd>
            </div>
          </section>
          <section class="break-inside-avoid">
            <h3 class="caption mb-1">Pointer</h3>
            <div v-for="each in GESTURES" :key="each.shown" class="flex justify-between gap-4 border-t border-line py-1">
              <span>{{ each.label }}</span><kbd class="shrink-0 font-sans text-soft">{{ each.shown }}</kbd>
            </div>
          </section>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
