<script setup lang="ts">
/** Colour of the frame on the circle of hues: how much stronger or weaker each hue becomes, outwards or inwards of the dotted circle, and a
 * handle for each range, dragged outwards for strength and along the circle for the hue. */
import { computed, ref } from 'vue';
import { hueWindow } from '#core/masks/rangeWindow.ts';
import type { ADJUSTMENTS } from '#core/develop/list.ts';

type Colours = (typeof ADJUSTMENTS)['colour']['rest'];

const props = defineProps<{ settings: Colours; disabled: boolean }>();
const emit = defineEmits<{ preview: [change: Partial<Colours>]; commit: [change: Partial<Colours>]; cancel: [] }>();

const WIDTH = 288;
const HEIGHT = 168;
const [X, Y] = [WIDTH / 2, HEIGHT / 2];
/** Radius of no change, and how far all of it reaches. */
const STILL = 46;
const MOST = 30;
const RIM = 79;

const angleOf = (hue: number) => (-hue * Math.PI) / 180;
const place = (hue: number, radius: number) => ({ x: X + radius * Math.cos(angleOf(hue)), y: Y + radius * Math.sin(angleOf(hue)) });
const strengthAt = (hue: number) =>
  props.settings.saturation + props.settings.ranges.reduce((all, range) => all + range.saturation * hueWindow(range, hue), 0);
const radiusAt = (hue: number) => STILL + MOST * Math.min(1, Math.max(-1, strengthAt(hue)));

const rim = Array.from({ length: 72 }, (_, i) => {
  const [from, to] = [place(i * 5 - 2.6, RIM), place(i * 5 + 2.6, RIM)];
  return { d: `M${from.x.toFixed(2)} ${from.y.toFixed(2)}L${to.x.toFixed(2)} ${to.y.toFixed(2)}`, stroke: `oklch(0.68 0.12 ${i * 5})` };
});
const shape = computed(() => {
  const points = Array.from({ length: 120 }, (_, i) => place(i * 3, radiusAt(i * 3)));
  return `M${points.map(({ x, y }) => `${x.toFixed(2)} ${y.toFixed(2)}`).join('L')}Z`;
});
const handles = computed(() =>
  props.settings.ranges.map((range, index) => ({
    index,
    ...place(range.centre, radiusAt(range.centre)),
    fill: `oklch(0.7 0.13 ${range.centre})`,
    turned: place(range.centre + range.turn, radiusAt(range.centre)),
    says: `Hues around ${Math.round(range.centre)}°, saturation ${Math.round(100 * range.saturation)} %`,
  })),
);

const box = ref<SVGSVGElement>();
let held: number | undefined;
function changed(index: number, change: object): Partial<Colours> {
  return { ranges: props.settings.ranges.map((range, i) => (i === index ? { ...range, ...change } : range)) };
}
function pulled(event: PointerEvent, index: number): Partial<Colours> {
  const { left, top, width } = (box.value as SVGSVGElement).getBoundingClientRect();
  const [dx, dy] = [((event.clientX - left) / width) * WIDTH - X, ((event.clientY - top) / width) * WIDTH - Y];
  const centre = Math.round(((-Math.atan2(dy, dx) * 180) / Math.PI + 360) % 360);
  // What is done to all colours is not the range's.
  const strength = (Math.hypot(dx, dy) - STILL) / MOST - props.settings.saturation;
  return changed(index, { centre, saturation: Number(Math.min(1, Math.max(-1, strength)).toFixed(2)) });
}
function onDown(event: PointerEvent, index: number): void {
  if (props.disabled || event.button !== 0) return;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  held = index;
}
function onMove(event: PointerEvent): void {
  if (held !== undefined) emit('preview', pulled(event, held));
}
function onUp(event: PointerEvent): void {
  if (held !== undefined) emit('commit', pulled(event, held));
  held = undefined;
}
function onCancel(): void {
  if (held !== undefined) emit('cancel');
  held = undefined;
}
function onKey(event: KeyboardEvent, index: number): void {
  const way = { ArrowLeft: [2, 0], ArrowRight: [-2, 0], ArrowUp: [0, 0.02], ArrowDown: [0, -0.02] }[event.key];
  if (!way || props.disabled) return;
  event.preventDefault();
  const { centre, saturation } = props.settings.ranges[index];
  const next = Math.min(1, Math.max(-1, saturation + way[1]));
  emit('commit', changed(index, { centre: (centre + way[0] + 360) % 360, saturation: Number(next.toFixed(2)) }));
}
</script>

<template>
  <svg ref="box" class="w-full touch-none select-none rounded bg-sunken" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" aria-label="Strength of colours by hue" data-testid="hue-circle">
    <path v-for="(piece, i) in rim" :key="i" :d="piece.d" :stroke="piece.stroke" stroke-width="5" fill="none" />
    <path :d="shape" class="fill-verdigris stroke-verdigris" fill-opacity="0.18" stroke-width="1.5" />
    <circle :cx="X" :cy="Y" :r="STILL" fill="none" class="stroke-soft" stroke-width="1" stroke-dasharray="2 3" />
    <template v-for="handle in handles" :key="handle.index">
      <line :x1="handle.x" :y1="handle.y" :x2="handle.turned.x" :y2="handle.turned.y" class="stroke-ink" stroke-width="2" />
      <circle
        :cx="handle.x" :cy="handle.y" r="6.5" :fill="handle.fill" class="cursor-grab stroke-ink" stroke-width="1.5" tabindex="0" role="slider" :aria-label="`Hues ${handle.index + 1} on the circle`" :aria-valuetext="handle.says"
        :aria-valuemin="-100" :aria-valuemax="100" :aria-valuenow="Math.round(100 * settings.ranges[handle.index].saturation)"
        @pointerdown.prevent="onDown($event, handle.index)" @pointermove="onMove" @pointerup="onUp" @pointercancel="onCancel" @keydown.esc="onCancel" @keydown="onKey($event, handle.index)"
      ><title>{{ handle.says }}</title></circle>
    </template>
  </svg>
</template>
