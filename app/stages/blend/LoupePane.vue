<script setup lang="ts">
/** A piece of the picture at 100 % beside the fitted view, under the pointer. */
import { computed, ref, watch } from 'vue';
import type { Size } from '#core/raster/size.ts';
import { Lane } from '#engine/lanes.ts';
import type { View } from '#engine/protocol.ts';
import SceneCanvas from '../../bench/SceneCanvas.vue';
import type { ScenePoint } from '../../stores/maskTools.ts';

const props = defineProps<{ size: Size; view: View; point?: ScenePoint }>();

/** Where the pointer was last over the picture. */
const last = ref<ScenePoint>({ x: props.size.width / 2, y: props.size.height / 2 });
watch(() => props.point, (point) => { if (point) last.value = point; });
const viewport = computed(() => ({ fit: false, scale: window.devicePixelRatio || 1, x: Math.round(last.value.x), y: Math.round(last.value.y) }));
</script>

<template>
  <div class="pointer-events-none absolute top-3 h-52 w-70 overflow-hidden rounded bg-surround shadow-xl outline-2 outline-panel" :class="last.x > size.width * 0.55 && last.y < size.height * 0.6 ? 'left-3' : 'right-3'" data-testid="loupe">
    <SceneCanvas :size="size" :view="view" :viewport="viewport" :lane="Lane.Loupe" still />
    <span class="absolute left-1/2 top-1/2 h-3 w-3 -translate-x-1/2 -translate-y-1/2 rounded-full border border-white mix-blend-difference" />
    <span class="absolute bottom-1 right-1.5 text-[11px] text-white [text-shadow:0_0_2px_black]">100 %</span>
  </div>
</template>
