<script setup lang="ts">
/** A curve over greys: click to add a point, drag to move it, double press or Delete to take it away. */
import { computed, ref } from 'vue';

interface CurvePoint { x: number; y: number }

const props = defineProps<{ label: string; points: readonly CurvePoint[]; /** The curve that passes through them, 0..1. */ curve: (x: number) => number; /** How many times as wide as high. */ wide?: number; /** Drawn behind it, in a box of 256 by 100. */ backdrop?: string }>();
const emit = defineEmits<{ preview: [points: CurvePoint[]]; commit: [points: CurvePoint[]]; cancel: [] }>();

const SIDE = 120;
const width = computed(() => SIDE * (props.wide ?? 1));
const GAP = 0.02;
const box = ref<SVGSVGElement>();
const dragged = ref<number>();

/** The ends stand even before anything was drawn. */
const shown = computed<CurvePoint[]>(() => (props.points.length >= 2 ? [...props.points] : [{ x: 0, y: 0 }, { x: 1, y: 1 }]));
const path = computed(() => Array.from({ length: 121 }, (_, i) => `${i === 0 ? 'M' : 'L'}${(i / 120) * width.value} ${((1 - Math.min(1, Math.max(0, props.curve(i / 120)))) * SIDE).toFixed(1)}`).join(''));

function at(event: PointerEvent): CurvePoint {
  const { left, top, width: across, height } = (box.value as SVGSVGElement).getBoundingClientRect();
  const clamp = (value: number) => Math.min(1, Math.max(0, Math.round(value * 200) / 200));
  return { x: clamp((event.clientX - left) / across), y: clamp(1 - (event.clientY - top) / height) };
}
/** The points with one moved, between its neighbours. */
function moved(index: number, to: CurvePoint): CurvePoint[] {
  const before = shown.value[index - 1];
  const after = shown.value[index + 1];
  const x = Math.min(after ? after.x - GAP : 1, Math.max(before ? before.x + GAP : 0, to.x));
  return shown.value.map((point, i) => (i === index ? { x, y: to.y } : point));
}

function press(event: PointerEvent): void {
  const point = at(event);
  const near = shown.value.findIndex(({ x, y }) => Math.hypot((x - point.x) * (props.wide ?? 1), y - point.y) < 0.07);
  let index = near;
  if (near < 0) {
    if (shown.value.length >= 16 || shown.value.some(({ x }) => Math.abs(x - point.x) < GAP)) return;
    index = shown.value.filter(({ x }) => x < point.x).length;
    emit('preview', [...shown.value.slice(0, index), point, ...shown.value.slice(index)]);
  }
  dragged.value = index;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function move(event: PointerEvent): void {
  if (dragged.value !== undefined) emit('preview', moved(dragged.value, at(event)));
}
function release(event: PointerEvent): void {
  if (dragged.value !== undefined) emit('commit', moved(dragged.value, at(event)));
  dragged.value = undefined;
}
function remove(index: number): void {
  if (index > 0 && index < shown.value.length - 1) emit('commit', shown.value.filter((_, i) => i !== index));
}
function step(event: KeyboardEvent, index: number): void {
  const [dx, dy] = { ArrowLeft: [-0.01, 0], ArrowRight: [0.01, 0], ArrowUp: [0, 0.01], ArrowDown: [0, -0.01] }[event.key] ?? [0, 0];
  if (event.key === 'Delete' || event.key === 'Backspace') remove(index);
  else if (dx !== 0 || dy !== 0) {
    const { x, y } = shown.value[index];
    emit('commit', moved(index, { x: x + dx, y: Math.min(1, Math.max(0, y + dy)) }));
  } else return;
  event.preventDefault();
}
</script>

<template>
  <svg
    ref="box" class="block w-full touch-none overflow-visible bg-sunken" :viewBox="`0 0 ${width} ${SIDE}`" role="group" :aria-label="label" @pointerdown="press" @pointermove="move" @pointerup="release"
    @keydown.esc="dragged = undefined; emit('cancel')"
  >
    <path v-if="backdrop" :d="backdrop" fill="var(--ink-soft)" opacity="0.45" :transform="`scale(${width / 256} ${SIDE / 100})`" />
    <path v-else :d="`M0 ${SIDE}L${width} 0`" stroke="var(--line)" fill="none" />
    <path :d="path" class="stroke-verdigris" fill="none" stroke-width="1.6" />
    <circle
      v-for="(point, i) in shown" :key="i" data-testid="curve-point" :cx="point.x * width" :cy="(1 - point.y) * SIDE" r="3.6" fill="var(--ink)" class="cursor-move" tabindex="0" role="slider" :aria-label="`Point ${i + 1} of the curve`" :aria-valuenow="Math.round(point.y * 100)"
      @dblclick.stop="remove(i)" @keydown="step($event, i)"
    />
  </svg>
</template>
