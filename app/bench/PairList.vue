<script setup lang="ts">
/** Pairs of points that were set: how far each is off where all of them place the picture, and placing it so. */
import { sayPixels } from '../wording.ts';

defineProps<{ count: number; /** Of each in pixels; undefined when they determine no place. */ misses?: readonly number[]; disabled?: boolean }>();
const emit = defineEmits<{ remove: [index: number]; place: []; clear: [] }>();
</script>

<template>
  <ol v-if="misses" class="flex flex-col">
    <li v-for="(miss, i) in misses" :key="i" class="flex items-center justify-between"><span>{{ i + 1 }} · off by {{ sayPixels(miss) }}</span><button type="button" class="rounded px-1.5 py-0.5 text-soft hover:bg-raised" :aria-label="`Remove pair ${i + 1}`" @click="emit('remove', i)">Remove</button></li>
  </ol>
  <div class="flex gap-1.5">
    <button type="button" class="btn h-7 px-2" :disabled="!misses || disabled" @click="emit('place')">Place by {{ count }} pair{{ count === 1 ? '' : 's' }}</button>
    <button type="button" class="btn h-7 px-2" :disabled="count === 0" aria-label="Clear the pairs" @click="emit('clear')">Clear</button>
  </div>
</template>
