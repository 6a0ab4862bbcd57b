<script setup lang="ts">
/** A colour part: its hues on a circle laid out as a strip, its chroma and lightness. */
import { PhEyedropper } from '@phosphor-icons/vue';
import { computed } from 'vue';
import { type ColourPart } from '#core/parts/colour.ts';
import { type Range, WHOLE_RANGE } from '#core/masks/range.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import RangeRule from '../../../ui/RangeRule.vue';
import PartRows from './PartRows.vue';
import SourceField from '../SourceField.vue';

const props = defineProps<{ part: ColourPart }>();
const session = useSession();
const tools = useMaskTools();

/** The strip of hues, with what is let through marked below it. */
const HUES = `linear-gradient(90deg, ${Array.from({ length: 13 }, (_, i) => `oklch(0.75 0.12 ${i * 30})`).join(', ')})`;
const reach = computed(() => {
  const { centre, width } = props.part.hue;
  const [from, to] = [centre - width, centre + width];
  return [-360, 0, 360].flatMap((turn) => {
    const [a, b] = [Math.max(0, from + turn), Math.min(360, to + turn)];
    return b > a ? [{ left: `${a / 3.6}%`, width: `${(b - a) / 3.6}%` }] : [];
  });
});
const vivid = () => tools.change({ hue: { centre: props.part.hue.centre, width: 180, shoulder: 0 }, chroma: { from: 0.35, to: 1, fromShoulder: 0.25, toShoulder: 0 }, lightness: WHOLE_RANGE });
const pale = () => tools.change({ hue: { centre: props.part.hue.centre, width: 180, shoulder: 0 }, chroma: { from: 0, to: 0.08, fromShoulder: 0, toShoulder: 0.12 }, lightness: WHOLE_RANGE });
const range = (name: 'chroma' | 'lightness', value: Range) => ({ [name]: value });
</script>

<template>
  <div class="flex flex-col gap-2">
    <SourceField label="Source" :value="part.source" @choose="tools.change({ source: $event })" />
    <div aria-hidden="true">
      <div class="h-3.5 rounded-sm" :style="{ background: HUES }" />
      <div class="relative mt-0.5 h-1.5 bg-sunken"><span v-for="(each, i) in reach" :key="i" class="absolute inset-y-0 bg-verdigris" :style="each" /></div>
    </div>
    <PartRows :part="part" />
    <RangeRule label="Chroma" :value="part.chroma" @preview="tools.preview(range('chroma', $event))" @commit="tools.commit(range('chroma', $event))" @cancel="session.cancelDrag()" />
    <RangeRule label="Lightness" :value="part.lightness" @preview="tools.preview(range('lightness', $event))" @commit="tools.commit(range('lightness', $event))" @cancel="session.cancelDrag()" />
    <div class="flex flex-wrap items-center gap-1.5">
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': tools.tool === 'in' }" :aria-pressed="tools.tool === 'in'" title="Drag over the picture to include its colours" @click="tools.tool = tools.tool === 'in' ? 'brush' : 'in'"><PhEyedropper :size="14" /> Include</button>
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': tools.tool === 'out' }" :aria-pressed="tools.tool === 'out'" title="Drag over the picture to exclude its colours" @click="tools.tool = tools.tool === 'out' ? 'brush' : 'out'">Exclude</button>
      <button v-if="tools.hasPicked" type="button" class="btn h-7 px-2" title="Forget what was picked, and pick again" @click="tools.startAnew()">Start anew</button>
      <button type="button" class="btn ml-auto h-7 px-2" title="Vivid colours of any hue" @click="vivid">Vivid</button>
      <button type="button" class="btn h-7 px-2" title="Pale colours only" @click="pale">Pale</button>
    </div>
  </div>
</template>
