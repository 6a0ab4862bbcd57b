<script setup lang="ts">
/** What the lens did, drawn: straight lines as they were taken, corners as dark as they are lifted. A corner that is pulled bends it. */
import { computed } from 'vue';
import type { ADJUSTMENTS } from '#core/develop/list.ts';
import { bentPlace } from '#core/raster/lens.ts';
import type { Size } from '#core/raster/size.ts';

type Settings = (typeof ADJUSTMENTS)['lens']['rest'];

const props = defineProps<{ settings: Settings; size: Size; disabled: boolean }>();
const emit = defineEmits<{ preview: [change: Partial<Settings>]; commit: [change: Partial<Settings>]; cancel: [] }>();

const LINES = 6;
const STEPS = 24;
const MOST = 0.15;

const lens = computed(() => ({ bend: [props.settings.k1, props.settings.k2, props.settings.k3] as [number, number, number], red: 0, blue: 0 }));
/** The picture, as wide as 240. */
const drawn = computed<Size>(() => ({ width: 240, height: Math.round((240 * props.size.height) / props.size.width) }));
/** Room for all that a lens may bend outwards. */
const MARGIN = 34;
const lines = computed(() => {
  const { width, height } = drawn.value;
  const path = (placeAt: (share: number) => { x: number; y: number }) =>
    Array.from({ length: STEPS + 1 }, (_, i) => {
      const { x, y } = bentPlace(lens.value, drawn.value, placeAt(i / STEPS));
      return `${x.toFixed(2)},${y.toFixed(2)}`;
    }).join(' ');
  return Array.from({ length: LINES + 1 }, (_, line) => line / LINES).flatMap((share) => [
    path((along) => ({ x: along * (width - 1), y: share * (height - 1) })),
    path((along) => ({ x: share * (width - 1), y: along * (height - 1) })),
  ]);
});
const corner = computed(() => bentPlace(lens.value, drawn.value, { x: drawn.value.width - 1, y: drawn.value.height - 1 }));

let held: { x: number; k1: number } | undefined;
function onDown(event: PointerEvent): void {
  if (props.disabled || event.button !== 0) return;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  held = { x: event.clientX, k1: props.settings.k1 };
}
const pulled = (event: PointerEvent): Partial<Settings> => {
  const moved = (event.clientX - (held?.x ?? 0)) / (drawn.value.width / 2);
  const k1 = Math.min(MOST, Math.max(-MOST, (held?.k1 ?? 0) + moved));
  return { k1: Math.round(k1 * 2000) / 2000 };
};
function onMove(event: PointerEvent): void {
  if (held) emit('preview', pulled(event));
}
function onUp(event: PointerEvent): void {
  if (held) emit('commit', pulled(event));
  held = undefined;
}
function onCancel(): void {
  if (held) emit('cancel');
  held = undefined;
}
</script>

<template>
  <svg
    class="w-full touch-none select-none rounded" :viewBox="`${-MARGIN} ${-MARGIN} ${drawn.width + 2 * MARGIN} ${drawn.height + 2 * MARGIN}`" role="img" aria-label="Straight lines as the lens drew them"
    @keydown.esc="onCancel"
  >
    <defs>
      <radialGradient id="lens-corners" cx="0.5" cy="0.5" r="0.72">
        <stop :offset="0.25 + 0.4 * settings.corners.late" stop-color="black" stop-opacity="0" />
        <stop offset="1" stop-color="black" :stop-opacity="Math.max(0, 1 - 2 ** -settings.corners.stops) * 0.8" />
      </radialGradient>
    </defs>
    <rect :width="drawn.width" :height="drawn.height" class="fill-raised" />
    <rect :width="drawn.width" :height="drawn.height" fill="url(#lens-corners)" />
    <polyline v-for="(line, i) in lines" :key="i" :points="line" fill="none" class="stroke-soft" stroke-width="1" />
    <rect :width="drawn.width" :height="drawn.height" fill="none" class="stroke-verdigris" stroke-width="1" stroke-dasharray="3 3" />
    <circle
      v-if="!disabled" :cx="corner.x" :cy="corner.y" r="6" class="cursor-ew-resize fill-verdigris" data-testid="lens-corner"
      @pointerdown.prevent="onDown" @pointermove="onMove" @pointerup="onUp" @pointercancel="onCancel"
    >
      <title>Pull until lines of the picture are straight</title>
    </circle>
  </svg>
</template>
