<script setup lang="ts">
/** The light that frames were taken in, as a field: cool to warm across, green to magenta down, each dot the colour that a grey takes on there.
 * The frame at hand is a ring that is dragged; other frames are smaller ones. */
import { computed, ref } from 'vue';
import { COLDEST, MOST_TINT, WARMEST, type White, WORKING_WHITE, whiteMatrix } from '#core/color/whitePoint.ts';
import { times3 } from '#core/raster/matrix3.ts';

const props = defineProps<{ white: White; others: readonly { label: string; white: White }[]; disabled: boolean }>();
const emit = defineEmits<{ preview: [white: White]; commit: [white: White]; cancel: [] }>();

const WIDTH = 288;
const HEIGHT = 104;
const COLUMNS = 17;
const ROWS = 7;
/** Even steps of the eye are even steps of a million over kelvins. */
const miredOf = (kelvin: number) => 1e6 / kelvin;
/** Light warmer than this is set in numbers: it leaves little blue to be made white. */
const WARMEST_DRAWN = 3000;
const [LEFT, RIGHT] = [miredOf(WARMEST_DRAWN), miredOf(COLDEST)];
const GREY = 0.3;
const MOST_LIGHT = 2;
const MIRED_STEP = 4;

const x = (kelvin: number) => 8 + ((Math.min(LEFT, miredOf(kelvin)) - LEFT) / (RIGHT - LEFT)) * (WIDTH - 16);
const y = (tint: number) => 8 + ((tint + MOST_TINT) / (2 * MOST_TINT)) * (HEIGHT - 16);
const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));
const tidy = (mired: number, tint: number): White => ({
  kelvin: Math.round(within(1e6 / Math.max(1, mired), WARMEST, COLDEST) / 10) * 10,
  tint: Number(within(tint, -MOST_TINT, MOST_TINT).toFixed(1)),
});

const dots = Array.from({ length: COLUMNS * ROWS }, (_, i) => i).flatMap((i) => {
  const [column, row] = [(i % COLUMNS) / (COLUMNS - 1), Math.floor(i / COLUMNS) / (ROWS - 1)];
  const white = tidy(LEFT + column * (RIGHT - LEFT), (2 * row - 1) * MOST_TINT);
  const light = times3(whiteMatrix(white, 'srgb'), [GREY, GREY, GREY]);
  // Far off the light of the sky nothing is left of a grey.
  if (Math.min(...light) <= 0 || Math.max(...light) > MOST_LIGHT) return [];
  return [{ x: x(white.kelvin), y: y(white.tint), fill: `color(srgb-linear ${light.map((value) => Math.min(1, value).toFixed(3)).join(' ')})` }];
});
const says = computed(() => `${Math.round(props.white.kelvin)} K, tint ${props.white.tint}`);

const box = ref<SVGSVGElement>();
let isHeld = false;
function whiteAt(event: PointerEvent): White {
  const { left, top, width, height } = (box.value as SVGSVGElement).getBoundingClientRect();
  const [across, down] = [((event.clientX - left) / width) * WIDTH, ((event.clientY - top) / height) * HEIGHT];
  return tidy(LEFT + ((across - 8) / (WIDTH - 16)) * (RIGHT - LEFT), ((down - 8) / (HEIGHT - 16)) * 2 * MOST_TINT - MOST_TINT);
}
function onDown(event: PointerEvent): void {
  if (props.disabled || event.button !== 0) return;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  isHeld = true;
  emit('preview', whiteAt(event));
}
function onMove(event: PointerEvent): void {
  if (isHeld) emit('preview', whiteAt(event));
}
function onUp(event: PointerEvent): void {
  if (isHeld) emit('commit', whiteAt(event));
  isHeld = false;
}
function onCancel(): void {
  if (isHeld) emit('cancel');
  isHeld = false;
}
function onKey(event: KeyboardEvent): void {
  const way = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!way || props.disabled) return;
  event.preventDefault();
  const { kelvin, tint } = props.white;
  emit('commit', tidy(miredOf(kelvin) + way[0] * MIRED_STEP, tint + way[1]));
}
</script>

<template>
  <svg
    ref="box" class="w-full cursor-crosshair touch-none select-none rounded bg-sunken" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" data-testid="white-field"
    @pointerdown.prevent="onDown" @pointermove="onMove" @pointerup="onUp" @pointercancel="onCancel" @keydown.esc="onCancel"
  >
    <circle v-for="(dot, i) in dots" :key="i" :cx="dot.x" :cy="dot.y" r="3.6" :fill="dot.fill" />
    <line :x1="x(WORKING_WHITE.kelvin)" :y1="y(WORKING_WHITE.tint)" :x2="x(white.kelvin)" :y2="y(white.tint)" class="stroke-ink" stroke-width="1" stroke-dasharray="2 2" />
    <circle v-for="other in others" :key="other.label" :cx="x(other.white.kelvin)" :cy="y(other.white.tint)" r="4" fill="none" class="stroke-ink" stroke-width="1"><title>{{ other.label }}</title></circle>
    <circle
      :cx="x(white.kelvin)" :cy="y(white.tint)" r="7" class="fill-verdigris stroke-ink" stroke-width="1.5" tabindex="0" role="slider" aria-label="White of the frame" :aria-valuetext="says"
      :aria-valuemin="WARMEST" :aria-valuemax="COLDEST" :aria-valuenow="white.kelvin" @keydown="onKey" @dblclick="!disabled && emit('commit', { ...WORKING_WHITE })"
    ><title>{{ says }}. Right is warmer, up is greener. Double click: as taken</title></circle>
  </svg>
</template>
