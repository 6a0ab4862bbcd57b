<script setup lang="ts">
/** The whole picture as it is delivered. */
import { computed } from 'vue';
import type { DeliveredPicture } from '#core/finish/delivered.ts';
import TileThumb from '../../bench/TileThumb.vue';

const props = defineProps<{ delivered: DeliveredPicture }>();
const size = computed(() => ({ width: props.delivered.region.width, height: props.delivered.region.height }));
const view = { show: { what: 'result', turned: 'finished' } } as const;
</script>

<template>
  <div class="flex items-center justify-center p-6">
    <TileThumb :key="`${size.width} ${size.height}`" :size="size" :view="view" :side="1000" class="max-h-full w-full max-w-[1000px] object-contain! shadow-lg" label="The picture" />
  </div>
</template>
