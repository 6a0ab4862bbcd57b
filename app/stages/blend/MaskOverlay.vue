<script setup lang="ts">
/** What lies over the canvas for the open part: its shape and handles, what is being drawn, and marks for channels. */
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import type { Size } from '#core/raster/size.ts';
import PairMarks from '../../bench/PairMarks.vue';
import { type PictureMap, SCENE_ITSELF } from '../../bench/pictureMap.ts';
import { toScene, type ViewTransform } from '../../bench/viewTransform.ts';
import { type ScenePoint, useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import type { Handle } from './tools/canvasTool.ts';
import { usePartTools } from './tools/usePartTools.ts';
import { usePicking } from './usePicking.ts';

const props = defineProps<{ transform: ViewTransform; density: number; size: Size; map?: PictureMap }>();
const emit = defineEmits<{ pan: [dx: number, dy: number]; wheel: [event: WheelEvent] }>();
const tools = useMaskTools();
const session = useSession();
const picking = usePicking(() => props.size);

const box = ref<HTMLElement>();
const map = computed(() => props.map ?? SCENE_ITSELF);
const onScreen = (at: ScenePoint): ScenePoint => {
  const { x, y } = map.value.fromScene(at);
  return { x: (x * props.transform.scale + props.transform.offsetX) / props.density, y: (y * props.transform.scale + props.transform.offsetY) / props.density };
};
function sceneAt(event: PointerEvent): ScenePoint {
  const { left, top } = (box.value as HTMLElement).getBoundingClientRect();
  return map.value.toScene(toScene(props.transform, { x: (event.clientX - left) * props.density, y: (event.clientY - top) * props.density }));
}
const perPixel = computed(() => props.density / props.transform.scale / map.value.scaleAt({ x: props.size.width / 2, y: props.size.height / 2 }));
const { tool, handles, drawing, preview, commit } = usePartTools(() => perPixel.value, (path) => void picking.pick(path));

const textOf = (points: readonly ScenePoint[]) => points.map(onScreen).map(({ x, y }) => `${x},${y}`).join(' ');
const line = computed(() => drawing.value.line?.map(onScreen));
const ellipse = computed(() => {
  const { ellipse: shape } = drawing.value;
  return shape && { ...onScreen(shape.centre), rx: shape.radiusX / perPixel.value, ry: shape.radiusY / perPixel.value, turn: shape.turn };
});
const pairs = computed(() => (drawing.value.pairs ?? []).map(({ base, frame }) => ({ base: onScreen(base), frame: frame && onScreen(frame) })));
const isPicking = computed(() => tools.tool === 'in' || tools.tool === 'out');
const isMarking = computed(() => tools.tool === 'this' || tools.tool === 'notThis');

/** The handle that is dragged, by name: a part's handles are others with every step. */
let held: string | undefined;
function pressHandle(event: PointerEvent, handle: Handle): void {
  held = handle.name;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function moveHandle(event: PointerEvent): void {
  const handle = handles.value.find(({ name }) => name === held);
  if (handle) preview(handle.move(sceneAt(event)));
}
function dropHandle(): void {
  if (held) session.closeDrag();
  held = undefined;
}
function liftHandle(): void {
  held = undefined;
  session.cancelDrag();
}
function nudge(event: KeyboardEvent, handle: Handle): void {
  const by = (event.shiftKey ? 1 : 5) * perPixel.value;
  const [dx, dy] = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key] ?? [0, 0];
  if (dx === 0 && dy === 0) return;
  event.preventDefault();
  commit(handle.move({ x: handle.at.x + dx, y: handle.at.y + dy }));
}

const isDown = ref(false);
let pans = false;
function press(event: PointerEvent): void {
  pans = event.button === 1;
  if (!pans && event.button !== 0) return;
  (box.value as HTMLElement).setPointerCapture(event.pointerId);
  box.value?.focus({ preventScroll: true });
  event.preventDefault();
  isDown.value = true;
  if (!pans) tool.value?.press(sceneAt(event));
}
function move(event: PointerEvent): void {
  if (!isDown.value) return;
  if (pans) emit('pan', event.movementX, event.movementY);
  else tool.value?.move(sceneAt(event));
}
function release(): void {
  if (!isDown.value) return;
  isDown.value = false;
  if (!pans) tool.value?.release();
}
function lift(): void {
  if (!isDown.value) return;
  isDown.value = false;
  session.cancelDrag();
  tool.value?.lift();
}
function onKey(event: KeyboardEvent): void {
  if (event.key === 'Escape') {
    held = undefined;
    isDown.value = false;
    session.cancelDrag();
    if (!tool.value?.cancel()) tools.tool = 'brush';
  }
  if (event.key === 'Enter') tool.value?.close?.();
}
onMounted(() => window.addEventListener('keydown', onKey));
onBeforeUnmount(() => window.removeEventListener('keydown', onKey));

const marks = computed(() =>
  (['this', 'notThis'] as const).map((which) => ({
    not: which === 'notThis',
    line: [...tools.marks[which], ...(tools.tool === which ? (tool.value?.path ?? []) : [])].map(onScreen),
  })),
);
const showsMarks = computed(() => tools.part?.kind === 'tone');
</script>

<template>
  <div
    ref="box" class="absolute inset-0 overflow-clip focus:outline-none" :class="tools.tool === 'brush' ? 'pointer-events-none' : 'cursor-crosshair touch-none'" tabindex="-1" data-testid="mask-overlay"
    @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="lift" @wheel.prevent="emit('wheel', $event)"
  >
    <svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
      <g fill="none" stroke="white" stroke-width="1.2" style="filter: drop-shadow(0 0 1px black)">
        <line v-if="line" :x1="line[0].x" :y1="line[0].y" :x2="line[1].x" :y2="line[1].y" />
        <polygon v-if="drawing.polygon" :points="textOf(drawing.polygon)" />
        <ellipse v-if="ellipse" :rx="ellipse.rx" :ry="ellipse.ry" :transform="`translate(${ellipse.x} ${ellipse.y}) rotate(${ellipse.turn})`" />
        <polyline v-if="tool && tool.path.length > 0 && !isMarking" :points="textOf(tool.path)" v-bind="isPicking ? { 'stroke-dasharray': '1 5', 'stroke-width': 2.5, 'stroke-linecap': 'round' } : {}" />
      </g>
      <PairMarks :pairs="pairs" />
      <template v-if="showsMarks">
        <g v-for="(mark, i) in marks" :key="i" style="filter: drop-shadow(0 0 1px black)">
          <circle v-for="(at, k) in mark.line" :key="k" :cx="at.x" :cy="at.y" r="2.6" :fill="mark.not ? 'none' : 'oklch(0.78 0.09 180)'" :stroke="mark.not ? 'white' : 'none'" />
        </g>
      </template>
    </svg>
    <button
      v-for="handle in handles" :key="handle.name" type="button" class="pointer-events-auto absolute h-3.5 w-3.5 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none border-2 border-white bg-black/50 shadow" :class="handle.name === 'middle' ? 'rotate-45' : 'rounded-full'"
      :style="{ left: `${onScreen(handle.at).x}px`, top: `${onScreen(handle.at).y}px` }" :aria-label="handle.label" :data-testid="`handle-${handle.name}`"
      @pointerdown.stop="pressHandle($event, handle)" @pointermove.stop="moveHandle" @pointerup.stop="dropHandle" @pointercancel.stop="liftHandle" @keydown="nudge($event, handle)"
    />
    <p v-if="tool" class="absolute left-1/2 top-3 -translate-x-1/2 rounded bg-panel/90 px-3 py-1 text-ink">{{ tool.hint }}</p>
  </div>
</template>
