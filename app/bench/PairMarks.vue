<script setup lang="ts">
/** Pairs of points over the picture, inside an SVG: squares are the base's, circles the other picture's. */
interface Place { x: number; y: number }

defineProps<{ pairs: readonly { base: Place; /** Still to come. */ frame?: Place }[] }>();
</script>

<template>
  <g v-for="(pair, i) in pairs" :key="i" style="filter: drop-shadow(0 0 1px black)">
    <template v-if="pair.frame">
      <line :x1="pair.base.x" :y1="pair.base.y" :x2="pair.frame.x" :y2="pair.frame.y" stroke="white" />
      <circle :cx="pair.frame.x" :cy="pair.frame.y" r="4" fill="none" class="stroke-verdigris" stroke-width="1.5" />
      <text :x="pair.base.x + 8" :y="pair.base.y - 6" fill="white" font-size="12">{{ i + 1 }}</text>
    </template>
    <rect :x="pair.base.x - 4" :y="pair.base.y - 4" width="8" height="8" fill="none" stroke="white" stroke-width="1.5" />
  </g>
</template>
