<script setup lang="ts">
/** Gradients, ellipses and outlines: their numbers; they are drawn and moved on the canvas. */
import { computed } from 'vue';
import { addStroke } from '#core/scene/edits/painting.ts';
import { StrokeId } from '#core/ids.ts';
import type { GradientPart } from '#core/parts/gradient.ts';
import type { OutlinePart } from '#core/parts/outline.ts';
import type { RadialPart } from '#core/parts/radial.ts';
import { useBench } from '../../../stores/bench.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import ChoiceRow from '../../../ui/ChoiceRow.vue';
import PartRows from './PartRows.vue';

const props = defineProps<{ part: GradientPart | RadialPart | OutlinePart }>();
const tools = useMaskTools();
const session = useSession();
const bench = useBench();

const PROFILES = [{ value: 'linear', label: 'Linear' }, { value: 'smooth', label: 'Smooth' }] as const;
const SIDES = [{ value: 'inside', label: 'Inside' }, { value: 'outside', label: 'Outside' }] as const;
const side = computed(() => (props.part.refine.inverted ? 'outside' : 'inside'));

const toggleDraw = () => { tools.tool = tools.tool === 'draw' ? 'brush' : 'draw'; };

/** Fills the painted part within the outline, by the brush's effect and strength. */
function fill(part: OutlinePart): void {
  const { effect, grey, strength } = bench.state.brush;
  const stroke = { id: StrokeId.parse(crypto.randomUUID()), fill: true as const, outline: part.corners, feather: part.feather, target: effect === 'hide' ? 0 : grey, strength, stencil: null };
  session.dispatch(addStroke({ ...tools.place!, stroke }));
}
</script>

<template>
  <div class="flex flex-col gap-2">
    <template v-if="part.kind === 'gradient'">
      <p class="text-[12px] text-soft">Drag its two ends on the picture, or the midpoint between them; or redraw it.</p>
      <ChoiceRow label="Profile" :value="part.profile" :choices="PROFILES" @choose="tools.change({ profile: $event })" />
      <PartRows :part="part" />
      <button type="button" class="btn h-7 self-start px-2" :class="{ 'btn-main': tools.tool === 'draw' }" :aria-pressed="tools.tool === 'draw'" @click="toggleDraw">Redraw</button>
    </template>
    <template v-else-if="part.kind === 'radial'">
      <p class="text-[12px] text-soft">Drag its centre and its two radii on the picture (the first also rotates it), or redraw it from the centre outwards.</p>
      <ChoiceRow label="Side" :value="side" :choices="SIDES" @choose="tools.refine({ inverted: $event === 'outside' })" />
      <PartRows :part="part" />
      <button type="button" class="btn h-7 self-start px-2" :class="{ 'btn-main': tools.tool === 'draw' }" :aria-pressed="tools.tool === 'draw'" @click="toggleDraw">Redraw</button>
    </template>
    <template v-else>
      <p class="text-[12px] text-soft">Drag to draw freehand, or click corner by corner; press Enter or click the first corner to close it.</p>
      <ChoiceRow label="Side" :value="side" :choices="SIDES" @choose="tools.refine({ inverted: $event === 'outside' })" />
      <PartRows :part="part" />
      <div class="flex gap-1.5">
        <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': tools.tool === 'draw' }" :aria-pressed="tools.tool === 'draw'" @click="toggleDraw">{{ part.corners.length ? 'Redraw' : 'Draw' }}</button>
        <button type="button" class="btn h-7 px-2" :disabled="part.corners.length < 6" title="Fills the painted part within the outline, with the brush's strength" @click="fill(part)">Fill the outline</button>
      </div>
    </template>
  </div>
</template>
