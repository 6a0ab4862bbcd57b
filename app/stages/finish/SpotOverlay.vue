<script setup lang="ts">
/** Spots over the picture: each where it is, that at hand with the place that covers it; the brush that covers more. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue';
import type { Size } from '#core/raster/size.ts';
import { removeSpots } from '#core/scene/edits/retouching.ts';
import { middleOfSpot, type RetouchSpot } from '#core/scene/retouch.ts';
import type { PictureMap } from '../../bench/pictureMap.ts';
import { type Point, toScene, type ViewTransform } from '../../bench/viewTransform.ts';
import { useFinish } from '../../stores/finish.ts';
import { useSession } from '../../stores/session.ts';
import { useShortcuts } from '../../useShortcuts.ts';
import { useSpots } from './useSpots.ts';

const props = defineProps<{ transform: ViewTransform; density: number; size: Size; map: PictureMap }>();
const emit = defineEmits<{ pan: [dx: number, dy: number]; wheel: [event: WheelEvent] }>();
const session = useSession();
const finish = useFinish();
const { cover, change } = useSpots();

const box = ref<HTMLElement>();
const onScreen = (at: Point): Point => {
  const { x, y } = props.map.fromScene(at);
  return { x: (x * props.transform.scale + props.transform.offsetX) / props.density, y: (y * props.transform.scale + props.transform.offsetY) / props.density };
};
function sceneAt(event: { clientX: number; clientY: number }): Point {
  const { left, top } = (box.value as HTMLElement).getBoundingClientRect();
  return props.map.toScene(toScene(props.transform, { x: (event.clientX - left) * props.density, y: (event.clientY - top) * props.density }));
}
/** Pixels of the page for one of the scene. */
const wide = (at: Point) => (props.map.scaleAt(at) * props.transform.scale) / props.density;

const path = shallowRef<readonly Point[]>([]);
const pointer = ref<Point>();
const space = ref(false);
let pans = false;
const isDown = ref(false);
function press(event: PointerEvent): void {
  pans = event.button === 1 || space.value;
  if (event.button > 1) return;
  isDown.value = true;
  (box.value as HTMLElement).setPointerCapture(event.pointerId);
  event.preventDefault();
  if (!pans) path.value = [sceneAt(event)];
}
function move(event: PointerEvent): void {
  const { left, top } = (box.value as HTMLElement).getBoundingClientRect();
  pointer.value = { x: event.clientX - left, y: event.clientY - top };
  if (!isDown.value) return;
  if (pans) return emit('pan', event.movementX, event.movementY);
  const at = sceneAt(event);
  const last = path.value.at(-1);
  if (last && Math.hypot(at.x - last.x, at.y - last.y) > Math.max(2, finish.width / 8)) path.value = [...path.value, at];
}
function release(): void {
  if (isDown.value && !pans && path.value.length > 0) void cover(path.value);
  lift();
}
function lift(): void {
  isDown.value = false;
  path.value = [];
}

/** What of the spot at hand is dragged: itself, or the place that covers it. */
let held: { spot: RetouchSpot; what: 'place' | 'source'; from: Point } | undefined;
function grip(event: PointerEvent, spot: RetouchSpot, what: 'place' | 'source'): void {
  if (event.button !== 0) return;
  finish.spotId = spot.id;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  held = { spot, what, from: sceneAt(event) };
}
function drag(event: PointerEvent): void {
  if (!held || session.readOnly) return;
  const to = sceneAt(event);
  const [dx, dy] = [to.x - held.from.x, to.y - held.from.y];
  if (Math.hypot(dx, dy) * wide(to) < 2) return;
  const { spot, what } = held;
  if (what === 'source') change(spot, { by: { x: Math.round(spot.by.x + dx), y: Math.round(spot.by.y + dy) } }, 'spot');
  else change(spot, { path: spot.path.map(({ x, y }) => ({ x: x + dx, y: y + dy })) }, 'spot');
}
function drop(): void {
  if (held) session.closeDrag();
  held = undefined;
}
function nudge(event: KeyboardEvent, spot: RetouchSpot, what: 'place' | 'source'): void {
  const by = event.shiftKey ? 1 : 5;
  const [dx, dy] = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key] ?? [0, 0];
  if (dx === 0 && dy === 0) return;
  event.preventDefault();
  change(spot, what === 'source' ? { by: { x: spot.by.x + dx, y: spot.by.y + dy } } : { path: spot.path.map(({ x, y }) => ({ x: x + dx, y: y + dy })) });
}
useShortcuts({ 'spot.remove': () => { if (finish.spotId) session.dispatch(removeSpots({ ids: [finish.spotId] })); } });
function onKey(event: KeyboardEvent): void {
  if (event.code === 'Space' && !(event.target instanceof HTMLInputElement)) space.value = event.type === 'keydown';
  if (event.key !== 'Escape' || event.type !== 'keydown') return;
  held = undefined;
  lift();
  session.cancelDrag();
  finish.spotId = null;
}
onMounted(() => { for (const kind of ['keydown', 'keyup'] as const) window.addEventListener(kind, onKey); });
onBeforeUnmount(() => { for (const kind of ['keydown', 'keyup'] as const) window.removeEventListener(kind, onKey); });

const textOf = (points: readonly Point[]) => points.map(onScreen).map(({ x, y }) => `${x},${y}`).join(' ');
const shapes = computed(() =>
  session.scene.retouch.map((spot) => {
    const [first] = spot.path;
    const middle = middleOfSpot(spot);
    const source = { x: middle.x + spot.by.x, y: middle.y + spot.by.y };
    const [at, from] = [onScreen(middle), onScreen(source)];
    return { spot, at, from, radius: Math.max(4, spot.radius * wide(first)), isWay: spot.path.length > 1, points: spot.path.length > 1 ? textOf(spot.path) : '', isChosen: spot.id === finish.spotId };
  }),
);
const chosen = computed(() => shapes.value.find(({ isChosen }) => isChosen));
/** A ring around dust that is visited, wide enough to see what is in it. */
const ring = computed(() => {
  const { speck } = finish;
  return speck && { at: onScreen(speck), radius: Math.max(16, 2 * speck.radius * wide(speck)) };
});
const brushRadius = computed(() => (finish.width / 2) * wide({ x: props.size.width / 2, y: props.size.height / 2 }));
</script>

<template>
  <div
    ref="box" class="absolute inset-0 touch-none overflow-clip" :class="space ? 'cursor-grab' : 'cursor-none'" data-testid="spot-overlay"
    @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="lift" @pointerleave="pointer = undefined" @wheel.prevent="emit('wheel', $event)"
  >
    <svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true" style="filter: drop-shadow(0 0 1px black)">
      <template v-for="shape in shapes" :key="shape.spot.id">
        <polyline v-if="shape.isWay" :points="shape.points" fill="none" :stroke="shape.isChosen ? 'oklch(0.78 0.09 180)' : 'white'" :stroke-opacity="shape.spot.visible ? 0.8 : 0.3" :stroke-width="shape.isChosen ? 2 : 1" />
        <circle :cx="shape.at.x" :cy="shape.at.y" :r="shape.isWay ? 5 : shape.radius" fill="none" :stroke="shape.isChosen ? 'oklch(0.78 0.09 180)' : 'white'" :stroke-opacity="shape.spot.visible ? 0.9 : 0.35" :stroke-width="shape.isChosen ? 1.8 : 1" />
      </template>
      <template v-if="chosen && !chosen.spot.frame">
        <line :x1="chosen.at.x" :y1="chosen.at.y" :x2="chosen.from.x" :y2="chosen.from.y" stroke="white" stroke-width="1" stroke-dasharray="1 4" stroke-linecap="round" />
        <circle :cx="chosen.from.x" :cy="chosen.from.y" :r="chosen.isWay ? 8 : chosen.radius" fill="none" stroke="white" stroke-width="1.4" stroke-dasharray="3 3" />
      </template>
      <circle v-if="ring" :cx="ring.at.x" :cy="ring.at.y" :r="ring.radius" fill="none" stroke="oklch(0.78 0.09 180)" stroke-width="2" stroke-dasharray="6 5" data-testid="dust-ring" />
      <polyline v-if="path.length > 1" :points="textOf(path)" fill="none" stroke="white" stroke-opacity="0.45" :stroke-width="2 * brushRadius" stroke-linecap="round" stroke-linejoin="round" />
      <circle v-if="pointer && !space" :cx="pointer.x" :cy="pointer.y" :r="Math.max(2, brushRadius)" fill="none" stroke="white" stroke-width="1" />
    </svg>
    <button
      v-for="shape in shapes" :key="shape.spot.id" type="button" class="absolute h-4 w-4 -translate-x-1/2 -translate-y-1/2 cursor-pointer touch-none rounded-full" :style="{ left: `${shape.at.x}px`, top: `${shape.at.y}px` }" :aria-label="`Spot at ${Math.round(shape.spot.path[0].x)}, ${Math.round(shape.spot.path[0].y)}`" :aria-pressed="shape.isChosen"
      @pointerdown.stop="grip($event, shape.spot, 'place')" @pointermove.stop="drag" @pointerup.stop="drop" @pointercancel.stop="drop" @keydown="nudge($event, shape.spot, 'place')"
    />
    <button
      v-if="chosen && !chosen.spot.frame" type="button" class="absolute h-5 w-5 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none rounded-full" :style="{ left: `${chosen.from.x}px`, top: `${chosen.from.y}px` }" aria-label="Where it is taken from" data-testid="spot-source"
      @pointerdown.stop="grip($event, chosen.spot, 'source')" @pointermove.stop="drag" @pointerup.stop="drop" @pointercancel.stop="drop" @keydown="nudge($event, chosen.spot, 'source')"
    />
  </div>
</template>
