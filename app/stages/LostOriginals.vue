<script setup lang="ts">
/** Files of the scene that are not stored here, or are damaged: names them and asks for them. */
import { ref } from 'vue';
import { useFrames } from '../stores/frames.ts';
import { useNotices } from '../stores/notices.ts';
import { ACCEPTED } from '../wording.ts';

const frames = useFrames();
const notices = useNotices();
const busy = ref(false);

async function take(files: FileList | null): Promise<void> {
  busy.value = true;
  try {
    const found = await frames.findLost([...(files ?? [])]);
    if (found === 0) notices.tell('None of these files was used in the scene. A copy that was saved again is a different file.');
  } catch (error) {
    notices.tellError(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="flex shrink-0 items-center gap-4 border-b border-line bg-panel px-4 py-2" role="alert" aria-label="Missing files">
    <p class="min-w-0 flex-1">The scene was made with files that are not here, or are damaged: {{ frames.lost.map(({ name }) => name).join(', ') }}. Masks and settings are kept; choose the files to see the picture.</p>
    <label class="btn cursor-pointer" :class="{ 'opacity-50': busy }">
      {{ busy ? 'Looking…' : 'Choose the files…' }}
      <input type="file" multiple :accept="ACCEPTED" class="sr-only" data-testid="find-lost" :disabled="busy" @change="take(($event.target as HTMLInputElement).files)" />
    </label>
  </div>
</template>
