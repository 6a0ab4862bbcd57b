<script setup lang="ts">
/** One colour: typed, picked on the picture, or by its lightness, chroma and hue. */
import { computed, ref, watch } from 'vue';
import type { WorkingSpace } from '#core/color/workingSpace.ts';
import RuleSlider from '../../../ui/RuleSlider.vue';
import { colourOfOklch, colourOfText, cssOf, type Encoded, type Oklch, oklchOfColour, textOfColour } from './contentColour.ts';

const props = defineProps<{ colour: Encoded; space: WorkingSpace; label: string; isPicking: boolean }>();
const emit = defineEmits<{ preview: [colour: Encoded]; commit: [colour: Encoded]; pick: [] }>();

const text = computed(() => textOfColour(props.colour, props.space));
const typed = ref(text.value);
const isWrong = ref(false);
watch(text, (now) => { typed.value = now; isWrong.value = false; });
function take(): void {
  if (typed.value === text.value) return;
  const colour = colourOfText(typed.value, props.space);
  isWrong.value = !colour;
  if (colour) emit('commit', colour);
}
function giveUp(): void {
  typed.value = text.value;
  isWrong.value = false;
}

/** A grey has no hue of its own: it keeps the one that was set last. */
const hue = ref(0);
const parts = computed<Oklch>(() => {
  const { l, c, h } = oklchOfColour(props.colour, props.space);
  return { l, c, h: c < 0.002 ? hue.value : h };
});
function changed(change: Partial<Oklch>): Encoded {
  const next = { ...parts.value, ...change };
  hue.value = next.h;
  return colourOfOklch(next, props.space);
}
const ROWS = [
  { part: 'l', label: 'Lightness', max: 1, step: 0.005, usual: 0.6, shown: 100, unit: '%' },
  { part: 'c', label: 'Chroma', max: 0.37, step: 0.002, usual: 0.1, shown: 1, unit: '' },
  { part: 'h', label: 'Hue', max: 360, step: 1, usual: 60, shown: 1, unit: '°' },
] as const;
</script>

<template>
  <div class="flex flex-col gap-1.5" role="group" :aria-label="label">
    <div class="flex items-center gap-2">
      <span class="h-7 w-12 shrink-0 rounded-sm" :style="{ background: cssOf(colour, space) }" aria-hidden="true" />
      <input
        v-model="typed" class="field h-7 min-w-0 flex-1 px-1.5" :aria-label="`${label}, typed`" :aria-invalid="isWrong" title="Hex, hsl() or oklch()" spellcheck="false"
        @keydown.enter="take" @blur="take" @keydown.esc.stop="giveUp" @focus="($event.target as HTMLInputElement).select()"
      />
      <button type="button" class="btn h-7 shrink-0 px-2" :aria-pressed="isPicking" title="Takes the colour of the picture below where you click" :aria-label="`Pick on the picture: ${label}`" @click="emit('pick')">{{ isPicking ? 'Click it' : 'Pick' }}</button>
    </div>
    <p v-if="isWrong" class="text-[11px] text-soft" role="alert">No colour is called that. Type hex, hsl() or oklch(), as #a0522d.</p>
    <RuleSlider
      v-for="row in ROWS" :key="row.part" slim :label="row.label" :unit="row.unit" :shown="row.shown" :value="Number((Math.round(parts[row.part] / row.step) * row.step).toFixed(4))" :min="0" :max="row.max" :step="row.step" :usual="row.usual"
      @preview="emit('preview', changed({ [row.part]: $event }))" @commit="emit('commit', changed({ [row.part]: $event }))"
    />
  </div>
</template>
