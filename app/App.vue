<script setup lang="ts">
/** The frame of the application: an explanation when it cannot run here, else the page. */
import { useRoom } from './useRoom.ts';
import { useEngine } from './stores/engine.ts';
import NoticeList from './ui/NoticeList.vue';

const engines = useEngine();
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
  <RouterView v-else />
  <NoticeList />
</template>
