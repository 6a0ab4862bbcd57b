<script setup lang="ts">
/** The brush at the pointer: its true size, its full inside, and small signs for hiding and for a stencil. */
import { computed } from 'vue';

const props = defineProps<{
  /** CSS pixels on the canvas. */
  x: number;
  y: number;
  diameter: number;
  hardness: number;
  effect: 'reveal' | 'hide' | 'soften' | 'even' | 'back';
  /** What a stencil lets through here, 0..1; undefined without one. */
  held: number | undefined;
}>();

/** A plus reveals, a minus hides, a wave softens, two level lines even out, a ring goes back. */
const SIGNS = { reveal: 'M-4 0H4M0-4V4', hide: 'M-4 0H4', soften: 'M-5 1q2.5-5 5 0t5 0', even: 'M-4-2H4M-4 2H4', back: 'M-3.5 0a3.5 3.5 0 1 0 7 0a3.5 3.5 0 1 0-7 0' };

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
        <path :d="SIGNS[effect]" stroke="#000a" stroke-width="3.5" />
        <path :d="SIGNS[effect]" stroke="#fff" stroke-width="1.3" />
      </g>
      <g v-if="held !== undefined" data-testid="stencil-sign">
        <rect x="9" y="9" width="6" height="14" fill="#000a" />
        <rect x="10" :y="10 + 12 * (1 - held)" width="4" :height="12 * held" fill="oklch(0.78 0.09 180)" />
      </g>
    </g>
  </svg>
</template>
