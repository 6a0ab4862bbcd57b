<script setup lang="ts">
/** A tone part: which tones of which picture, by what they are read. */
import { PhEyedropper } from '@phosphor-icons/vue';
import { curveLike } from '#core/masks/toneCurve.ts';
import type { Size } from '#core/raster/size.ts';
import type { ItemId } from '#core/ids.ts';
import { type TonePart, type ToneSide } from '#core/parts/tone.ts';
import { WHOLE_RANGE } from '#core/masks/range.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import ChoiceField from '../../../ui/ChoiceField.vue';
import ChoiceRow from '../../../ui/ChoiceRow.vue';
import { MEASURES, SIDES } from '../partNames.ts';
import SourceField from '../SourceField.vue';
import PartRows from './PartRows.vue';
import ToneCurve from '../ToneCurve.vue';
import ToneRange from '../ToneRange.vue';

const props = defineProps<{ part: TonePart; seenFrom: ItemId; size: Size }>();
const session = useSession();
const tools = useMaskTools();

/** A free curve begins as what is covered now. */
function chooseSide(side: ToneSide): void {
  const begins = side === 'curve' && props.part.side !== 'curve' && !props.part.curve;
  tools.change(begins ? { side, curve: curveLike(props.part) } : { side });
}
</script>

<template>
  <div class="flex flex-col gap-1.5">
    <div class="grid grid-cols-2 gap-2">
      <SourceField label="Source" quiet title="The picture whose tones are read" :value="part.source" @choose="tools.change({ source: $event })" />
      <ChoiceField label="Measure" quiet title="What is read of each pixel" :value="part.measure" :choices="MEASURES" @choose="tools.change({ measure: $event })" />
    </div>
    <ChoiceRow label="Side" :value="part.side" :choices="SIDES" @choose="chooseSide" />
    <ToneCurve v-if="part.side === 'curve'" :seen-from="seenFrom" :size="size" :tone="part" @preview="tools.preview" @commit="tools.commit" @cancel="session.cancelDrag()" />
    <ToneRange v-else :seen-from="seenFrom" :size="size" :tone="part" @preview="tools.preview" @commit="tools.commit" @cancel="session.cancelDrag()" />
    <PartRows v-if="part.side !== 'curve'" :part="part" />
    <div v-if="part.side !== 'curve'" class="flex items-center gap-1.5">
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': tools.tool === 'in' }" :aria-pressed="tools.tool === 'in'" title="Drag over the picture to include its tones" @click="tools.tool = tools.tool === 'in' ? 'brush' : 'in'"><PhEyedropper :size="14" /> Include</button>
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': tools.tool === 'out' }" :aria-pressed="tools.tool === 'out'" title="Drag over the picture to exclude its tones" @click="tools.tool = tools.tool === 'out' ? 'brush' : 'out'">Exclude</button>
      <button v-if="tools.hasPicked" type="button" class="btn h-7 px-2" title="Forget what was picked, and pick again" @click="tools.startAnew()">Start anew</button>
      <button type="button" class="btn ml-auto h-7 px-2" title="Include all tones" @click="tools.change(WHOLE_RANGE)">All</button>
    </div>
  </div>
</template>
