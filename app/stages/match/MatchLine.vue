<script setup lang="ts">
/** How two neighbours are looked at, how closely, and what a click on the picture does. */
import { computed } from 'vue';
import LimitsChoice from '../../bench/LimitsChoice.vue';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import LoupeButtons from '../../ui/LoupeButtons.vue';
import type { MatchLook } from './useMatchView.ts';

defineProps<{ scale: number; names: { own: string; other: string } }>();
const session = useSession();
const developed = computed(() => session.scene.frames.filter(({ develop }) => Object.keys(develop).length > 0).length);
const emit = defineEmits<{ zoom: [scale: number]; fit: [] }>();
const look = defineModel<MatchLook>('look', { required: true });

const LOOKS = [
  { value: 'beside', label: 'Side by side', hint: 'Both frames, the lower one on the left' },
  { value: 'divider', label: 'Divider', hint: 'Both in one picture, divided by an upright' },
  { value: 'blink', label: 'Blink', hint: 'Both alternate' },
  { value: 'blend', label: 'Blend', hint: 'The finished picture' },
] as const;
</script>

<template>
  <div class="flex h-14 shrink-0 items-center gap-4 bg-panel pl-1 pr-3" role="toolbar" aria-label="View">
    <ChoiceRow label="View" :value="look" :choices="LOOKS" @choose="look = $event" />
    <p v-if="look !== 'blend'" class="min-w-0 truncate text-soft"><span class="font-semibold text-ink">{{ names.own }}</span> on {{ names.other }}</p>
    <p class="ml-auto shrink-0 text-soft" data-testid="developed">{{ developed === 0 ? 'as taken' : `${developed} developed` }}</p>
    <LimitsChoice class="shrink-0" label="Limits" />
    <LoupeButtons :scale="scale" @zoom="emit('zoom', $event)" @fit="emit('fit')" />
  </div>
</template>
