<script setup lang="ts">
/** A small histogram, with what is blown and blocked beside it. */
import { computed } from 'vue';
import { heightsOf } from './histogramShape.ts';

const props = defineProps<{ counts: Uint32Array; blown: string; blocked: string }>();
const path = computed(() => `M0 1${heightsOf(props.counts).map((height, level) => `L${level} ${1 - height}`).join('')}L255 1Z`);
</script>

<template>
  <div class="flex items-center gap-1.5 text-[11px] text-soft">
    <span title="Blocked: so dark that noise lives there">{{ blocked }}</span>
    <svg class="h-5 min-w-0 flex-1 bg-sunken" viewBox="0 0 255 1" preserveAspectRatio="none" role="img" :aria-label="`Histogram; blocked ${blocked}, blown ${blown}`">
      <path :d="path" class="fill-soft" />
    </svg>
    <span title="Blown: at white, without detail">{{ blown }}</span>
  </div>
</template>
