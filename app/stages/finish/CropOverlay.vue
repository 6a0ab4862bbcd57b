<script setup lang="ts">
/** The part that is delivered, on the turned picture: outside dimmed, guides inside, and lines that are drawn to turn it by. */
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { liesWithin, movedWithin } from '#core/finish/cropWithin.ts';
import { tableFrom } from '#core/finish/turning.ts';
import { straightenBy } from '#core/finish/uprights.ts';
import type { Region, Size } from '#core/raster/size.ts';
import type { PictureMap } from '../../bench/pictureMap.ts';
import { type Point, toScene, type ViewTransform } from '../../bench/viewTransform.ts';
import { useFinish } from '../../stores/finish.ts';
import { useSession } from '../../stores/session.ts';
import { guideLines } from './guideLines.ts';
import { useTurning } from './useTurning.ts';

const props = defineProps<{ transform: ViewTransform; density: number; size: Size; map: PictureMap }>();
const emit = defineEmits<{ pan: [dx: number, dy: number]; wheel: [event: WheelEvent] }>();
const session = useSession();
const finish = useFinish();
const { geometry, part, ratio: kept, corners, turn, crop } = useTurning();

const box = ref<HTMLElement>();
const margin = computed(() => tableFrom(geometry.value, props.size).margin);
/** From the canvas that crops are counted on to the screen, and back. */
const onScreen = ({ x, y }: Point): Point => ({
  x: ((x + margin.value) * props.transform.scale + props.transform.offsetX) / props.density,
  y: ((y + margin.value) * props.transform.scale + props.transform.offsetY) / props.density,
});
function onTable(event: { clientX: number; clientY: number }): Point {
  const { left, top } = (box.value as HTMLElement).getBoundingClientRect();
  return toScene(props.transform, { x: (event.clientX - left) * props.density, y: (event.clientY - top) * props.density });
}
const onCanvas = (event: { clientX: number; clientY: number }): Point => {
  const { x, y } = onTable(event);
  return { x: x - margin.value, y: y - margin.value };
};
const frame = computed(() => {
  const { x, y, width, height } = part.value;
  const [a, b] = [onScreen({ x, y }), onScreen({ x: x + width, y: y + height })];
  return { x: a.x, y: a.y, width: b.x - a.x, height: b.y - a.y };
});
const guides = computed(() => guideLines(finish.guide, frame.value));

/** Sides that a handle moves: of the frame's left, right, top and bottom. */
const HANDLES = [
  { name: 'upper left', x: 0, y: 0 },
  { name: 'upper', x: 0.5, y: 0 },
  { name: 'upper right', x: 1, y: 0 },
  { name: 'right', x: 1, y: 0.5 },
  { name: 'lower right', x: 1, y: 1 },
  { name: 'lower', x: 0.5, y: 1 },
  { name: 'lower left', x: 0, y: 1 },
  { name: 'left', x: 0, y: 0.5 },
] as const;
type Grip = (typeof HANDLES)[number];
let held: { grip: Grip | 'all'; from: Point; before: Region } | undefined;
const LEAST = 16;

function press(event: PointerEvent, grip: Grip | 'all'): void {
  if (event.button !== 0 || session.readOnly) return;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  held = { grip, from: onCanvas(event), before: part.value };
}
function move(event: PointerEvent): void {
  if (!held) return;
  const to = onCanvas(event);
  const next = changed(held.grip, held.before, to.x - held.from.x, to.y - held.from.y);
  if (next) crop(next, 'crop');
}
function drop(): void {
  if (held) session.closeDrag();
  held = undefined;
}
/** A crop with its frame, or a side of it, moved; it stays within what is covered, and keeps its ratio. */
function changed(grip: Grip | 'all', before: Region, dx: number, dy: number): Region | undefined {
  if (grip === 'all') return movedWithin({ ...before, x: Math.round(before.x + dx), y: Math.round(before.y + dy) }, corners.value);
  let [left, top, right, bottom] = [before.x, before.y, before.x + before.width, before.y + before.height];
  if (grip.x === 0) left = Math.min(right - LEAST, left + dx);
  if (grip.x === 1) right = Math.max(left + LEAST, right + dx);
  if (grip.y === 0) top = Math.min(bottom - LEAST, top + dy);
  if (grip.y === 1) bottom = Math.max(top + LEAST, bottom + dy);
  const ratio = kept.value;
  if (ratio !== null) {
    // The side that was moved farther decides; the other follows from the opposite corner, or from the middle.
    const width = grip.x === 0.5 ? (bottom - top) * ratio : right - left;
    const height = width / ratio;
    if (grip.x === 0.5) [left, right] = [(left + right) / 2 - width / 2, (left + right) / 2 + width / 2];
    if (grip.y === 0.5) [top, bottom] = [(top + bottom) / 2 - height / 2, (top + bottom) / 2 + height / 2];
    else if (grip.y === 0) top = bottom - height;
    else bottom = top + height;
  }
  const next = { x: Math.round(left), y: Math.round(top), width: Math.round(right - left), height: Math.round(bottom - top) };
  return liesWithin(next, corners.value) ? next : movedWithin(next, corners.value);
}
function nudge(event: KeyboardEvent, grip: Grip | 'all'): void {
  const by = event.shiftKey ? 1 : 10;
  const [dx, dy] = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key] ?? [0, 0];
  if (dx === 0 && dy === 0) return;
  event.preventDefault();
  const next = changed(grip, part.value, dx, dy);
  if (next) crop(next);
}

/** A line that is being drawn, on the table. */
const line = ref<{ from: Point; to: Point }>();
let pans = false;
const isDown = ref(false);
const inScene = (at: Point): Point => props.map.toScene(at);
function begin(event: PointerEvent): void {
  pans = event.button === 1 || finish.drawing === 'none';
  if (event.button > 1) return;
  isDown.value = true;
  (box.value as HTMLElement).setPointerCapture(event.pointerId);
  event.preventDefault();
  if (!pans) line.value = { from: onTable(event), to: onTable(event) };
}
function draw(event: PointerEvent): void {
  if (!isDown.value) return;
  if (pans) emit('pan', event.movementX, event.movementY);
  else if (line.value) line.value = { ...line.value, to: onTable(event) };
}
function end(): void {
  isDown.value = false;
  const drawn = line.value;
  line.value = undefined;
  const least = (12 * props.density) / props.transform.scale;
  if (!drawn || Math.hypot(drawn.to.x - drawn.from.x, drawn.to.y - drawn.from.y) < least) return;
  if (finish.drawing === 'straighten') {
    // As it lies now: by so much more.
    const more = straightenBy(drawn) + geometry.value.straighten;
    turn({ straighten: Math.max(-45, Math.min(45, Math.round(more * 100) / 100)) });
    finish.drawing = 'none';
  } else if (finish.drawing !== 'none') {
    finish.lines = [...finish.lines, { along: finish.drawing, from: inScene(drawn.from), to: inScene(drawn.to) }];
  }
}
function lift(): void {
  isDown.value = false;
  line.value = undefined;
}
function onKey(event: KeyboardEvent): void {
  if (event.key !== 'Escape') return;
  held = undefined;
  lift();
  session.cancelDrag();
  finish.drawing = 'none';
}
onMounted(() => window.addEventListener('keydown', onKey));
onBeforeUnmount(() => window.removeEventListener('keydown', onKey));

const ofTable = ({ x, y }: Point): Point => ({ x: (x * props.transform.scale + props.transform.offsetX) / props.density, y: (y * props.transform.scale + props.transform.offsetY) / props.density });
const lines = computed(() => [
  ...finish.lines.map(({ from, to, along }) => ({ a: ofTable(props.map.fromScene(from)), b: ofTable(props.map.fromScene(to)), along })),
  ...(line.value ? [{ a: ofTable(line.value.from), b: ofTable(line.value.to), along: 'drawn' }] : []),
]);
const HINTS = { straighten: 'Drag along a horizon, a waterline or a wall. Escape ends.', upright: 'Drag along things that stand upright, two of them for perspective. Then Put right.', level: 'Drag along things that run level, two of them for perspective. Then Put right.', none: '' };
</script>

<template>
  <div
    ref="box" class="absolute inset-0 overflow-clip" :class="finish.drawing === 'none' ? 'cursor-grab' : 'cursor-crosshair touch-none'" data-testid="crop-overlay"
    @pointerdown="begin" @pointermove="draw" @pointerup="end" @pointercancel="lift" @wheel.prevent="emit('wheel', $event)"
  >
    <svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
      <path :d="`M-9 -9H9999V9999H-9Z M${frame.x} ${frame.y}v${frame.height}h${frame.width}v${-frame.height}Z`" fill="var(--color-surround)" fill-opacity="0.78" fill-rule="evenodd" />
      <g fill="none" stroke="white" stroke-opacity="0.55" stroke-width="0.8" style="filter: drop-shadow(0 0 0.5px black)"><line v-for="(each, i) in guides" :key="i" v-bind="each" /></g>
      <rect v-bind="frame" fill="none" stroke="white" stroke-width="1" />
      <g v-for="(each, i) in lines" :key="`l${i}`" style="filter: drop-shadow(0 0 1px black)">
        <line :x1="each.a.x" :y1="each.a.y" :x2="each.b.x" :y2="each.b.y" stroke="oklch(0.78 0.09 180)" stroke-width="1.6" />
        <circle v-for="tip in [each.a, each.b]" :key="tip.x" :cx="tip.x" :cy="tip.y" r="2.5" fill="white" />
      </g>
    </svg>
    <template v-if="finish.drawing === 'none'">
      <button
        type="button" class="absolute cursor-move touch-none border-0 bg-transparent" :style="{ left: `${frame.x}px`, top: `${frame.y}px`, width: `${frame.width}px`, height: `${frame.height}px` }" aria-label="The crop: move it" data-testid="crop-frame"
        @pointerdown.stop="press($event, 'all')" @pointermove="move" @pointerup="drop" @pointercancel="drop" @keydown="nudge($event, 'all')" @dblclick="crop(null)"
      />
      <button
        v-for="grip in HANDLES" :key="grip.name" type="button" class="absolute -translate-x-1/2 -translate-y-1/2 touch-none rounded-sm bg-verdigris shadow-[0_0_0_1px_#0008]" :class="grip.x === 0.5 ? 'h-1.5 w-6 cursor-ns-resize' : grip.y === 0.5 ? 'h-6 w-1.5 cursor-ew-resize' : 'h-3 w-3 cursor-crosshair'"
        :style="{ left: `${frame.x + grip.x * frame.width}px`, top: `${frame.y + grip.y * frame.height}px` }" :aria-label="`Crop: ${grip.name}`" :data-testid="`crop-${grip.name.replace(' ', '-')}`"
        @pointerdown.stop="press($event, grip)" @pointermove.stop="move" @pointerup.stop="drop" @pointercancel.stop="drop" @keydown="nudge($event, grip)"
      />
    </template>
    <p v-else class="pointer-events-none absolute left-1/2 top-3 -translate-x-1/2 rounded bg-panel/90 px-3 py-1 text-ink">{{ HINTS[finish.drawing] }}</p>
  </div>
</template>
