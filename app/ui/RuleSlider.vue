<script setup lang="ts">
/** A number on a notched rule: dragged, typed, stepped; a double click on its name resets it.
 * Emits previews while dragging and commits once. */
import { computed, ref, useId } from 'vue';

const props = defineProps<{
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  /** What a reset gives. */
  usual: number;
  unit?: string;
  /** Times what is shown: 100 shows a share as per cent. */
  shown?: number;
  /** Its number may have many digits. */
  wide?: boolean;
  /** All in one line, for where there are many. */
  slim?: boolean;
  /** Equal steps along the rule multiply, rather than add. */
  geometric?: boolean;
  /** Values that are marked below the rule, to be taken by a click. */
  marks?: readonly number[];
}>();
const emit = defineEmits<{ preview: [value: number]; commit: [value: number] }>();

const id = useId();
const factor = computed(() => props.shown ?? 1);
const typed = ref<string>();
/** After Escape the rest of a drag counts for nothing; whoever listens for the key takes back what was previewed. */
const givenUp = ref(false);

const positionOf = (value: number) => (props.geometric ? Math.log(value / props.min) / Math.log(props.max / props.min) : (value - props.min) / (props.max - props.min));
const position = computed(() => positionOf(props.value));

function valueAt(at: number): number {
  const raw = props.geometric ? props.min * (props.max / props.min) ** at : props.min + at * (props.max - props.min);
  return tidy(raw);
}

function tidy(raw: number): number {
  const stepped = Math.round(raw / props.step) * props.step;
  return Number(Math.min(props.max, Math.max(props.min, stepped)).toFixed(6));
}

function commitTyped(): void {
  const number = Number((typed.value ?? '').replace(',', '.'));
  const given = typed.value !== undefined && typed.value.trim() !== '' && Number.isFinite(number);
  typed.value = undefined;
  if (given) emit('commit', tidy(number / factor.value));
}

/** What is being typed is given up with it. */
function reset(): void {
  typed.value = undefined;
  emit('commit', props.usual);
}

const rule = ref<HTMLInputElement>();
/** The first click into the number selects all of it; further ones set the caret. */
let isEntered = false;
function enter(event: Event): void {
  isEntered = event.type === 'focus';
  (event.target as HTMLInputElement).select();
}
/** Gives the typing up; the keys are the application's again. */
function giveUp(event: KeyboardEvent): void {
  if (typed.value === undefined) return;
  event.stopPropagation();
  typed.value = undefined;
  rule.value?.focus();
}

function stepBy(steps: number): void {
  const next = props.geometric ? props.value * 1.1 ** steps : props.value + steps * props.step;
  emit('commit', tidy(props.geometric && Math.abs(next - props.value) < props.step ? props.value + steps * props.step : next));
}

const display = computed(() => typed.value ?? String(Number((props.value * factor.value).toFixed(2))));
const at = (event: Event) => Number((event.target as HTMLInputElement).value) / 1000;
</script>

<template>
  <div class="min-w-0" :class="slim ? 'grid grid-cols-[4.6rem_1fr_3.6rem] items-center gap-2' : 'grid grid-cols-[auto_minmax(0,1fr)]'">
    <label :for="id" class="whitespace-nowrap text-soft" title="Double-click to reset" @dblclick="reset">{{ label }}</label>
    <span class="flex items-baseline justify-end gap-0.5 whitespace-nowrap" :class="{ 'order-3': slim }">
      <input
        type="text" inputmode="decimal" class="rounded bg-transparent px-0.5 text-right focus:bg-sunken" :class="wide ? 'w-14' : 'w-9'" :aria-label="`${label}, typed`" :value="display"
        @input="typed = ($event.target as HTMLInputElement).value" @blur="commitTyped" @focus="enter" @click="isEntered && enter($event)" @keydown.enter="rule?.focus()" @keydown.esc="giveUp"
        @keydown.up.prevent="stepBy(1)" @keydown.down.prevent="stepBy(-1)" @dblclick="reset"
      />
      <span class="text-soft" :class="{ 'w-5': slim }">{{ unit }}</span>
    </span>
    <input
      :id="id" ref="rule" type="range" class="rule min-w-0" :class="{ 'col-span-2': !slim }" min="0" max="1000" step="1" :value="Math.round(position * 1000)" :aria-valuetext="`${display} ${unit ?? ''}`"
      @pointerdown="givenUp = false" @keydown.esc="givenUp = true"
      @input="givenUp || emit('preview', valueAt(at($event)))" @change="givenUp || emit('commit', valueAt(at($event)))"
      @keydown.left.prevent="stepBy(-1)" @keydown.right.prevent="stepBy(1)"
    />
    <span v-if="marks" class="relative col-span-2 mx-[2.5px] -mb-0.5 -mt-1.5 h-2">
      <button
        v-for="mark in marks" :key="mark" type="button" tabindex="-1" class="absolute bottom-0 h-2.5 w-2.5 -translate-x-1/2 border-x-4 border-transparent bg-clip-padding" :class="mark === value ? 'bg-verdigris' : 'bg-soft hover:bg-ink'"
        :style="{ left: `${positionOf(mark) * 100}%` }" :aria-label="`${label} ${mark * factor} ${unit ?? ''}`" :title="`${mark * factor} ${unit ?? ''}`" @click="emit('commit', mark)"
      />
    </span>
  </div>
</template>
