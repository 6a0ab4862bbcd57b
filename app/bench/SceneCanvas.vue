<script setup lang="ts">
/** The picture on its canvas: draws a view of the scene, zooms, pans, and hands pointer strokes to the brush. */
import { useResizeObserver } from './useResizeObserver.ts';
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, toRaw, watch } from 'vue';
import type { Region, Size } from '#core/raster/size.ts';
import type { PartId, StrokeId } from '#core/ids.ts';
import type { Recipe } from '#core/scene/mask.ts';
import { type MaskPlace, maskAt } from '#core/scene/places.ts';
import type { Stroke, Touch } from '#core/masks/stroke.ts';
import { EngineError } from '#engine/engineError.ts';
import { Lane } from '#engine/lanes.ts';
import type { View } from '#engine/protocol.ts';
import { useBench } from '../stores/bench.ts';
import type { Viewport } from '../stores/benchState.ts';
import { useEngine } from '../stores/engine.ts';
import { useFrames } from '../stores/frames.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import BrushCursor from './BrushCursor.vue';
import { BrushTool, brushIn } from './brushTool.ts';
import { CanvasDriver } from './canvasDriver.ts';
import { canvasSpaceOf } from '../drawing/canvasSpace.ts';
import type { Grip } from './fingers.ts';
import { type PictureMap, SCENE_ITSELF } from './pictureMap.ts';
import { usePointer } from './usePointer.ts';
import { panBy, toScene, transformOf, zoomAt } from './viewTransform.ts';

const props = defineProps<{
  size: Size;
  view: View;
  /** The mask that the brush paints on, when it may paint. */
  paint?: MaskPlace & { part?: PartId };
  /** What a stroke that begins now is painted through. */
  through?: () => Recipe | null;
  /** What the stencil lets through under the pointer, 0..1; undefined without one. */
  held?: number;
  /** Where it stands, when it does not follow the bench. */
  viewport?: Viewport;
  /** How far beyond a stroke the picture changes, in scene pixels. */
  spread?: number;
  /** What is painted is turned round before it counts. */
  turned?: boolean;
  /** The lane of what it asks for, when another canvas asks in the usual one. */
  lane?: Lane;
  /** How scene places lie in what it shows, where that is not the scene itself. */
  map?: PictureMap;
  /** It lies over another and takes no part in what the pointer does. */
  still?: boolean;
}>();
const emit = defineEmits<{ hover: [point: { x: number; y: number } | undefined, shown?: { x: number; y: number }]; stroke: [] }>();
const map = computed(() => props.map ?? SCENE_ITSELF);

const bench = useBench();
const session = useSession();
const engines = useEngine();
const frames = useFrames();
const notices = useNotices();

const box = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const driver = shallowRef<CanvasDriver>();
/** Canvas size in device pixels. */
const extent = ref<Size>({ width: 1, height: 1 });
const density = ref(1);
const pointer = ref<{ x: number; y: number }>();

const transform = computed(() => transformOf(props.viewport ?? bench.state.viewport, props.size, extent.value));

/** What the stroke in progress is painted through, and which it takes the place of. */
let recipe: Recipe | null = null;
let replaced: StrokeId | undefined;
const madeOf = (stroke: Stroke) => ({ ...toRaw(props.paint as MaskPlace), stroke, through: recipe, replaces: replaced });

/** The strokes of the part that is painted on. */
function paintedStrokes(): readonly Touch[] {
  const mask = props.paint && maskAt(session.scene, props.paint);
  const part = mask?.parts.find(({ id }) => id === props.paint?.part);
  return part?.kind === 'painted' ? part.strokes : [];
}

const brush = new BrushTool({
  isLast: (stroke) => paintedStrokes().at(-1)?.id === stroke.id,
  isThroughSame: () => {
    const { stencil } = paintedStrokes().at(-1) ?? {};
    return JSON.stringify(stencil ? session.scene.recipes[stencil] : null) === JSON.stringify(props.through?.() ?? null);
  },
  begin: (stroke, replaces) => {
    recipe = props.through?.() ?? null;
    replaced = replaces;
    session.beginStroke(madeOf(stroke));
    emit('stroke');
  },
  extend: (stroke, points, region) => {
    engines.running?.engine.addStrokePoints(stroke.id, points);
    session.extendStroke(points);
    driver.value?.invalidate(map.value.regionFrom(grown(region)));
  },
  finish: (stroke, points) => void session.finishStroke(madeOf(stroke), points),
  cancel: (_stroke, region) => {
    session.cancelStroke();
    driver.value?.invalidate(map.value.regionFrom(grown(region)));
  },
});

function grown({ x, y, width, height }: Region): Region {
  const by = (props.spread ?? 0) + 4;
  return { x: x - by, y: y - by, width: width + 2 * by, height: height + 2 * by };
}

const { mode, onPointerDown, onPointerMove, onPointerRawUpdate, onPointerUp, onPointerCancel, onPointerLeave, onKey } = usePointer({
  toScene: (event) => map.value.toScene(toScene(transform.value, devicePoint(event))),
  canPaint: () => props.paint !== undefined && !bench.before && !session.readOnly,
  brush,
  press: (point, straight, hand) => brush.press(brushIn(hand, bench.state.brush), point, straight, { keepsTo: session.scene.base, isTurned: props.turned }),
  speedAsPen: () => bench.state.brush.speedAsPen,
  pan,
  hover: (event) => {
    pointer.value = event && { x: event.offsetX, y: event.offsetY };
    const point = event && toScene(transform.value, devicePoint(event));
    driver.value?.setFocus(point);
    emit('hover', point && map.value.toScene(point), point);
  },
});

/** Moves the view by CSS pixels. */
function pan(dx: number, dy: number): void {
  bench.state.viewport = panBy(transform.value, props.size, extent.value, dx * density.value, dy * density.value);
}

function devicePoint(event: { offsetX: number; offsetY: number }) {
  return { x: event.offsetX * density.value, y: event.offsetY * density.value };
}

function onWheel(event: WheelEvent): void {
  const factor = Math.exp(-event.deltaY * (event.deltaMode === 1 ? 0.06 : 0.0018));
  bench.state.viewport = zoomAt(transform.value, extent.value, devicePoint(event), factor);
}

/** Two fingers moved. */
function gripped({ at, factor, dx, dy }: Grip): void {
  const { left, top } = (canvas.value as HTMLCanvasElement).getBoundingClientRect();
  bench.state.viewport = zoomAt(transform.value, extent.value, devicePoint({ offsetX: at.x - left, offsetY: at.y - top }), factor);
  pan(dx, dy);
}

/** Fitted, or one screen pixel for each of the picture, keeping the pointer's place. */
function toggleFull(): void {
  const now = transform.value;
  const at = pointer.value ? devicePoint({ offsetX: pointer.value.x, offsetY: pointer.value.y }) : { x: extent.value.width / 2, y: extent.value.height / 2 };
  bench.state.viewport = bench.state.viewport.fit || now.scale !== 1 ? zoomAt(now, extent.value, at, 1 / now.scale) : { ...bench.state.viewport, fit: true };
}

defineExpose({ toggleFull, gripped, scale: computed(() => transform.value.scale), transform, density, onWheel, pan });

/** While frames come in or are asked for, some are missing; the picture is drawn anew when they are there. */
function onDrawError(error: Error): void {
  if (frames.isIncomplete() && error instanceof EngineError && error.code === 'frame-missing') return;
  notices.tellError(error);
}

function resize(): void {
  if (!box.value || !canvas.value) return;
  density.value = window.devicePixelRatio || 1;
  const width = Math.max(1, Math.round(box.value.clientWidth * density.value));
  const height = Math.max(1, Math.round(box.value.clientHeight * density.value));
  canvas.value.width = width;
  canvas.value.height = height;
  extent.value = { width, height };
  driver.value?.repaint();
}
useResizeObserver(box, resize);

onMounted(() => {
  for (const kind of ['keydown', 'keyup'] as const) for (const heed of [onKey, onShift]) window.addEventListener(kind, heed);
});
onBeforeUnmount(() => {
  for (const kind of ['keydown', 'keyup'] as const) for (const heed of [onKey, onShift]) window.removeEventListener(kind, heed);
});

onMounted(async () => {
  resize();
  const { engine } = await engines.start();
  if (!canvas.value) return;
  const made = new CanvasDriver(canvas.value, engine, props.size, canvasSpaceOf(session.scene.workingSpace), onDrawError, props.lane ?? Lane.View);
  made.setTransform(transform.value);
  made.setView(props.view);
  driver.value = made;
});
onBeforeUnmount(() => driver.value?.close());

watch(transform, (now) => driver.value?.setTransform(now), { flush: 'sync' });
watch(() => props.view, (view) => driver.value?.setView(view));
watch(() => [session.scene, frames.arrivals], () => driver.value?.invalidate());

/** From where to where a straight line would run, in CSS pixels, while its key is held. */
const isShiftHeld = ref(false);
const run = computed(() => {
  const at = pointer.value;
  const from = isShiftHeld.value && at && props.paint && session.scene && brush.runsFrom;
  if (!at || !from) return undefined;
  const { scale, offsetX, offsetY } = transform.value;
  const start = map.value.fromScene(from);
  return { x1: (start.x * scale + offsetX) / density.value, y1: (start.y * scale + offsetY) / density.value, x2: at.x, y2: at.y };
});
/** Pixels of what is shown for one of the scene, where the pointer is. */
const wide = computed(() => (pointer.value && props.map ? map.value.scaleAt(map.value.toScene(toScene(transform.value, devicePoint({ offsetX: pointer.value.x, offsetY: pointer.value.y })))) : 1));
const onShift = (event: KeyboardEvent) => { isShiftHeld.value = event.shiftKey; };

const cursor = computed(() => (mode.value === 'pan' ? 'grabbing' : mode.value === 'ready-to-pan' ? 'grab' : props.paint && !bench.before ? 'none' : 'default'));
</script>

<template>
  <div
    ref="box" class="relative h-full w-full overflow-clip focus-visible:outline-1 focus-visible:-outline-offset-2" :tabindex="still ? -1 : 0" :data-skip="still ? undefined : 'Picture'" :role="still ? 'img' : 'application'" :aria-label="still ? 'The frame' : 'Picture'"
  >
    <canvas
      ref="canvas" class="block h-full w-full touch-none" :data-testid="still ? 'canvas-over' : 'canvas'" :style="{ cursor }"
      @pointerdown="onPointerDown" @pointermove="onPointerMove" @pointerrawupdate="onPointerRawUpdate" @pointerup="onPointerUp" @pointercancel="onPointerCancel"
      @pointerleave="onPointerLeave" @wheel.prevent="onWheel" @contextmenu.prevent
    />
    <svg v-if="run" class="pointer-events-none absolute left-0 top-0 h-full w-full overflow-visible" aria-hidden="true" data-testid="straight-run">
      <line v-bind="run" stroke="#0009" stroke-width="3" />
      <line v-bind="run" stroke="#fff" stroke-width="1" stroke-dasharray="6 4" />
    </svg>
    <BrushCursor
      v-if="pointer && paint && !bench.before && mode !== 'pan' && mode !== 'ready-to-pan'"
      :x="pointer.x" :y="pointer.y" :diameter="bench.state.brush.size * wide * transform.scale / density"
      :hardness="bench.state.brush.hardness" :effect="bench.state.brush.effect" :held="held"
    />
  </div>
</template>
