<script setup lang="ts">
/** Frames side by side, under a sliding divider, or one after the other; zoom and place are shared. */
import { PhX } from '@phosphor-icons/vue';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import type { Size } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import { panBy, transformOf, zoomAt } from '../../bench/viewTransform.ts';
import { useFingers } from '../../bench/useFingers.ts';
import type { Viewport } from '../../stores/benchState.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import DividerBar from '../../ui/DividerBar.vue';
import { useShortcuts } from '../../useShortcuts.ts';
import FramePane from './FramePane.vue';

const props = defineProps<{ frames: readonly Frame[]; labelOf: (frame: Frame) => string }>();
const emit = defineEmits<{ close: [] }>();

const WAYS = [
  { value: 'beside', label: 'Side by side' },
  { value: 'divider', label: 'Divider' },
  { value: 'blink', label: 'Blink' },
] as const;
const SPEEDS = [
  { value: '1200', label: 'Slow' },
  { value: '500', label: 'Even' },
  { value: '180', label: 'Quick' },
] as const;
type Way = (typeof WAYS)[number]['value'];

const way = ref<Way>('beside');
const speed = ref<(typeof SPEEDS)[number]['value']>('500');
const limits = ref(false);
const viewport = ref<Viewport>({ fit: true, scale: 1, x: 0, y: 0 });
const extent = ref<Size>({ width: 1, height: 1 });
const divider = ref(0.5);
const shown = ref(0);
const dragging = ref(false);

const transform = computed(() => transformOf(viewport.value, props.frames[0], extent.value));
const density = () => window.devicePixelRatio || 1;
const columns = computed(() => (props.frames.length > 2 ? 2 : props.frames.length));

/** A point within the pane that it lies in: all panes are of one size. */
function inPane(event: MouseEvent): { x: number; y: number } {
  const pane = (event.target as HTMLElement).closest('[data-pane]') ?? (event.currentTarget as HTMLElement);
  const { left, top } = pane.getBoundingClientRect();
  return { x: (event.clientX - left) * density(), y: (event.clientY - top) * density() };
}

function onWheel(event: WheelEvent): void {
  viewport.value = zoomAt(transform.value, extent.value, inPane(event), Math.exp(-event.deltaY * 0.0018));
}

function onDown(event: PointerEvent): void {
  dragging.value = true;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}

function onMove(event: PointerEvent): void {
  if (dragging.value) viewport.value = panBy(transform.value, props.frames[0], extent.value, event.movementX * density(), event.movementY * density());
}

const panes = ref<HTMLElement>();
useFingers(panes, ({ at, factor, dx, dy }) => {
  const pane = document.elementFromPoint(at.x, at.y)?.closest('[data-pane]') ?? panes.value?.querySelector('[data-pane]') ?? panes.value;
  const { left, top } = (pane as Element).getBoundingClientRect();
  viewport.value = zoomAt(transform.value, extent.value, { x: (at.x - left) * density(), y: (at.y - top) * density() }, factor);
  viewport.value = panBy(transform.value, props.frames[0], extent.value, dx * density(), dy * density());
});

function toggleFull(): void {
  const middle = { x: extent.value.width / 2, y: extent.value.height / 2 };
  viewport.value = viewport.value.fit ? zoomAt(transform.value, extent.value, middle, 1 / transform.value.scale) : { ...viewport.value, fit: true };
}

let timer: ReturnType<typeof setInterval> | undefined;
watch([way, speed], () => {
  clearInterval(timer);
  if (way.value === 'blink') timer = setInterval(next, Number(speed.value));
}, { immediate: true });
onBeforeUnmount(() => clearInterval(timer));

function next(): void {
  shown.value = (shown.value + 1) % props.frames.length;
}

/** How a stacked pane is seen. */
function stackStyle(index: number): Record<string, string> {
  if (way.value === 'blink') return { visibility: index === shown.value ? 'visible' : 'hidden' };
  return index === 0 ? {} : { clipPath: `inset(0 0 0 ${divider.value * 100}%)` };
}
const stacked = computed(() => (way.value === 'divider' ? props.frames.slice(0, 2) : props.frames));
const ways = computed(() => WAYS.map((each) => ({ ...each, disabled: props.frames.length < 2 && each.value !== 'beside' })));

useShortcuts({ full: toggleFull, 'compare.close': () => emit('close') });
</script>

<template>
  <section class="absolute inset-0 z-20 flex flex-col bg-surround p-3" aria-label="Compare frames" role="dialog">
    <header class="mb-2 flex shrink-0 items-center gap-3 rounded bg-panel px-2 py-1.5">
      <ChoiceRow label="Way to compare" :value="way" :choices="ways" @choose="way = $event" />
      <ChoiceRow v-if="way === 'blink'" label="Speed" :value="speed" :choices="SPEEDS" @choose="speed = $event" />
      <label class="flex items-center gap-1.5"><input v-model="limits" type="checkbox" class="accent-verdigris" /> Limits hatched</label>
      <span class="text-soft">{{ way === 'blink' ? labelOf(frames[shown]) : way === 'divider' ? `${labelOf(frames[0])} left, ${labelOf(frames[1])} right` : '' }}</span>
      <button type="button" class="btn ml-auto h-7" @click="toggleFull">{{ viewport.fit ? '100 %' : 'Fitted' }}</button>
      <span class="w-14 text-right text-soft">{{ Math.round(transform.scale * 100) }} %</span>
      <button type="button" class="btn h-7" title="Back to the contact sheet (Escape)" @click="emit('close')"><PhX :size="14" /> Close</button>
    </header>
    <div
      v-if="way === 'beside'" ref="panes" class="grid touch-none min-h-0 flex-1 cursor-grab auto-rows-fr gap-2" :style="{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }"
      @wheel.prevent="onWheel" @pointerdown="onDown" @pointermove="onMove" @pointerup="dragging = false" @pointercancel="dragging = false"
    >
      <FramePane
        v-for="(frame, index) in frames" :key="frame.id" data-pane :frame="frame" :label="labelOf(frame)" :viewport="viewport" :limits="limits" :bare="false"
        @extent="index === 0 && (extent = $event)"
      />
    </div>
    <div
      v-else ref="panes" class="relative min-h-0 flex-1 cursor-grab touch-none" data-pane
      @wheel.prevent="onWheel" @pointerdown="onDown" @pointermove="onMove" @pointerup="dragging = false" @pointercancel="dragging = false"
    >
      <div v-for="(frame, index) in stacked" :key="frame.id" class="absolute inset-0 grid" :style="stackStyle(index)">
        <FramePane :frame="frame" :label="labelOf(frame)" :viewport="viewport" :limits="limits" bare @extent="index === 0 && (extent = $event)" />
      </div>
      <DividerBar v-if="way === 'divider'" v-model="divider" />
    </div>
  </section>
</template>
