<script setup lang="ts">
/** The current tool and its settings, and how one looks at the picture. */
import { computed } from 'vue';
import type { Layer } from '#core/scene/scene.ts';
import { useBench } from '../../stores/bench.ts';
import type { Brush, Look } from '../../stores/benchState.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import RuleSlider from '../../ui/RuleSlider.vue';

const props = defineProps<{ scale: number; layer?: Layer }>();
const emit = defineEmits<{ full: [] }>();

const bench = useBench();
const brush = computed(() => bench.state.brush);

const EFFECTS = [{ value: 'reveal', label: 'Reveal' }, { value: 'hide', label: 'Hide' }] as const;
const LOOKS = computed<{ value: Look; label: string; hint: string; disabled?: boolean }[]>(() => [
  { value: 'picture', label: 'Picture', hint: 'The blend (U)' },
  { value: 'grey', label: 'Grey', hint: 'The mask as a grey picture (I)', disabled: !props.layer },
  { value: 'overlay', label: 'Over', hint: 'The mask over the picture (O)', disabled: !props.layer },
  { value: 'layer', label: 'Layer', hint: 'The layer alone (P)', disabled: !props.layer },
]);
const COVERAGES = [{ value: 'mask', label: 'Mask' }, { value: 'stencil', label: 'Stencil' }] as const;
const PRESSURES: readonly { value: Brush['pressure']; label: string }[] = [
  { value: 'none', label: 'no effect' },
  { value: 'size', label: 'sets size' },
  { value: 'strength', label: 'sets strength' },
];
const showsCoverage = computed(() => bench.state.look === 'grey' || bench.state.look === 'overlay');
</script>

<template>
  <div class="flex h-14 shrink-0 items-center gap-5 bg-panel pl-1 pr-3" role="toolbar" aria-label="Brush and view">
    <ChoiceRow label="Brush" class="w-30" :value="brush.effect" :choices="EFFECTS" @choose="brush.effect = $event" />
    <RuleSlider class="w-27" label="Size" unit="px" :value="brush.size" :min="2" :max="4000" :step="1" :usual="400" geometric @preview="brush.size = $event" @commit="brush.size = $event" />
    <RuleSlider class="w-25" label="Hardness" unit="%" :shown="100" :value="brush.hardness" :min="0" :max="1" :step="0.01" :usual="0" @preview="brush.hardness = $event" @commit="brush.hardness = $event" />
    <RuleSlider class="w-25" label="Strength" unit="%" :shown="100" :value="brush.strength" :min="0.01" :max="1" :step="0.01" :usual="0.4" @preview="brush.strength = $event" @commit="brush.strength = $event" />
    <RuleSlider class="w-21" label="Flow" unit="%" :shown="100" :value="brush.flow" :min="0.01" :max="1" :step="0.01" :usual="1" @preview="brush.flow = $event" @commit="brush.flow = $event" />
    <label class="flex flex-col text-soft">
      Pen pressure
      <select v-model="brush.pressure" class="field h-6 w-23 px-1 text-[12px]">
        <option v-for="each in PRESSURES" :key="each.value" :value="each.value">{{ each.label }}</option>
      </select>
    </label>
    <div class="ml-auto flex items-center gap-2">
      <ChoiceRow v-if="showsCoverage && layer?.stencil" label="Coverage shown" class="w-30" :value="bench.state.coverage" :choices="COVERAGES" @choose="bench.state.coverage = $event" />
      <ChoiceRow label="View" class="w-56" :value="bench.state.look" :choices="LOOKS" @choose="bench.state.look = $event" />
      <button type="button" class="btn h-7.5 w-15 justify-center px-0" title="Between fitted and 100 % (G)" @click="emit('full')">{{ Math.round(scale * 100) }} %</button>
    </div>
  </div>
</template>
