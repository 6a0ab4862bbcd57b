<script setup lang="ts">
/** The open part, or the mask as a whole: how it is made, and how it is refined. */
import { computed, ref, watch } from 'vue';
import type { Size } from '#core/raster/size.ts';
import { useSession } from '../../stores/session.ts';
import { partLabel } from './partNames.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import ChannelCompare from './ChannelCompare.vue';
import ColourEditor from './parts/ColourEditor.vue';
import OtherEditor from './parts/OtherEditor.vue';
import ShapeEditor from './parts/ShapeEditor.vue';
import ToneEditor from './parts/ToneEditor.vue';
import RefineEditor from './RefineEditor.vue';
import ToneLadder from './ToneLadder.vue';

defineProps<{ size: Size }>();
const session = useSession();
const tools = useMaskTools();

type Leaf = 'make' | 'ladder' | 'channels' | 'refine';
const leaf = ref<Leaf>('make');
const leaves = computed<{ value: Leaf; label: string }[]>(() => {
  if (tools.part?.kind === 'tone') return [{ value: 'make', label: 'Range' }, { value: 'ladder', label: 'Ladder' }, { value: 'channels', label: 'Channels' }, { value: 'refine', label: 'Refine' }];
  return [{ value: 'make', label: 'Make' }, { value: 'refine', label: 'Refine' }];
});
watch(() => tools.part?.id, () => { leaf.value = 'make'; });
watch(leaf, () => { tools.tool = 'brush'; });
const part = computed(() => tools.part);
const seenFrom = computed(() => tools.place!.owner);
</script>

<template>
  <section v-if="part" class="flex flex-col gap-1.5 px-3 py-2" :aria-label="`Part ${part.id}`">
    <ChoiceRow label="Section" :value="leaf" :choices="leaves" @choose="leaf = $event" />
    <RefineEditor v-if="leaf === 'refine'" :key="part.id" :refine="part.refine" :what="partLabel(session.scene, part)" />
    <template v-else-if="part.kind === 'tone'">
      <ToneLadder v-if="leaf === 'ladder'" :part="part" :seen-from="seenFrom" :size="size" />
      <ChannelCompare v-else-if="leaf === 'channels'" :part="part" :seen-from="seenFrom" :size="size" />
      <ToneEditor v-else :part="part" :seen-from="seenFrom" :size="size" />
    </template>
    <ColourEditor v-else-if="part.kind === 'colour'" :part="part" />
    <ShapeEditor v-else-if="part.kind === 'gradient' || part.kind === 'radial' || part.kind === 'outline'" :part="part" />
    <OtherEditor v-else :part="part" />
  </section>
  <section v-else-if="tools.mask" class="flex flex-col gap-1.5 px-3 py-2" aria-label="Whole mask">
    <RefineEditor key="whole" :refine="tools.mask.refine" what="the whole mask" />
  </section>
</template>
