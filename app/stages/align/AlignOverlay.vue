<script setup lang="ts">
/** What lies over the picture in Align: the divider, places that do not fit, pairs of points, corners to drag, the crop. */
import type { ComparedPlace } from '#core/scene/evidence.ts';
import { computed, ref } from 'vue';
import { handNumbers, placeByCorners, placedCorners, withHandNumbers } from '#core/align/byHand.ts';
import { arrowsOf } from '#core/align/localFit.ts';
import { mapPoint, type Point } from '#core/align/placement.ts';
import { lensOf } from '#core/develop/lensOf.ts';
import { bentPlace, type Lens, PLAIN_LENS, straightPlace } from '#core/raster/lens.ts';
import type { Size } from '#core/raster/size.ts';
import { IDENTITY3 } from '#core/raster/matrix3.ts';
import type { Frame } from '#core/scene/frame.ts';
import { isUpright } from '#core/scene/geometry.ts';
import PairMarks from '../../bench/PairMarks.vue';
import { toScene, type ViewTransform } from '../../bench/viewTransform.ts';
import { usePlacing } from '../../stores/placing.ts';
import { useSession } from '../../stores/session.ts';
import DividerBar from '../../ui/DividerBar.vue';
import type { Pairs } from '../../stores/pointPairs.ts';

const props = defineProps<{
  transform: ViewTransform;
  density: number;
  size: Size;
  frame: Frame;
  matrix: readonly number[];
  tool: 'look' | 'move' | 'corners' | 'pairs';
  pairs: Pairs;
  hasDivider: boolean;
  misfits: readonly ComparedPlace[];
}>();
const emit = defineEmits<{ place: [matrix: readonly number[], drag: string]; done: []; pan: [dx: number, dy: number]; wheel: [event: WheelEvent] }>();
const divider = defineModel<number>('divider', { required: true });

const session = useSession();
const placing = usePlacing();
const box = ref<HTMLElement>();

/** Placements are of frames as they were taken; the picture shows them straightened. */
const lens = computed(() => lensOf(props.frame.develop));
const baseLens = computed(() => (placing.base ? lensOf(placing.base.develop) : PLAIN_LENS));
const placedOnScreen = (at: Point, through: Lens = lens.value) => onScreen(straightPlace(through, props.size, at));
/** Scene pixels, counted from the centre of the first, to CSS pixels on the canvas. */
const onScreen = ({ x, y }: Point): Point => ({
  x: ((x + 0.5) * props.transform.scale + props.transform.offsetX) / props.density,
  y: ((y + 0.5) * props.transform.scale + props.transform.offsetY) / props.density,
});
/** @param through - The lens of the picture that is pointed at. */
function sceneAt(event: PointerEvent, through: Lens = lens.value): Point {
  const { left, top } = (box.value as HTMLElement).getBoundingClientRect();
  const { x, y } = toScene(props.transform, { x: (event.clientX - left) * props.density, y: (event.clientY - top) * props.density });
  return bentPlace(through, props.size, { x: x - 0.5, y: y - 0.5 });
}

/** How a local fit moves the frame, ten times enlarged, where it moves it at all. */
const ENLARGED = 10;
const arrows = computed(() =>
  (props.frame.local ? arrowsOf(props.frame.local, props.size) : [])
    .filter(({ by }) => Math.hypot(by.x, by.y) > 0.03)
    .map(({ at, by }) => ({ from: placedOnScreen(at), to: placedOnScreen({ x: at.x + by.x * ENLARGED, y: at.y + by.y * ENLARGED }) })),
);
const corners = computed(() => placedCorners(props.matrix, props.size));
const baseMatrix = computed(() => placing.base?.placement?.matrix ?? IDENTITY3);
const marks = computed<{ base: Point; frame?: Point }[]>(() => {
  const { pairs, pending } = props.pairs;
  const put = pairs.value.map(({ base, frame }) => ({ base: placedOnScreen(mapPoint(baseMatrix.value, base), baseLens.value), frame: placedOnScreen(mapPoint(props.matrix, frame)) }));
  return pending.value ? [...put, { base: placedOnScreen(pending.value, baseLens.value) }] : put;
});
const spots = computed(() => props.misfits.map((place) => ({ ...placedOnScreen(mapPoint(baseMatrix.value, place), baseLens.value), missPx: place.missPx })));
/** How large a miss is drawn, in CSS pixels. */
const reach = (missPx: number | null) => (missPx === null ? 9 : 2 + 7 * Math.min(1, missPx / 2));

let dragging: { id: string; from: Point; matrix: readonly number[]; corner: number | undefined; does: 'pan' | 'put' | 'drag' } | undefined;

function onDown(event: PointerEvent, corner?: number): void {
  const pans = event.button === 1;
  if (!pans && event.button !== 0) return;
  // The first spot of a pair is the base's.
  const ofBase = !pans && props.tool === 'pairs' && !props.pairs.pending.value;
  const does = pans ? 'pan' : props.tool === 'pairs' ? 'put' : 'drag';
  dragging = { id: crypto.randomUUID(), from: sceneAt(event, ofBase ? baseLens.value : undefined), matrix: props.matrix, corner, does };
  (box.value as HTMLElement).setPointerCapture(event.pointerId);
  event.preventDefault();
}

function onMove(event: PointerEvent): void {
  if (dragging?.does === 'pan') emit('pan', event.movementX, event.movementY);
  if (dragging?.does !== 'drag') return;
  const at = sceneAt(event);
  const [dx, dy] = [at.x - dragging.from.x, at.y - dragging.from.y];
  const { matrix, corner, id } = dragging;
  if (corner === undefined) {
    if (props.tool !== 'move') return;
    const now = handNumbers(matrix, props.size);
    emit('place', withHandNumbers(matrix, props.size, { x: now.x + dx, y: now.y + dy }), id);
    return;
  }
  const moved = placedCorners(matrix, props.size).map((point, i) => (i === corner ? { x: point.x + dx, y: point.y + dy } : point));
  const next = placeByCorners(moved, props.size);
  if (next) emit('place', next, id);
}

function onUp(): void {
  if (dragging?.does === 'put') void props.pairs.put(dragging.from);
  if (dragging?.does === 'drag') emit('done');
  dragging = undefined;
}

function onEscape(): void {
  if (!dragging) return;
  dragging = undefined;
  session.cancelDrag();
}

</script>

<template>
  <div
    ref="box" class="absolute inset-0 touch-none overflow-clip" :class="tool === 'look' ? 'pointer-events-none' : tool === 'pairs' ? 'cursor-crosshair' : 'cursor-move'" data-testid="align-overlay"
    tabindex="-1" @pointerdown="onDown($event)" @pointermove="onMove" @pointerup="onUp" @pointercancel="onEscape" @keydown.esc="onEscape" @wheel.prevent="emit('wheel', $event)"
  >
    <svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
      <rect
        v-if="session.scene.geometry.crop && isUpright(session.scene.geometry)" :x="onScreen(session.scene.geometry.crop).x - transform.scale / density / 2" :y="onScreen(session.scene.geometry.crop).y - transform.scale / density / 2"
        :width="(session.scene.geometry.crop.width * transform.scale) / density" :height="(session.scene.geometry.crop.height * transform.scale) / density"
        fill="none" stroke="white" stroke-width="1" style="filter: drop-shadow(0 0 1px black)"
      />
      <g v-for="(arrow, i) in arrows" :key="`arrow-${i}`" style="filter: drop-shadow(0 0 1px black)" data-testid="local-arrow">
        <line :x1="arrow.from.x" :y1="arrow.from.y" :x2="arrow.to.x" :y2="arrow.to.y" class="stroke-verdigris" stroke-width="1.4" />
        <circle :cx="arrow.to.x" :cy="arrow.to.y" r="1.8" class="fill-verdigris" />
      </g>
      <g v-for="(spot, i) in spots" :key="`spot-${i}`">
        <circle :cx="spot.x" :cy="spot.y" :r="reach(spot.missPx)" fill="none" stroke="black" stroke-width="3" stroke-opacity="0.35" />
        <circle :cx="spot.x" :cy="spot.y" :r="reach(spot.missPx)" fill="none" stroke="white" stroke-width="1.3" :stroke-dasharray="spot.missPx === null ? '2 2' : undefined" />
      </g>
      <PairMarks :pairs="marks" />
      <polygon v-if="tool === 'corners'" :points="corners.map((corner) => `${placedOnScreen(corner).x},${placedOnScreen(corner).y}`).join(' ')" fill="none" stroke="white" style="filter: drop-shadow(0 0 1px black)" />
    </svg>
    <template v-if="tool === 'corners'">
      <button
        v-for="(corner, i) in corners" :key="i" type="button" class="absolute h-4 w-4 -translate-x-1/2 -translate-y-1/2 cursor-grab rounded-sm border-2 border-white bg-verdigris"
        :style="{ left: `${placedOnScreen(corner).x}px`, top: `${placedOnScreen(corner).y}px` }" :aria-label="`Corner ${i + 1}`" @pointerdown.stop="onDown($event, i)"
      />
    </template>
    <DividerBar v-if="hasDivider" v-model="divider" />
  </div>
</template>
