<script setup lang="ts">
/** What a stage shows while there are no frames to work on. */
defineProps<{ text: string }>();
</script>

<template>
  <div class="flex h-full flex-col items-center justify-center gap-4 text-on-surround">
    <p>{{ text }}</p>
    <RouterLink class="btn btn-main" :to="{ name: 'gather' }">Gather frames</RouterLink>
  </div>
</template>
