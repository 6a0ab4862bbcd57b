<script setup lang="ts">
/** Every frame on the scale of stops: a tick where it was taken, a chip where it is developed, which is dragged along the scale. */
import { computed, ref } from 'vue';
import type { FrameId } from '#core/ids.ts';
import { type Frame, relativeEvs } from '#core/scene/frame.ts';
import { frameLabel } from '../../frameLabel.ts';
import { useSession } from '../../stores/session.ts';
import { sayEv } from '../../wording.ts';

const props = defineProps<{ order: readonly FrameId[] }>();
const chosen = defineModel<FrameId | undefined>('chosen');
const emit = defineEmits<{ preview: [frame: Frame, stops: number]; commit: [frame: Frame, stops: number]; cancel: [] }>();
const session = useSession();

const STEP = 0.05;
const MOST = 8;
const ROW = 21;
const stopsOf = ({ develop }: Frame) => (typeof develop.exposure?.stops === 'number' ? develop.exposure.stops : 0);
const rows = computed(() => {
  const { scene } = session;
  const evs = relativeEvs(scene.frames);
  return props.order.flatMap((id) => {
    const index = scene.frames.findIndex((frame) => frame.id === id);
    const frame = scene.frames[index];
    if (!frame) return [];
    const taken = evs[index] ?? 0;
    return [{ frame, taken, developed: taken + stopsOf(frame), label: frameLabel(scene, id), isBase: id === scene.base }];
  });
});
/** The scale holds still while a chip is dragged. */
const held = ref<{ low: number; high: number }>();
const bounds = computed(() => {
  const all = rows.value.flatMap(({ taken, developed }) => [taken, developed]);
  return held.value ?? { low: Math.min(-4, Math.floor(Math.min(...all)) - 1), high: Math.max(4, Math.ceil(Math.max(...all)) + 1) };
});
const at = (ev: number) => ((ev - bounds.value.low) / (bounds.value.high - bounds.value.low)) * 100;
const scale = computed(() => Array.from({ length: bounds.value.high - bounds.value.low + 1 }, (_, i) => bounds.value.low + i));

const tidy = (stops: number) => Number(Math.min(MOST, Math.max(-MOST, Math.round(stops / STEP) * STEP)).toFixed(2));
let from: { x: number; stops: number; width: number } | undefined;
function onDown(event: PointerEvent, frame: Frame): void {
  chosen.value = frame.id;
  if (session.readOnly) return;
  const chip = event.currentTarget as HTMLElement;
  chip.setPointerCapture(event.pointerId);
  from = { x: event.clientX, stops: stopsOf(frame), width: (chip.parentElement as HTMLElement).clientWidth };
  held.value = { ...bounds.value };
}
const draggedTo = (event: PointerEvent) => from && tidy(from.stops + ((event.clientX - from.x) / from.width) * (bounds.value.high - bounds.value.low));
function onMove(event: PointerEvent, frame: Frame): void {
  const stops = draggedTo(event);
  if (stops !== undefined && stops !== stopsOf(frame)) emit('preview', frame, stops);
}
function onUp(event: PointerEvent, frame: Frame): void {
  const stops = draggedTo(event);
  if (stops !== undefined && stops !== from?.stops) emit('commit', frame, stops);
  letGo();
}
function letGo(): void {
  from = undefined;
  held.value = undefined;
}
/** Gives a drag up. */
function giveUp(): void {
  if (!from) return;
  letGo();
  emit('cancel');
}
function step(frame: Frame, by: number): void {
  chosen.value = frame.id;
  emit('commit', frame, tidy(stopsOf(frame) + by));
}
</script>

<template>
  <section class="flex h-36 shrink-0 flex-col bg-panel px-8 py-2" aria-label="Frames on the scale of stops" data-skip="Frames" tabindex="-1">
    <div class="min-h-0 flex-1 overflow-y-auto">
      <div class="relative" :style="{ height: `${rows.length * ROW}px` }">
        <div v-for="stop in scale" :key="stop" class="absolute inset-y-0 w-px bg-soft" :class="stop === 0 ? 'opacity-60' : 'opacity-20'" :style="{ left: `${at(stop)}%` }" aria-hidden="true" />
        <template v-for="({ frame, taken, developed, label, isBase }, i) in rows" :key="frame.id">
          <span class="absolute h-0.5 bg-soft" :style="{ left: `${Math.min(at(taken), at(developed))}%`, width: `${Math.abs(at(developed) - at(taken))}%`, top: `${i * ROW + 9}px` }" aria-hidden="true" />
          <span class="absolute h-3 w-0.5 -translate-x-1/2 bg-ink" :style="{ left: `${at(taken)}%`, top: `${i * ROW + 4}px` }" :title="`${label} as taken`" />
          <button
            type="button" class="absolute h-5 -translate-x-1/2 cursor-ew-resize touch-none whitespace-nowrap rounded px-1.5 text-[11px] leading-5" role="slider" :aria-valuemin="-MOST" :aria-valuemax="MOST" :aria-valuenow="stopsOf(frame)"
            :class="frame.id === chosen ? 'bg-verdigris font-semibold text-on-verdigris' : 'bg-raised text-ink hover:shadow-[inset_0_0_0_1px_var(--ink-soft)]'" :style="{ left: `${at(developed)}%`, top: `${i * ROW}px` }"
            :aria-label="`Exposure of ${label}`" :aria-valuetext="`${sayEv(stopsOf(frame))} stops`" :title="`${label}: drag to expose it differently`" :data-testid="`expose-${frame.file.name}`"
            @pointerdown="onDown($event, frame)" @pointermove="onMove($event, frame)" @pointerup="onUp($event, frame)" @pointercancel="giveUp" @keydown.esc="giveUp" @click="chosen = frame.id" @keydown.left.prevent="step(frame, -STEP)" @keydown.right.prevent="step(frame, STEP)"
          >
            {{ label }}<template v-if="isBase"> · base</template><template v-if="developed !== taken"> · {{ sayEv(developed - taken) }}</template>
          </button>
        </template>
      </div>
    </div>
    <div class="relative h-5 shrink-0 border-t border-soft/40" aria-hidden="true">
      <span v-for="stop in scale" :key="stop" class="absolute top-0.5 -translate-x-1/2 text-[11px] text-soft" :style="{ left: `${at(stop)}%` }">{{ sayEv(stop) }}</span>
    </div>
  </section>
</template>
