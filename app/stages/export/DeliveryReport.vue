<script setup lang="ts">
/** What was written, how large it is, and what could not be. */
import { computed } from 'vue';
import type { ItemId } from '#core/ids.ts';
import { useDeliveries } from '../../stores/deliveries.ts';
import { sayBytes } from '../../wording.ts';
import { sayList, sayNote } from './deliveryWords.ts';

const deliveries = useDeliveries();
const run = computed(() => deliveries.run);
const head = computed(() => {
  if (!run.value) return '';
  const { files, isStopped, failures } = run.value;
  const written = `${files.length} file${files.length === 1 ? '' : 's'} written`;
  if (isStopped) return files.length === 0 ? 'Export stopped; nothing was written.' : `Export stopped. ${written} before that; nothing half-written is left.`;
  return failures.length === 0 ? `${written} to ${sayList(run.value.places)}.` : `${written}, ${failures.length} not.`;
});
const notes = (index: number) => (run.value?.files[index].notes ?? []).map((note) => sayNote(note, (id) => deliveries.nameOfItem(id as ItemId)));
</script>

<template>
  <section v-if="run" class="m-3 mb-0 flex max-h-64 flex-col gap-1.5 overflow-y-auto rounded bg-panel p-3" aria-label="What was written" role="status">
    <div class="flex items-center justify-between gap-3">
      <h2 class="font-semibold">{{ head }}</h2>
      <button type="button" class="btn h-7 px-2" @click="deliveries.run = undefined">Close</button>
    </div>
    <ul class="flex flex-col gap-1">
      <li v-for="(file, index) in run.files" :key="file.name">
        <div class="flex gap-4"><span class="min-w-0 flex-1 truncate">{{ file.name }}</span><span class="text-soft">{{ file.width }} × {{ file.height }}</span><span class="w-18 text-right">{{ sayBytes(file.bytes) }}</span></div>
        <ul v-if="file.notes.length > 0" class="list-disc pl-5 text-[12px] text-soft"><li v-for="note in notes(index)" :key="note">{{ note }}</li></ul>
      </li>
      <li v-for="failed in run.failures" :key="failed.name"><span class="font-semibold">{{ failed.name }} was not written.</span> {{ failed.reason }}</li>
    </ul>
  </section>
</template>
