<script setup lang="ts">
/** The frame of the application: an explanation when it cannot run here, else the page. */
import { useRoom } from './useRoom.ts';
import { useEngine } from './stores/engine.ts';
import { useStorageTrouble } from './stores/storageTrouble.ts';
import NoticeList from './ui/NoticeList.vue';

const engines = useEngine();
const storage = useStorageTrouble();
const TROUBLE = {
  blocked: 'An older Lusket is open in another tab and blocks this one. Close that tab; this one then continues by itself.',
  outdated: 'A newer Lusket was opened in another tab and has taken over the scenes. Reload this page to continue here; everything so far is saved.',
};
const reload = () => location.reload();
useRoom();
engines.start().catch(() => undefined);
</script>

<template>
  <div v-if="engines.problem" class="flex h-full items-center justify-center p-10">
    <div class="max-w-xl rounded-lg bg-panel p-8" role="alert">
      <h1 class="mb-2 text-lg font-semibold">Lusket cannot run here yet</h1>
      <p class="leading-relaxed">{{ engines.problem }}</p>
    </div>
  </div>
  <div v-else class="flex h-full flex-col">
    <div v-if="storage.trouble" class="flex shrink-0 items-center justify-center gap-4 border-b border-line bg-panel px-4 py-3 text-ink" role="alert" aria-label="Storage">
      <p>{{ TROUBLE[storage.trouble] }}</p>
      <button v-if="storage.trouble === 'outdated'" type="button" class="btn btn-main" @click="reload">Reload</button>
    </div>
    <div class="min-h-0 flex-1"><RouterView /></div>
  </div>
  <NoticeList />
</template>
