<script setup lang="ts">
/** One range of a tone window, over the histogram of what it reads. */
import { computed } from 'vue';
import type { Range } from '#core/masks/range.ts';
import { rangeWindow } from '#core/masks/rangeWindow.ts';
import { levelCount, levelForScale, type Size } from '#core/raster/size.ts';
import type { RenderRequest } from '#core/render/plan/request.ts';
import type { WindowMeasure } from '#core/scene/item.ts';
import type { Lane } from '#engine/lanes.ts';
import { heightsOf } from '../../../ui/histogramShape.ts';
import RangeRule from '../../../ui/RangeRule.vue';
import { useHistogram } from '../useHistogram.ts';

const props = defineProps<{ label: string; range: Range; of: RenderRequest; /** One of its own: rules beside each other would drop each other's counting. */ lane: Lane; measure: WindowMeasure; size: Size }>();
const emit = defineEmits<{ preview: [range: Range]; commit: [range: Range]; cancel: [] }>();

const WIDTH = 256;
const HEIGHT = 34;
const COUNTED = 3e5;
const level = () => levelForScale(Math.sqrt(COUNTED / (props.size.width * props.size.height)), levelCount(props.size));
const histogram = useHistogram(props.lane, () => props.of, level);
const bars = computed(() => {
  const counts = histogram.value;
  const channel = props.measure === 'red' || props.measure === 'green' || props.measure === 'blue' ? props.measure : 'tone';
  return `M0 ${HEIGHT}${heightsOf(counts?.[channel]).map((height, i) => `L${i + 0.5} ${(HEIGHT - height * (HEIGHT - 2)).toFixed(1)}`).join('')}L${WIDTH} ${HEIGHT}Z`;
});
const curve = computed(() => Array.from({ length: 129 }, (_, i) => `${i === 0 ? 'M' : 'L'}${i * 2} ${(HEIGHT - 1 - rangeWindow(props.range, i / 128) * (HEIGHT - 3)).toFixed(1)}`).join(''));
</script>

<template>
  <div>
    <svg class="mx-1 block h-8.5 w-[calc(100%-0.5rem)] rounded-sm bg-sunken" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" preserveAspectRatio="none" aria-hidden="true">
      <path data-testid="window-tones" :d="bars" fill="var(--ink-soft)" opacity="0.5" />
      <path :d="curve" fill="none" class="stroke-verdigris" stroke-width="2" vector-effect="non-scaling-stroke" />
    </svg>
    <RangeRule :label="label" :value="range" @preview="emit('preview', $event)" @commit="emit('commit', $event)" @cancel="emit('cancel')" />
  </div>
</template>
