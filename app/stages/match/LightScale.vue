<script setup lang="ts">
/** Light of the frame on the scale of stops: how its tones spread, how far each is moved, up or down, and handles for both ends, which are
 * dragged up or down for stops and sideways for how far they reach towards the middle. */
import { computed, ref, toRef } from 'vue';
import { ADJUSTMENTS, type AdjustmentName } from '#core/develop/list.ts';
import { BRIGHT_END, DARK_END, endsCurve } from '#core/develop/ends.ts';
import type { Frame } from '#core/scene/frame.ts';
import { sayEv } from '../../wording.ts';
import type { Developing } from './useDevelop.ts';
import { BAR, useToneSpread } from './useToneSpread.ts';

const props = defineProps<{ frame: Frame; developing: Developing; disabled: boolean }>();

type Ends = (typeof ADJUSTMENTS)['ends']['rest'];
type End = keyof Ends;
const WIDTH = 288;
const HEIGHT = 150;
const LOW = -11;
const HIGH = 1;
/** Stops of the height, above and below the line of no change. */
const MOST = 4.5;
const STEP = 0.05;

const x = (stops: number) => ((stops - LOW) / (HIGH - LOW)) * WIDTH;
const y = (moved: number) => HEIGHT / 2 - (Math.min(MOST, Math.max(-MOST, moved)) / MOST) * (HEIGHT / 2);

const settings = <Name extends AdjustmentName>(name: Name) => props.developing.settingsOf.value(name) as (typeof ADJUSTMENTS)[Name]['rest'];
const ends = computed(() => settings('ends'));
const stops = computed(() => settings('exposure').stops);
/** Stops that tones are moved by, exposure and the base's contrast included, by what they were taken at. */
const moved = computed(() => {
  const onEnds = endsCurve(ends.value);
  const { slope, middle } = settings('contrast');
  return (tone: number) => {
    const now = onEnds(tone + stops.value);
    return now + (slope - 1) * (now - middle) - tone;
  };
});
const points = computed(() => Array.from({ length: 97 }, (_, i) => LOW + (i / 96) * (HIGH - LOW)));
const path = computed(() => points.value.map((tone, i) => `${i === 0 ? 'M' : 'L'}${x(tone).toFixed(1)} ${y(moved.value(tone)).toFixed(1)}`).join(''));
const area = computed(() => `${path.value}L${WIDTH} ${HEIGHT / 2}L0 ${HEIGHT / 2}Z`);

const spread = useToneSpread(toRef(props, 'frame'), LOW, HIGH);
const bars = computed(() => {
  const most = Math.max(...spread.value, 1e-6);
  return spread.value.map((share, i) => ({ left: x(LOW + i * BAR), tall: Math.sqrt(share / most) * (HEIGHT / 2 - 14) }));
});

/** Handles stand where frames as taken are moved in full. */
const handles = computed(() => (['darks', 'brights'] as const).map((end) => {
  const at = end === 'darks' ? DARK_END : BRIGHT_END;
  const tone = Math.min(HIGH - 0.3, Math.max(LOW + 0.3, at - stops.value));
  return { end, tone, reach: ends.value[end].reach - stops.value, says: end === 'darks' ? 'Open the darks' : 'Hold the brights' };
}));

const box = ref<SVGSVGElement>();
let drag: { end: End; from: { x: number; y: number }; was: Ends[End]; isReach: boolean } | undefined;
const perPixel = () => {
  const { width, height } = (box.value as SVGSVGElement).getBoundingClientRect();
  return { x: (HIGH - LOW) / width, y: (2 * MOST) / height };
};
function changed({ end, was }: NonNullable<typeof drag>, byStops: number, byReach: number): Partial<Ends> {
  const tidy = (value: number, low: number, high: number, step: number) => Number((Math.round(Math.min(high, Math.max(low, value)) / step) * step).toFixed(2));
  return { [end]: { stops: tidy(was.stops + byStops, -4, 4, STEP), reach: tidy(was.reach + byReach, -7, -1, 0.1) } };
}
function down(event: PointerEvent, end: End, isReach: boolean): void {
  if (props.disabled) return;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  drag = { end, from: { x: event.clientX, y: event.clientY }, was: { ...ends.value[end] }, isReach };
}
function dragged(event: PointerEvent): Partial<Ends> | undefined {
  if (!drag) return undefined;
  const per = perPixel();
  const sideways = (event.clientX - drag.from.x) * per.x;
  return changed(drag, drag.isReach ? 0 : (drag.from.y - event.clientY) * per.y, drag.isReach ? sideways : 0);
}
function move(event: PointerEvent): void {
  const change = dragged(event);
  if (change) props.developing.preview('ends', change);
}
function up(event: PointerEvent): void {
  const change = dragged(event);
  drag = undefined;
  if (change) props.developing.commit('ends', change);
}
function giveUp(): void {
  if (!drag) return;
  drag = undefined;
  props.developing.cancel();
}
function step(event: KeyboardEvent, end: End): void {
  const [byReach, byStops] = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, STEP], ArrowDown: [0, -STEP] }[event.key] ?? [0, 0];
  if (props.disabled || (byReach === 0 && byStops === 0)) return;
  event.preventDefault();
  props.developing.commit('ends', changed({ end, from: { x: 0, y: 0 }, was: ends.value[end], isReach: false }, byStops, byReach));
}
const scale = Array.from({ length: (HIGH - LOW) / 2 + 1 }, (_, i) => LOW + 1 + 2 * i).filter((stop) => stop <= 0);
</script>

<template>
  <figure class="flex flex-col gap-1" @keydown.esc.stop="giveUp">
    <svg ref="box" class="block w-full touch-none select-none overflow-visible rounded-sm bg-sunken" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="group" aria-label="Light on the scale of stops">
      <rect v-for="({ left, tall }, i) in bars" :key="i" :x="left + 0.5" :y="HEIGHT - tall" :width="x(LOW + BAR) - 1" :height="tall" fill="var(--ink-soft)" opacity="0.28" />
      <path v-for="stop in scale" :key="stop" :d="`M${x(stop)} 0V${HEIGHT}`" stroke="var(--line)" stroke-width="0.6" />
      <path :d="`M0 ${HEIGHT / 2}H${WIDTH}`" stroke="var(--ink-soft)" stroke-width="0.8" stroke-dasharray="2 3" />
      <path :d="area" class="fill-verdigris" opacity="0.2" />
      <path :d="path" class="stroke-verdigris" fill="none" stroke-width="1.8" />
      <text :x="WIDTH - 4" y="11" text-anchor="end" font-size="10" fill="var(--ink-soft)" aria-hidden="true">+4 stops</text>
      <text :x="WIDTH - 4" :y="HEIGHT - 4" text-anchor="end" font-size="10" fill="var(--ink-soft)" aria-hidden="true">−4</text>
      <template v-for="{ end, tone, reach, says } in handles" :key="end">
        <path
          :d="`M${x(reach)} ${HEIGHT / 2 - 5}l5 5l-5 5l-5 -5Z`" class="cursor-ew-resize" fill="var(--panel)" stroke="var(--ink)" stroke-width="1.2" :data-testid="`reach-${end}`" aria-hidden="true"
          @pointerdown="down($event, end, true)" @pointermove="move" @pointerup="up" @pointercancel="giveUp"
        ><title>{{ says }}: how far it reaches towards the middle</title></path>
        <g
          class="cursor-ns-resize outline-none [&:focus-visible>rect]:stroke-verdigris" tabindex="0" role="slider" :aria-label="says" aria-valuemin="-4" aria-valuemax="4" :aria-valuenow="ends[end].stops"
          :aria-valuetext="`${sayEv(ends[end].stops)} stops, reaching to ${sayEv(ends[end].reach)}`" :data-testid="`end-${end}`"
          @pointerdown="down($event, end, false)" @pointermove="move" @pointerup="up" @pointercancel="giveUp" @keydown="step($event, end)"
        >
          <title>{{ says }}: drag up or down; arrow keys move it, left and right how far it reaches</title>
          <rect :x="x(tone) - 12" :y="y(moved(tone)) - 12" width="24" height="24" fill="transparent" />
          <rect :x="x(tone) - 8" :y="y(moved(tone)) - 4" width="16" height="8" rx="4" fill="var(--ink)" stroke-width="2" />
        </g>
      </template>
    </svg>
    <div class="relative h-3.5 text-[11px] leading-3.5 text-soft" aria-hidden="true">
      <span v-for="stop in scale" :key="stop" class="absolute -translate-x-1/2" :style="{ left: `${(x(stop) / WIDTH) * 100}%` }">{{ stop === 0 ? 'white' : sayEv(stop) }}</span>
    </div>
  </figure>
</template>
