<script setup lang="ts">
/** How one looks at the frame on the base, how closely, and what the hand does. */
import ChoiceRow from '../../ui/ChoiceRow.vue';
import LoupeButtons from '../../ui/LoupeButtons.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import type { AlignLook } from './useAlignView.ts';

defineProps<{ scale: number; mayPlace: boolean }>();
const emit = defineEmits<{ zoom: [scale: number]; fit: [] }>();
const look = defineModel<AlignLook>('look', { required: true });
const share = defineModel<number>('share', { required: true });
const speed = defineModel<string>('speed', { required: true });
const tool = defineModel<'look' | 'move' | 'corners' | 'pairs'>('tool', { required: true });

const LOOKS = [
  { value: 'difference', label: 'Difference', hint: 'Exposures matched: even grey where both agree' },
  { value: 'edges', label: 'Edges', hint: 'Edges of the base dark, of the frame bright; where they coincide none show' },
  { value: 'halves', label: 'Half', hint: 'The frame over the base, half transparent' },
  { value: 'blink', label: 'Blink', hint: 'Base and frame alternate' },
  { value: 'divider', label: 'Divider', hint: 'Base on the left, frame on the right' },
  { value: 'lies', label: 'Frame', hint: 'The frame as it is placed, as bright as the base' },
] as const;
const SPEEDS = [{ value: '900', label: 'Slow' }, { value: '500', label: 'Even' }, { value: '200', label: 'Quick' }] as const;
const TOOLS = [
  { value: 'look', label: 'Pan', hint: 'Drag to move the view' },
  { value: 'move', label: 'Move', hint: 'Drag to move the frame; arrow keys move it by a pixel, with Shift by a tenth' },
  { value: 'corners', label: 'Corners', hint: 'Drag each corner separately' },
  { value: 'pairs', label: 'Pairs', hint: 'Click a point on the base, then the same point on the frame' },
] as const;
</script>

<template>
  <div class="flex h-14 shrink-0 items-center gap-4 bg-panel pl-1 pr-3" role="toolbar" aria-label="View and placing by hand">
    <ChoiceRow label="View" :value="look" :choices="LOOKS" @choose="look = $event" />
    <RuleSlider v-if="look === 'halves'" class="w-25" label="Frame" unit="%" :shown="100" :value="share" :min="0" :max="1" :step="0.01" :usual="0.5" @preview="share = $event" @commit="share = $event" />
    <ChoiceRow v-if="look === 'blink'" label="Speed" :value="speed" :choices="SPEEDS" @choose="speed = $event" />
    <ChoiceRow label="Hand" class="ml-auto" :value="tool" :choices="TOOLS.map((each) => ({ ...each, disabled: each.value !== 'look' && !mayPlace }))" @choose="tool = $event" />
    <LoupeButtons :scale="scale" @zoom="emit('zoom', $event)" @fit="emit('fit')" />
  </div>
</template>
