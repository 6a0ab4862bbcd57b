<script setup lang="ts">
/** The brush at the pointer: its true size, its full inside, and small signs for hiding and for a stencil. */
import { computed } from 'vue';

const props = defineProps<{
  /** CSS pixels on the canvas. */
  x: number;
  y: number;
  diameter: number;
  hardness: number;
  hides: boolean;
  held: boolean;
}>();

const radius = computed(() => Math.max(1.5, props.diameter / 2));
const full = computed(() => radius.value * props.hardness);
</script>

<template>
  <svg class="pointer-events-none absolute left-0 top-0 overflow-visible" width="1" height="1" aria-hidden="true">
    <g :transform="`translate(${x} ${y})`" fill="none">
      <circle :r="radius" stroke="#0009" stroke-width="2.5" />
      <circle :r="radius" stroke="#fff" stroke-width="1" />
      <circle v-if="full > 3 && hardness < 1" :r="full" stroke="#fff9" stroke-width="1" stroke-dasharray="1 5" />
      <g stroke-linecap="round">
        <path :d="hides ? 'M-4 0H4' : 'M-4 0H4M0-4V4'" stroke="#000a" stroke-width="3.5" />
        <path :d="hides ? 'M-4 0H4' : 'M-4 0H4M0-4V4'" stroke="#fff" stroke-width="1.3" />
      </g>
      <path v-if="held" d="M9 10h9l-3.2 4v5l-2.6-1.6V14z" fill="oklch(0.78 0.09 180)" stroke="#000a" stroke-width="0.8" />
    </g>
  </svg>
</template>
