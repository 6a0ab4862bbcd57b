<script setup lang="ts">
/** Curves: over all channels, over one of them, or over lightness alone. */
import { computed } from 'vue';
import { smoothCurve } from '#core/masks/greyCurve.ts';
import type { ADJUSTMENTS } from '#core/develop/list.ts';
import ChoiceRow from '../ui/ChoiceRow.vue';
import CurveField from '../ui/CurveField.vue';

type Curves = (typeof ADJUSTMENTS)['curve']['rest'];

const props = withDefaults(defineProps<{ settings: Curves; /** Whether a tone is to be clicked; undefined where none can be. */ isPicking?: boolean }>(), { isPicking: undefined });
const of = defineModel<keyof Curves>('over', { required: true });
const emit = defineEmits<{ pick: []; preview: [change: Partial<Curves>]; commit: [change: Partial<Curves>]; cancel: [] }>();

const CURVES = [
  { value: 'all', label: 'All', hint: 'All three channels alike' },
  { value: 'red', label: 'Red' },
  { value: 'green', label: 'Green' },
  { value: 'blue', label: 'Blue' },
  { value: 'lightness', label: 'L', hint: 'Lightness alone: colours keep their hue and strength' },
] as const;
const points = computed(() => props.settings[of.value]);
const curve = computed(() => (points.value.length >= 2 ? smoothCurve(points.value) : (x: number) => x));
</script>

<template>
  <div class="flex flex-col gap-1.5">
    <ChoiceRow label="Curve over" :value="of" :choices="CURVES" @choose="of = $event" />
    <CurveField
      class="mx-auto w-full max-w-44" :label="`Curve over ${of === 'all' ? 'all channels' : of}`" :points="points" :curve="curve"
      @preview="emit('preview', { [of]: $event })" @commit="emit('commit', { [of]: $event })" @cancel="emit('cancel')"
    />
    <button v-if="isPicking !== undefined" type="button" class="btn h-7 self-start px-2" :aria-pressed="isPicking" title="Click a place of the picture: its tone becomes a point of the curve" @click="emit('pick')">{{ isPicking ? 'Click a tone' : 'Point from the picture' }}</button>
  </div>
</template>
