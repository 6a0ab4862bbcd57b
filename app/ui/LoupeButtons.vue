<script setup lang="ts">
/** How closely one looks: the whole picture, or some pixels of the screen for each of the picture's. */
defineProps<{ scale: number }>();
const emit = defineEmits<{ zoom: [scale: number]; fit: [] }>();
</script>

<template>
  <div class="flex items-center gap-1" role="group" aria-label="Loupe">
    <button type="button" class="btn h-7.5 px-2" title="The whole picture" @click="emit('fit')">Fit</button>
    <button v-for="each in [1, 2, 4, 8]" :key="each" type="button" class="btn h-7.5 px-2" :class="Math.abs(scale - each) < 0.01 ? 'font-semibold shadow-[inset_0_-2px_0_var(--color-verdigris)]' : ''" @click="emit('zoom', each)">{{ each * 100 }}<span class="sr-only"> %</span></button>
    <span class="w-12 text-right text-soft">{{ Math.round(scale * 100) }} %</span>
  </div>
</template>
