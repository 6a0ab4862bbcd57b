<script setup lang="ts">
/** A free curve of coverage over the tones of a source, drawn on its histogram. */
import { computed } from 'vue';
import { toneCoverage } from '#core/masks/toneCurve.ts';
import type { Size } from '#core/raster/size.ts';
import type { ItemId } from '#core/ids.ts';
import type { TonePart, ToneSettings } from '#core/parts/tone.ts';
import CurveField from '../../ui/CurveField.vue';
import { useToneHistogram } from './useToneHistogram.ts';

const props = defineProps<{ seenFrom: ItemId; size: Size; tone: TonePart }>();
const emit = defineEmits<{ preview: [settings: Partial<ToneSettings>]; commit: [settings: Partial<ToneSettings>]; cancel: [] }>();
const bars = useToneHistogram(props, 100);
const points = computed(() => props.tone.curve ?? []);
</script>

<template>
  <div class="px-2 py-1">
    <CurveField
      label="Coverage over tones" :wide="2.2" :backdrop="bars" :points="points" :curve="(at) => toneCoverage(tone, at)"
      @preview="emit('preview', { curve: $event })" @commit="emit('commit', { curve: $event })" @cancel="emit('cancel')"
    />
    <div class="mt-1 flex justify-between text-[11px] text-soft"><span>dark</span><span>click to add a point</span><span>light</span></div>
  </div>
</template>
