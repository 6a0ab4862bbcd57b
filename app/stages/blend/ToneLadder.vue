<script setup lang="ts">
/** The tone ladder: light, middle and dark tones of the source, wider to narrower, as small live pictures. Pointing at a rung shows it
 * large; pressing it takes its numbers. */
import { computed, onBeforeUnmount } from 'vue';
import type { Size } from '#core/raster/size.ts';
import type { ItemId } from '#core/ids.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import { newTonePart, type TonePart } from '#core/parts/tone.ts';
import { WHOLE_RANGE } from '#core/masks/range.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { useMaskTools } from '../../stores/maskTools.ts';
import { SIDES } from './partNames.ts';

const props = defineProps<{ part: TonePart; seenFrom: ItemId; size: Size }>();
const tools = useMaskTools();

/** Each rung multiplies the coverage by itself once more than the one before. */
const RUNGS = [0, 1, 2, 4, 7] as const;

const rungs = computed(() =>
  SIDES.filter(({ value }) => value !== 'curve').map(({ value: side, label }) => ({
    label,
    steps: RUNGS.map((narrowing) => {
      const settings = { ...WHOLE_RANGE, side, narrowing };
      const mask = maskOfParts([{ ...newTonePart(props.part.source), measure: props.part.measure, ...settings }]);
      const { part } = props;
      const taken = part.side === side && part.narrowing === narrowing && part.from === 0 && part.to === 1;
      return { narrowing, settings, mask, taken, view: { show: { what: 'recipe', recipe: mask, at: props.seenFrom } } as const };
    }),
  })),
);
onBeforeUnmount(() => { tools.peek = undefined; });
</script>

<template>
  <div class="flex flex-col gap-1.5" role="group" aria-label="Tone ladder" @pointerleave="tools.peek = undefined">
    <div v-for="row in rungs" :key="row.label">
      <div class="flex justify-between text-[11px] text-soft"><span>{{ row.label }}</span><span>narrower →</span></div>
      <div class="grid grid-cols-5 gap-1">
        <button
          v-for="rung in row.steps" :key="rung.narrowing" type="button" class="rounded-sm p-px" :class="rung.taken ? 'bg-verdigris' : 'bg-sunken hover:bg-ink'" :aria-pressed="rung.taken"
          :aria-label="`${row.label} tones, narrowed ${rung.narrowing} times`" @pointerenter="tools.peek = rung.mask" @focus="tools.peek = rung.mask" @blur="tools.peek = undefined" @click="tools.change(rung.settings)"
        >
          <TileThumb :size="size" :view="rung.view" :side="52" class="h-9 w-full rounded-sm" :label="`${row.label}, ${rung.narrowing}`" />
        </button>
      </div>
    </div>
    <p class="text-[11px] text-soft">Point at one to see it large; click to use it.</p>
  </div>
</template>
