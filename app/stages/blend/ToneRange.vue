<script setup lang="ts">
/** The range of tones over its source's histogram: two ends with soft shoulders, and the coverage as a curve. */
import { computed, ref, watch } from 'vue';
import { toneCoverage } from '#core/masks/toneCurve.ts';
import type { Size } from '#core/raster/size.ts';
import type { ItemId } from '#core/ids.ts';
import type { TonePart, ToneSettings } from '#core/parts/tone.ts';
import { useToneHistogram } from './useToneHistogram.ts';

const props = defineProps<{ seenFrom: ItemId; size: Size; tone: TonePart }>();
const emit = defineEmits<{ preview: [settings: Partial<ToneSettings>]; commit: [settings: Partial<ToneSettings>]; cancel: [] }>();

const WIDTH = 256;
const HEIGHT = 58;

const bars = useToneHistogram(props, HEIGHT);
const curve = computed(() => Array.from({ length: 129 }, (_, i) => `${i === 0 ? 'M' : 'L'}${i * 2} ${(HEIGHT - toneCoverage(props.tone, i / 128) * (HEIGHT - 4)).toFixed(1)}`).join(''));

type Handle = 'from' | 'to' | 'fromShoulder' | 'toShoulder';
const handles = computed<{ name: Handle; label: string; at: number; top: boolean }[]>(() => [
  { name: 'fromShoulder', label: 'Dark shoulder', at: props.tone.from - props.tone.fromShoulder, top: false },
  { name: 'from', label: 'Range from', at: props.tone.from, top: true },
  { name: 'to', label: 'Range to', at: props.tone.to, top: true },
  { name: 'toShoulder', label: 'Light shoulder', at: props.tone.to + props.tone.toShoulder, top: false },
]);

function settingsAt(name: Handle, at: number): Partial<ToneSettings> {
  const { from, to } = props.tone;
  const tone = Math.min(1, Math.max(0, at));
  if (name === 'from') return { from: Math.min(tone, to) };
  if (name === 'to') return { to: Math.max(tone, from) };
  return name === 'fromShoulder' ? { fromShoulder: Math.max(0, from - at) } : { toShoulder: Math.max(0, at - to) };
}

const svg = ref<SVGSVGElement>();
const dragged = ref<Handle>();
const toneAt = (event: PointerEvent) => {
  const { left, width } = (svg.value as SVGSVGElement).getBoundingClientRect();
  // The drawing has a margin on both sides, where shoulders may reach beyond the ends.
  return ((event.clientX - left) / width * (WIDTH + 24) - 12) / WIDTH;
};

function press(event: PointerEvent, name: Handle): void {
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  dragged.value = name;
}
function move(event: PointerEvent): void {
  if (dragged.value) emit('preview', settingsAt(dragged.value, Math.round(toneAt(event) * 1000) / 1000));
}
function release(event: PointerEvent): void {
  if (dragged.value) emit('commit', settingsAt(dragged.value, Math.round(toneAt(event) * 1000) / 1000));
  dragged.value = undefined;
}
function step(event: KeyboardEvent, name: Handle, at: number): void {
  const by = event.key === 'ArrowLeft' ? -0.01 : event.key === 'ArrowRight' ? 0.01 : 0;
  if (by === 0) return;
  event.preventDefault();
  emit('commit', settingsAt(name, Math.round((at + by) * 1000) / 1000));
}
watch(() => props.seenFrom, () => { dragged.value = undefined; });
const x = (at: number) => Math.min(WIDTH + 9, Math.max(-9, at * WIDTH));
</script>

<template>
  <svg ref="svg" class="w-full touch-none" :viewBox="`-12 -14 ${WIDTH + 24} ${HEIGHT + 40}`" aria-label="Selected tones" role="group" @keydown.esc="dragged = undefined; emit('cancel')">
    <rect x="0" y="0" :width="WIDTH" :height="HEIGHT" fill="var(--sunken)" />
    <path :d="bars" fill="var(--ink-soft)" opacity="0.55" />
    <path :d="curve" fill="none" stroke="oklch(0.78 0.09 180)" stroke-width="2" vector-effect="non-scaling-stroke" />
    <g v-for="handle in handles" :key="handle.name">
      <line v-if="handle.top" :x1="x(handle.at)" :x2="x(handle.at)" y1="-2" :y2="HEIGHT" stroke="var(--ink)" stroke-width="1" />
      <path
        :d="handle.top ? 'M-5 -11h10v6l-5 5l-5 -5z' : 'M0 0l5 10h-10z'" :transform="`translate(${x(handle.at)} ${handle.top ? 0 : HEIGHT + 2})`"
        :fill="dragged === handle.name ? 'oklch(0.78 0.09 180)' : 'var(--ink)'" stroke="var(--panel)" class="cursor-ew-resize" tabindex="0" role="slider"
        :aria-label="handle.label" :aria-valuenow="Math.round(handle.at * 255)" aria-valuemin="0" aria-valuemax="255" :data-testid="`tone-${handle.name}`"
        @pointerdown="press($event, handle.name)" @pointermove="move" @pointerup="release" @keydown="step($event, handle.name, handle.at)"
      />
    </g>
    <text x="0" :y="HEIGHT + 24" font-size="10" fill="var(--ink-soft)" pointer-events="none">{{ Math.round(tone.from * 255) }}</text>
    <text :x="WIDTH" :y="HEIGHT + 24" font-size="10" text-anchor="end" fill="var(--ink-soft)" pointer-events="none">{{ Math.round(tone.to * 255) }}</text>
  </svg>
</template>
