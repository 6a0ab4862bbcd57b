<script setup lang="ts">
/** What lies over the canvas for the open part: the handles of shapes, outlines being drawn, tones being picked, marks for channels. */
import simplify from 'simplify-js';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import type { GradientPart, OutlinePart, RadialPart } from '#core/scene/mask.ts';
import type { Size } from '#core/raster/size.ts';
import { toScene, type ViewTransform } from '../../bench/viewTransform.ts';
import { type ScenePoint, useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import { usePicking } from './usePicking.ts';

const props = defineProps<{ transform: ViewTransform; density: number; size: Size }>();
const emit = defineEmits<{ pan: [dx: number, dy: number]; wheel: [event: WheelEvent] }>();
const tools = useMaskTools();
const session = useSession();
const picking = usePicking(() => props.size);

const box = ref<HTMLElement>();
const onScreen = ({ x, y }: ScenePoint): ScenePoint => ({
  x: (x * props.transform.scale + props.transform.offsetX) / props.density,
  y: (y * props.transform.scale + props.transform.offsetY) / props.density,
});
function sceneAt(event: PointerEvent): ScenePoint {
  const { left, top } = (box.value as HTMLElement).getBoundingClientRect();
  return toScene(props.transform, { x: (event.clientX - left) * props.density, y: (event.clientY - top) * props.density });
}
const perPixel = computed(() => props.density / props.transform.scale);

const gradient = computed(() => (tools.part?.kind === 'gradient' ? tools.part : undefined));
const radial = computed(() => (tools.part?.kind === 'radial' ? tools.part : undefined));
const outline = computed(() => (tools.part?.kind === 'outline' ? tools.part : undefined));
/** So many corners are dragged one by one; a free-hand line has more. */
const MOST_HANDLES = 40;

interface Handle { name: string; label: string; at: ScenePoint; move: (to: ScenePoint, part: never) => object }
const mix = (a: ScenePoint, b: ScenePoint, t: number) => ({ x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t });

function turned({ centre, turn }: RadialPart, dx: number, dy: number): ScenePoint {
  const angle = (turn * Math.PI) / 180;
  return { x: centre.x + dx * Math.cos(angle) - dy * Math.sin(angle), y: centre.y + dx * Math.sin(angle) + dy * Math.cos(angle) };
}
const handles = computed<Handle[]>(() => {
  if (gradient.value) {
    const { start, end, middle } = gradient.value;
    const along = (to: ScenePoint, part: GradientPart) => {
      const [dx, dy] = [part.end.x - part.start.x, part.end.y - part.start.y];
      return ((to.x - part.start.x) * dx + (to.y - part.start.y) * dy) / Math.max(1, dx * dx + dy * dy);
    };
    return [
      { name: 'start', label: 'Start', at: start, move: (to) => ({ start: to }) },
      { name: 'end', label: 'End', at: end, move: (to) => ({ end: to }) },
      { name: 'middle', label: 'Midpoint', at: mix(start, end, middle), move: (to, part: GradientPart) => ({ middle: Math.min(0.95, Math.max(0.05, along(to, part))) }) },
    ];
  }
  if (radial.value) {
    const part = radial.value;
    const away = (to: ScenePoint, { centre }: RadialPart) => Math.max(1, Math.hypot(to.x - centre.x, to.y - centre.y));
    return [
      { name: 'centre', label: 'Middle', at: part.centre, move: (to) => ({ centre: to }) },
      { name: 'radiusX', label: 'First radius', at: turned(part, part.radiusX, 0), move: (to, now: RadialPart) => ({ radiusX: away(to, now), turn: (Math.atan2(to.y - now.centre.y, to.x - now.centre.x) * 180) / Math.PI }) },
      { name: 'radiusY', label: 'Second radius', at: turned(part, 0, part.radiusY), move: (to, now: RadialPart) => ({ radiusY: away(to, now) }) },
    ];
  }
  const { corners } = outline.value ?? { corners: [] };
  if (tools.tool === 'draw' || corners.length / 2 > MOST_HANDLES) return [];
  return Array.from({ length: corners.length / 2 }, (_, i) => ({
    name: `corner-${i}`, label: `Corner ${i + 1}`, at: { x: corners[2 * i], y: corners[2 * i + 1] },
    move: (to: ScenePoint, now: OutlinePart) => ({ corners: now.corners.map((value, at) => (at === 2 * i ? to.x : at === 2 * i + 1 ? to.y : value)) }),
  }));
});

const lines = computed(() => {
  if (gradient.value) return [onScreen(gradient.value.start), onScreen(gradient.value.end)];
  const points = tools.tool === 'draw' ? drawn.value : pairs(outline.value?.corners ?? []);
  return points.map(onScreen);
});
const pairs = (corners: readonly number[]): ScenePoint[] => Array.from({ length: corners.length / 2 }, (_, i) => ({ x: corners[2 * i], y: corners[2 * i + 1] }));
const ellipse = computed(() => {
  if (!radial.value) return undefined;
  const { x, y } = onScreen(radial.value.centre);
  return { x, y, rx: radial.value.radiusX / perPixel.value, ry: radial.value.radiusY / perPixel.value, turn: radial.value.turn };
});

let held: { handle: Handle } | undefined;
function pressHandle(event: PointerEvent, handle: Handle): void {
  held = { handle };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function moveHandle(event: PointerEvent): void {
  if (held && tools.part) tools.preview(held.handle.move(sceneAt(event), tools.part as never));
}
function dropHandle(): void {
  if (held) session.closeDrag();
  held = undefined;
}
function nudge(event: KeyboardEvent, handle: Handle): void {
  const by = (event.shiftKey ? 1 : 5) * perPixel.value;
  const [dx, dy] = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key] ?? [0, 0];
  if ((dx === 0 && dy === 0) || !tools.part) return;
  event.preventDefault();
  tools.commit(handle.move({ x: handle.at.x + dx, y: handle.at.y + dy }, tools.part as never));
}

/** Corners of the outline being drawn, and whether the pointer is down. */
const drawn = ref<ScenePoint[]>([]);
const isDown = ref(false);
let pans = false;
const path = ref<ScenePoint[]>([]);

function press(event: PointerEvent): void {
  pans = event.button === 1;
  if (!pans && event.button !== 0) return;
  (box.value as HTMLElement).setPointerCapture(event.pointerId);
  box.value?.focus({ preventScroll: true });
  event.preventDefault();
  isDown.value = true;
  if (pans) return;
  const at = sceneAt(event);
  if (tools.tool === 'draw' && !outline.value) path.value = [at];
  else if (tools.tool === 'draw') {
    const [first] = drawn.value;
    if (drawn.value.length >= 3 && Math.hypot(at.x - first.x, at.y - first.y) < 10 * perPixel.value) return closeOutline();
    drawn.value = [...drawn.value, at];
  } else path.value = [at];
}
function move(event: PointerEvent): void {
  if (!isDown.value) return;
  if (pans) return emit('pan', event.movementX, event.movementY);
  const at = sceneAt(event);
  if (tools.tool === 'draw' && !outline.value) return drawShape(at);
  const line = tools.tool === 'draw' ? drawn : path;
  const last = line.value.at(-1);
  if (last && Math.hypot(at.x - last.x, at.y - last.y) >= 3 * perPixel.value) line.value = [...line.value, at];
}
function release(): void {
  if (!isDown.value) return;
  isDown.value = false;
  if (pans) return;
  if (tools.tool === 'draw' && !outline.value) {
    session.closeDrag();
    path.value = [];
    tools.tool = 'brush';
    return;
  }
  if (tools.tool === 'draw') {
    // A line drawn in one go closes itself; single presses go on.
    if (drawn.value.length > 12) closeOutline();
    return;
  }
  const along = path.value;
  path.value = [];
  if (tools.tool === 'this' || tools.tool === 'notThis') tools.marks = { ...tools.marks, [tools.tool]: [...tools.marks[tools.tool], ...along] };
  else void picking.pick(along);
}
/** A gradient from where the pointer went down to where it is, an ellipse around where it went down. */
function drawShape(to: ScenePoint): void {
  const [from] = path.value;
  if (!from || Math.hypot(to.x - from.x, to.y - from.y) < 3 * perPixel.value) return;
  if (gradient.value) tools.preview({ start: from, end: to });
  else tools.preview({ centre: from, radiusX: Math.max(1, Math.abs(to.x - from.x)), radiusY: Math.max(1, Math.abs(to.y - from.y)), turn: 0 });
}
function closeOutline(): void {
  isDown.value = false;
  if (drawn.value.length >= 3) {
    const kept = simplify(drawn.value, 0.7 * perPixel.value, true).slice(0, 4000);
    tools.commit({ corners: kept.flatMap(({ x, y }) => [Math.round(x * 10) / 10, Math.round(y * 10) / 10]) });
  }
  drawn.value = [];
  tools.tool = 'brush';
}
function onKey(event: KeyboardEvent): void {
  if (event.key === 'Escape') {
    held = undefined;
    session.cancelDrag();
    if (drawn.value.length > 0) drawn.value = [];
    else tools.tool = 'brush';
    path.value = [];
    isDown.value = false;
  }
  if (event.key === 'Enter' && tools.tool === 'draw') closeOutline();
}
onMounted(() => window.addEventListener('keydown', onKey));
onBeforeUnmount(() => window.removeEventListener('keydown', onKey));

const marks = computed(() => [
  ...[tools.marks.this, tools.tool === 'this' ? path.value : []].map((line) => ({ line: line.map(onScreen), not: false })),
  ...[tools.marks.notThis, tools.tool === 'notThis' ? path.value : []].map((line) => ({ line: line.map(onScreen), not: true })),
]);
const showsMarks = computed(() => tools.part?.kind === 'tone');
const HINTS = { brush: '', in: 'Click or drag over what to include; again to widen the range. Escape ends.', out: 'Click or drag over what to exclude. Escape ends.', draw: 'Drag to draw, or click corner by corner for an outline; Enter closes it. Escape cancels.', this: 'Scribble over what you want.', notThis: 'Scribble over what you do not want.' };
</script>

<template>
  <div
    ref="box" class="absolute inset-0 overflow-hidden focus:outline-none" :class="tools.tool === 'brush' ? 'pointer-events-none' : 'cursor-crosshair touch-none'" tabindex="-1" data-testid="mask-overlay"
    @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="release" @wheel.prevent="emit('wheel', $event)"
  >
    <svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
      <g fill="none" stroke="white" stroke-width="1.2" style="filter: drop-shadow(0 0 1px black)">
        <line v-if="gradient" :x1="lines[0].x" :y1="lines[0].y" :x2="lines[1].x" :y2="lines[1].y" />
        <polygon v-else-if="lines.length > 1 && tools.tool !== 'draw'" :points="lines.map(({ x, y }) => `${x},${y}`).join(' ')" />
        <polyline v-else-if="lines.length > 0" :points="lines.map(({ x, y }) => `${x},${y}`).join(' ')" />
        <ellipse v-if="ellipse" :rx="ellipse.rx" :ry="ellipse.ry" :transform="`translate(${ellipse.x} ${ellipse.y}) rotate(${ellipse.turn})`" />
        <polyline v-if="path.length > 1 && (tools.tool === 'in' || tools.tool === 'out')" :points="path.map(onScreen).map(({ x, y }) => `${x},${y}`).join(' ')" stroke-dasharray="1 5" stroke-width="2.5" stroke-linecap="round" />
      </g>
      <template v-if="showsMarks">
        <g v-for="(mark, i) in marks" :key="i" style="filter: drop-shadow(0 0 1px black)">
          <circle v-for="(at, k) in mark.line" :key="k" :cx="at.x" :cy="at.y" r="2.6" :fill="mark.not ? 'none' : 'oklch(0.78 0.09 180)'" :stroke="mark.not ? 'white' : 'none'" />
        </g>
      </template>
    </svg>
    <button
      v-for="handle in handles" :key="handle.name" type="button" class="pointer-events-auto absolute h-3.5 w-3.5 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none border-2 border-white bg-black/50 shadow" :class="handle.name === 'middle' ? 'rotate-45' : 'rounded-full'"
      :style="{ left: `${onScreen(handle.at).x}px`, top: `${onScreen(handle.at).y}px` }" :aria-label="handle.label" :data-testid="`handle-${handle.name}`"
      @pointerdown.stop="pressHandle($event, handle)" @pointermove.stop="moveHandle" @pointerup.stop="dropHandle" @keydown="nudge($event, handle)"
    />
    <p v-if="tools.tool !== 'brush'" class="absolute left-1/2 top-3 -translate-x-1/2 rounded bg-panel/90 px-3 py-1 text-ink">{{ HINTS[tools.tool] }}</p>
  </div>
</template>
