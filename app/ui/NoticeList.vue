<script setup lang="ts">
/** Short messages, newest last, over the lower edge of the window. */
import { PhX } from '@phosphor-icons/vue';
import { useNotices } from '../stores/notices.ts';

const notices = useNotices();
</script>

<template>
  <div class="pointer-events-none fixed inset-x-0 bottom-44 z-40 flex flex-col items-center gap-2" aria-live="polite">
    <div
      v-for="notice in notices.list" :key="notice.id" class="pointer-events-auto flex max-w-xl items-center gap-3 rounded bg-panel px-3 py-2 text-ink shadow-lg"
      :class="notice.tone === 'error' ? 'border-l-4 border-ink' : 'border-l-4 border-verdigris'" :role="notice.tone === 'error' ? 'alert' : 'status'"
    >
      <div>
        <span>{{ notice.text }}</span>
        <details v-if="notice.details" class="mt-1 text-[12px] text-soft"><summary class="cursor-pointer">Details</summary><code class="break-all">{{ notice.details }}</code></details>
      </div>
      <button v-if="notice.action" type="button" class="btn h-7" @click="notice.action.run">{{ notice.action.label }}</button>
      <button type="button" aria-label="Dismiss" class="rounded p-1 hover:bg-raised" @click="notices.dismiss(notice.id)"><PhX :size="14" /></button>
    </div>
  </div>
</template>
