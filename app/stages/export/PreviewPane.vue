<script setup lang="ts">
/** A piece of the picture at 100 %, as it is and as the file will hold it; dragged to look elsewhere. */
import { computed, onBeforeUnmount, onMounted, ref, toRef, watch, watchEffect } from 'vue';
import { formatOf } from '#codecs/deliver/formats/list.ts';
import type { Preset } from '#codecs/deliver/preset.ts';
import type { DeliveredPicture } from '#core/finish/delivered.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { sayBytes } from '../../wording.ts';
import { sayPreset } from './deliveryWords.ts';
import { useNames } from './useNames.ts';
import { usePreview } from './usePreview.ts';
import WholePane from './WholePane.vue';

const props = defineProps<{ preset: Preset; delivered: DeliveredPicture }>();
const names = useNames();
const preset = toRef(props, 'preset');
const out = computed(() => names.sizeOf(props.preset));
const at = ref({ x: 0.5, y: 0.5 });
const pane = ref<HTMLElement>();
const half = ref({ width: 0, height: 0 });
const density = window.devicePixelRatio || 1;
/** As many pixels as a half shows, if the picture has them. */
const piece = computed(() => ({
  width: Math.min(out.value.width, Math.round(half.value.width * density)),
  height: Math.min(out.value.height, Math.round(half.value.height * density)),
}));
const { shown, bytes, problem, busy } = usePreview(preset, piece, at);
const isLight = computed(() => formatOf(props.preset.file.format).samples(props.preset.file) === 'light');
const isLossy = computed(() => formatOf(props.preset.file.format).isLossy(props.preset.file));

let watching: ResizeObserver | undefined;
onMounted(() => {
  watching = new ResizeObserver(([{ contentRect }]) => {
    half.value = { width: Math.floor(isLossy.value ? (contentRect.width - 2) / 2 : contentRect.width), height: Math.floor(contentRect.height) };
  });
  if (pane.value) watching.observe(pane.value);
});
onBeforeUnmount(() => watching?.disconnect());
watch(isLossy, () => {
  if (pane.value) half.value = { width: Math.floor(isLossy.value ? (pane.value.clientWidth - 2) / 2 : pane.value.clientWidth), height: half.value.height };
});

const canvases = ref<{ plain?: HTMLCanvasElement; written?: HTMLCanvasElement }>({});
function put(canvas: HTMLCanvasElement | undefined, rgba: Uint8ClampedArray<ArrayBuffer> | undefined, { width, height }: { width: number; height: number }): void {
  if (!canvas || !rgba) return;
  canvas.width = width;
  canvas.height = height;
  canvas.getContext('2d')?.putImageData(new ImageData(rgba, width, height), 0, 0);
}
watchEffect(() => {
  if (!shown.value) return;
  put(canvases.value.plain, shown.value.plain, shown.value.size);
  put(canvases.value.written, shown.value.written, shown.value.size);
}, { flush: 'post' });

const clamp = (value: number) => Math.min(1, Math.max(0, value));
function moveBy(dx: number, dy: number): void {
  at.value = { x: clamp(at.value.x - (dx * density) / out.value.width), y: clamp(at.value.y - (dy * density) / out.value.height) };
}
function onMove(event: PointerEvent): void {
  if ((event.currentTarget as HTMLElement).hasPointerCapture(event.pointerId)) moveBy(event.movementX, event.movementY);
}
function onKey(event: KeyboardEvent): void {
  const by = { ArrowLeft: [60, 0], ArrowRight: [-60, 0], ArrowUp: [0, 60], ArrowDown: [0, -60] }[event.key];
  if (!by) return;
  event.preventDefault();
  moveBy(by[0], by[1]);
}
/** A click into the small picture looks there. */
function lookAt(event: MouseEvent): void {
  const { left, top, width, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
  at.value = { x: clamp((event.clientX - left) / width), y: clamp((event.clientY - top) / height) };
}
const whole = computed(() => ({ width: props.delivered.region.width, height: props.delivered.region.height }));
const view = { show: { what: 'result', turned: 'finished' } } as const;
const frame = computed(() => {
  const [w, h] = [Math.min(1, piece.value.width / out.value.width), Math.min(1, piece.value.height / out.value.height)];
  const edge = (middle: number, share: number) => `${100 * Math.min(1 - share, Math.max(0, middle - share / 2))}%`;
  return { left: edge(at.value.x, w), top: edge(at.value.y, h), width: `${100 * w}%`, height: `${100 * h}%` };
});
const fact = computed(() => (bytes.value === undefined ? (busy.value ? 'weighing…' : '') : `about ${sayBytes(bytes.value)}`));
</script>

<template>
  <WholePane v-if="isLight" :delivered="delivered" />
  <div v-else class="flex flex-col gap-2 p-3">
    <div class="flex items-end gap-4 text-on-surround">
      <button type="button" class="relative shrink-0 cursor-crosshair" aria-label="Where to look" title="Click where to look" @click="lookAt">
        <TileThumb :key="`${whole.width} ${whole.height}`" :size="whole" :view="view" :side="110" class="h-16" label="The picture, small" />
        <span class="pointer-events-none absolute border-2 border-verdigris shadow-[0_0_0_1px_#0008]" :style="frame" />
      </button>
      <p class="min-w-0 flex-1"><span class="font-semibold">{{ out.width }} × {{ out.height }}</span>, {{ sayPreset(preset) }}, <span role="status" aria-label="Size of the file">{{ fact }}</span></p>
    </div>
    <p v-if="problem" class="rounded bg-panel p-3" role="alert">{{ problem }}</p>
    <div
      ref="pane" class="relative flex min-h-0 flex-1 cursor-grab touch-none gap-0.5 overflow-hidden active:cursor-grabbing" tabindex="0" role="group" aria-label="The picture at 100 %, moved by a drag or arrow keys"
      @pointerdown="($event.currentTarget as HTMLElement).setPointerCapture($event.pointerId)" @pointermove="onMove" @keydown="onKey"
    >
      <figure v-for="kind in isLossy ? (['plain', 'written'] as const) : (['plain'] as const)" :key="kind" class="relative min-w-0 flex-1 overflow-hidden bg-sunken" :class="{ 'opacity-60': busy && !shown }">
        <canvas :ref="(element) => { canvases[kind] = (element as HTMLCanvasElement | null) ?? undefined; }" class="absolute left-1/2 top-1/2 -translate-x-1/2 -translate-y-1/2" :style="{ width: `${(shown?.size.width ?? 0) / density}px`, height: `${(shown?.size.height ?? 0) / density}px` }" role="img" :aria-label="kind === 'plain' ? 'As it is' : 'As the file holds it'" />
        <figcaption class="absolute left-2 top-2 rounded bg-panel/90 px-2 py-0.5 text-[12px]">{{ kind === 'plain' ? (isLossy ? 'As it is' : 'At 100 %, as the file holds it') : `As ${sayPreset(preset)} holds it` }}</figcaption>
      </figure>
    </div>
  </div>
</template>
