<script setup lang="ts">
/** What a frame shows by its size, from noise to the veil over the whole: each a disc that is dragged up for more of it and down for less,
 * and sideways for how large it is. */
import { computed, ref } from 'vue';
import type { AdjustmentName } from '#core/develop/list.ts';
import { numberOf } from '../../ui/settingRows.ts';
import { markedAt, SIZE_MARKS, type SizeMark, shareOf } from './sizeMarks.ts';

const props = defineProps<{ /** Settings of an adjustment. */ settingsOf: (name: AdjustmentName) => object; /** Colour of the veil, in CSS. */ veil: string; disabled: boolean }>();
const emit = defineEmits<{ preview: [name: AdjustmentName, change: object]; commit: [name: AdjustmentName, change: object]; cancel: [] }>();

const WIDTH = 288;
const HEIGHT = 126;
const MIDDLE = 60;
/** Room above and below for all of it. */
const REACH = 46;
/** Pixels that the scale begins and ends with. */
const [LEAST, MOST] = [0.3, 400];
const [LEFT, RIGHT] = [68, 238];
const ASIDE = { first: 14, second: 38, last: 268 };
const RADII: Record<string, number> = { grain: 4, specks: 4, edges: 5, fine: 6.5, broad: 8.5, veil: 12 };
const TICKS = [1, 10, 100];

const x = (pixels: number) => LEFT + (Math.log(pixels / LEAST) / Math.log(MOST / LEAST)) * (RIGHT - LEFT);
const y = (share: number) => MIDDLE - share * REACH;
const sizeOf = ({ radius }: SizeMark, settings: object) => (radius ? numberOf(settings, radius) : undefined);

const marks = computed(() =>
  SIZE_MARKS.map((mark) => {
    const settings = props.settingsOf(mark.adjustment);
    const [share, size] = [shareOf(mark, settings), sizeOf(mark, settings)];
    const percent = `${share > 0 ? '+' : share < 0 ? '−' : ''}${Math.round(Math.abs(numberOf(settings, mark.amount)) * 100)} %`;
    return {
      mark, share, size, r: RADII[mark.key],
      x: size === undefined ? ASIDE[mark.aside as keyof typeof ASIDE] : x(size), y: y(share),
      says: `${percent}${size === undefined ? '' : `, ${size} px`}`,
    };
  }),
);
const hint = ({ radius }: SizeMark) => `up for more, down for less${radius ? '; sideways for how large it is' : ''}. Double click: as it was`;

const box = ref<SVGSVGElement>();
let held: { mark: SizeMark; from: { x: number; y: number }; share: number; size: number | undefined } | undefined;
function onDown(event: PointerEvent, mark: SizeMark, share: number, size: number | undefined): void {
  if (props.disabled || event.button !== 0) return;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  held = { mark, from: { x: event.clientX, y: event.clientY }, share, size };
}
function pulled(event: PointerEvent): object {
  const { mark, from, share, size } = held as NonNullable<typeof held>;
  const scale = WIDTH / (box.value as SVGSVGElement).getBoundingClientRect().width;
  const up = ((from.y - event.clientY) * scale) / REACH;
  const wider = (((event.clientX - from.x) * scale) / (RIGHT - LEFT)) * Math.log(MOST / LEAST);
  // A hand that goes up or down wavers: a little to the side is no other size.
  const sized = size !== undefined && Math.abs(event.clientX - from.x) > 6 ? size * Math.exp(wider) : size;
  return markedAt(mark, props.settingsOf(mark.adjustment), within(share + up), sized);
}
const within = (share: number) => Math.min(1, Math.max(-1, share));
function onMove(event: PointerEvent): void {
  if (held) emit('preview', held.mark.adjustment, pulled(event));
}
function onUp(event: PointerEvent): void {
  if (!held) return;
  const moved = Math.hypot(event.clientX - held.from.x, event.clientY - held.from.y) > 1;
  if (moved) emit('commit', held.mark.adjustment, pulled(event));
  else emit('cancel');
  held = undefined;
}
function onCancel(): void {
  if (held) emit('cancel');
  held = undefined;
}
function onKey(event: KeyboardEvent, mark: SizeMark, share: number, size: number | undefined): void {
  const way = { ArrowLeft: [0, 1 / 1.1], ArrowRight: [0, 1.1], ArrowUp: [0.02, 1], ArrowDown: [-0.02, 1] }[event.key];
  if (!way || props.disabled) return;
  event.preventDefault();
  emit('commit', mark.adjustment, markedAt(mark, props.settingsOf(mark.adjustment), within(share + way[0]), size && stepped(mark, size, way[1])));
}
/** At least a step of its row further. */
function stepped({ radius }: SizeMark, size: number, by: number): number {
  const step = radius?.step ?? 0;
  return by === 1 ? size : by > 1 ? Math.max(size * by, size + step) : Math.min(size * by, size - step);
}
function toRest({ adjustment, amount }: SizeMark): void {
  const mark = SIZE_MARKS.find((each) => each.amount === amount) as SizeMark;
  if (!props.disabled) emit('commit', adjustment, markedAt(mark, props.settingsOf(adjustment), 0, undefined));
}
</script>

<template>
  <svg
    ref="box" class="w-full touch-none select-none rounded bg-sunken" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="group" aria-label="What the frame shows, by its size" data-testid="size-scale"
    @pointermove="onMove" @pointerup="onUp" @pointercancel="onCancel" @keydown.esc.stop="onCancel"
  >
    <line x1="4" :x2="WIDTH - 4" :y1="MIDDLE" :y2="MIDDLE" class="stroke-soft" stroke-width="0.8" stroke-dasharray="2 3" />
    <text x="5" y="12" font-size="10" class="fill-soft" aria-hidden="true">more</text>
    <text x="5" :y="HEIGHT - 18" font-size="10" class="fill-soft" aria-hidden="true">less</text>
    <g v-for="tick in TICKS" :key="tick" aria-hidden="true">
      <line :x1="x(tick)" :x2="x(tick)" :y1="HEIGHT - 16" :y2="HEIGHT - 13" class="stroke-soft" stroke-width="0.8" />
      <text :x="x(tick)" :y="HEIGHT - 3" text-anchor="middle" font-size="10" class="fill-soft">{{ tick }}{{ tick === 1 ? ' px' : '' }}</text>
    </g>
    <line :x1="LEFT" :x2="RIGHT" :y1="HEIGHT - 16" :y2="HEIGHT - 16" class="stroke-soft" stroke-width="0.6" aria-hidden="true" />
    <text x="26" :y="HEIGHT - 3" text-anchor="middle" font-size="10" class="fill-soft" aria-hidden="true">noise</text>
    <text :x="ASIDE.last" :y="HEIGHT - 3" text-anchor="middle" font-size="10" class="fill-soft" aria-hidden="true">veil</text>
    <g
      v-for="{ mark, share, size, r, x: cx, y: cy, says } in marks" :key="mark.key" class="cursor-grab outline-none [&:focus-visible>circle]:stroke-verdigris" tabindex="0" role="slider" :aria-label="mark.label" :aria-valuetext="says"
      aria-valuemin="-100" aria-valuemax="100" :aria-valuenow="Math.round(100 * share)" :data-testid="`size-${mark.key}`"
      @pointerdown.prevent="onDown($event, mark, share, size)" @keydown="onKey($event, mark, share, size)" @dblclick="toRest(mark)"
    >
      <title>{{ mark.label }}, {{ says }}: {{ hint(mark) }}</title>
      <text v-if="mark.radius" :x="cx" :y="MIDDLE + (share < 0 ? -6 : share === 0 ? r + 11 : 12)" text-anchor="middle" font-size="10" class="fill-soft" aria-hidden="true">{{ mark.key }}</text>
      <line :x1="cx" :x2="cx" :y1="MIDDLE" :y2="cy" class="stroke-verdigris" stroke-width="3" />
      <circle :cx="cx" :cy="cy" :r="Math.max(10, r)" fill="transparent" stroke="none" />
      <circle :cx="cx" :cy="cy" :r="r" stroke-width="1.5" :class="share === 0 ? 'stroke-soft' : 'stroke-ink'" :fill="mark.key === 'veil' ? veil : mark.key === 'specks' ? 'oklch(0.65 0.16 340)' : 'var(--panel)'" />
    </g>
  </svg>
</template>
