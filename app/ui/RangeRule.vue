<script setup lang="ts">
/** A range with soft shoulders on a rule of 0 to 100: four marks, dragged or moved by arrow keys; a double press on its numbers opens it. */
import { computed, ref } from 'vue';
import { type Range, WHOLE_RANGE } from '#core/masks/range.ts';


const props = defineProps<{ label: string; value: Range }>();
const emit = defineEmits<{ preview: [value: Range]; commit: [value: Range]; cancel: [] }>();

const rule = ref<HTMLElement>();
const dragged = ref<keyof Range>();
const clamp = (at: number) => Math.min(1, Math.max(0, Math.round(at * 200) / 200));

const marks = computed(() => {
  const { from, to, fromShoulder, toShoulder } = props.value;
  return [
    { name: 'fromShoulder', label: 'lower shoulder', at: clamp(from - fromShoulder), soft: true },
    { name: 'from', label: 'from', at: from, soft: false },
    { name: 'to', label: 'to', at: to, soft: false },
    { name: 'toShoulder', label: 'upper shoulder', at: clamp(to + toShoulder), soft: true },
  ] as const;
});

function moved(name: keyof Range, raw: number): Range {
  const at = clamp(raw);
  const { value } = props;
  if (name === 'from') return { ...value, from: Math.min(at, value.to) };
  if (name === 'to') return { ...value, to: Math.max(at, value.from) };
  return name === 'fromShoulder' ? { ...value, fromShoulder: Math.max(0, value.from - at) } : { ...value, toShoulder: Math.max(0, at - value.to) };
}

const at = (event: PointerEvent) => {
  const { left, width } = (rule.value as HTMLElement).getBoundingClientRect();
  return (event.clientX - left) / width;
};
function press(event: PointerEvent, name: keyof Range): void {
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  dragged.value = name;
}
function move(event: PointerEvent): void {
  if (dragged.value) emit('preview', moved(dragged.value, at(event)));
}
function release(event: PointerEvent): void {
  if (dragged.value) emit('commit', moved(dragged.value, at(event)));
  dragged.value = undefined;
}
function step(event: KeyboardEvent, name: keyof Range, from: number): void {
  const by = event.key === 'ArrowLeft' ? -0.01 : event.key === 'ArrowRight' ? 0.01 : 0;
  if (by === 0) return;
  event.preventDefault();
  emit('commit', moved(name, from + by));
}
</script>

<template>
  <div @keydown.esc="dragged = undefined; emit('cancel')">
    <div class="flex justify-between text-soft" title="Double-click to reset" @dblclick="emit('commit', WHOLE_RANGE)"><span>{{ label }}</span><span>{{ Math.round(value.from * 100) }} to {{ Math.round(value.to * 100) }} %</span></div>
    <div ref="rule" class="relative mx-1 mt-0.5 h-5 touch-none" role="group" :aria-label="label">
      <span class="absolute inset-x-0 top-1/2 h-px bg-soft" />
      <span class="absolute top-1/2 h-1.5 -translate-y-1/2 bg-verdigris" :style="{ left: `${value.from * 100}%`, width: `${(value.to - value.from) * 100}%` }" />
      <button
        v-for="mark in marks" :key="mark.name" type="button" class="absolute top-0 h-full -translate-x-1/2 cursor-ew-resize px-0.5" :style="{ left: `${mark.at * 100}%`, zIndex: mark.soft ? 0 : 1 }"
        role="slider" :aria-label="`${label} ${mark.label}`" :aria-valuenow="Math.round(mark.at * 100)" aria-valuemin="0" aria-valuemax="100"
        @pointerdown="press($event, mark.name)" @pointermove="move" @pointerup="release" @keydown="step($event, mark.name, mark.at)"
      >
<span class="mx-auto block rounded-full" :class="mark.soft ? 'mt-3 h-2 w-2 bg-soft' : 'h-full w-1 bg-ink'" />
</button>
    </div>
  </div>
</template>
