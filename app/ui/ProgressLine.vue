<script setup lang="ts">
/** How far something is, and a way to stop it. */
defineProps<{ text: string; /** 0..1 */ share: number; stoppable?: boolean }>();
const emit = defineEmits<{ stop: [] }>();
</script>

<template>
  <div class="flex items-center gap-3" role="status">
    <div class="min-w-0 flex-1">
      <div class="truncate">{{ text }}</div>
      <div class="mt-1 h-1.5 overflow-hidden rounded bg-sunken" role="progressbar" :aria-valuenow="Math.round(share * 100)" aria-valuemin="0" aria-valuemax="100" :aria-label="text">
        <div class="h-full rounded bg-verdigris transition-[width] duration-100" :style="{ width: `${share * 100}%` }" />
      </div>
    </div>
    <button v-if="stoppable" type="button" class="btn" @click="emit('stop')">Stop</button>
  </div>
</template>
