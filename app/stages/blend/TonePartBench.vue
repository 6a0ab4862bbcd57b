<script setup lang="ts">
/** The tone part: which tones of which picture, and whether they lie in the mask or hold the brush. */
import { computed } from 'vue';
import { setTone, setToneUse, type ToneUse, tonePartOf, toneUseOf } from '#core/scene/edits/masks.ts';
import { newTonePart, type ToneSettings } from '#core/scene/mask.ts';
import type { Size } from '#core/raster/size.ts';
import type { Layer } from '#core/scene/scene.ts';
import { useBench } from '../../stores/bench.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import ToneRange from './ToneRange.vue';

const props = defineProps<{ layer: Layer; size: Size }>();
const session = useSession();
const bench = useBench();

const tone = computed(() => tonePartOf(props.layer) ?? newTonePart('base'));
const use = computed(() => toneUseOf(props.layer));

const USES: readonly { value: ToneUse; label: string; hint: string }[] = [
  { value: 'stencil', label: 'Stencil', hint: 'The brush is held to these tones' },
  { value: 'mask', label: 'Lay as mask', hint: 'These tones show the layer' },
  { value: 'off', label: 'Aside', hint: 'Kept, but without effect' },
];
const SOURCES = [
  { value: 'base', label: 'Base', hint: 'Tones of the base frame' },
  { value: 'layer', label: 'This layer', hint: "Tones of the layer's own frame" },
  { value: 'sofar', label: 'So far', hint: 'Tones of the picture below this layer' },
] as const;
const SIDES = [
  { value: 'light', label: 'Light' },
  { value: 'middle', label: 'Middle' },
  { value: 'dark', label: 'Dark' },
] as const;

function change(settings: Partial<ToneSettings>): void {
  session.dispatch(setTone({ layerId: props.layer.id, tone: settings }));
}
function preview(settings: Partial<ToneSettings>): void {
  session.dispatch(setTone({ layerId: props.layer.id, tone: settings }), 'tone');
}
function commit(settings: Partial<ToneSettings>): void {
  preview(settings);
  session.closeDrag();
}
function lay(next: ToneUse): void {
  session.dispatch(setToneUse({ layerId: props.layer.id, use: next }));
  bench.state.coverage = next === 'stencil' ? 'stencil' : 'mask';
}
</script>

<template>
  <section class="flex flex-col gap-2 px-4 pb-3 pt-1" aria-label="Tone part">
    <h3 class="font-semibold">Tones</h3>
    <ChoiceRow label="Use of the tones" :value="use" :choices="USES" @choose="lay" />
    <ChoiceRow label="Source of the tones" :value="tone.source" :choices="SOURCES" @choose="change({ source: $event })" />
    <ChoiceRow label="Side" :value="tone.side" :choices="SIDES" @choose="change({ side: $event })" />
    <ToneRange :layer-id="layer.id" :size="size" :tone="tone" @preview="preview" @commit="commit" @cancel="session.cancelDrag()" />
    <RuleSlider
      label="Narrowing" unit="×" :value="tone.narrowing" :min="0" :max="8" :step="0.1" :usual="0"
      @preview="preview({ narrowing: $event })" @commit="commit({ narrowing: $event })"
    />
  </section>
</template>
