<script setup lang="ts">
/** How much noise there is in what an adjustment changes: measured once it is first to be taken out, and anew by a press. */
import { computed } from 'vue';
import type { FrameNoise } from '#core/checks/frameNoise.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useSession } from '../../../stores/session.ts';
import type { NoiseBelow } from './useNoiseBelow.ts';

const props = defineProps<{ noise: NoiseBelow }>();
const emit = defineEmits<{ commit: [change: { measured: FrameNoise }] }>();
const session = useSession();
const notices = useNotices();

const known = computed(() => props.noise.known.value);
const isBusy = computed(() => props.noise.isBusy.value);
/** In per cent of the range. */
const say = (deviation: number) => `${(100 * deviation).toFixed(2)} %`;
async function measure(): Promise<void> {
  const measured = await props.noise.measure();
  if (measured) emit('commit', { measured });
  else notices.tell('Its noise cannot be told: hardly any of it is smooth and neither black nor white, or saving with loss has taken its finest grain. What was taken for it stays.');
}
</script>

<template>
  <div class="flex items-center justify-between gap-2 text-[11px] text-soft">
    <span role="status">{{ isBusy ? 'Measuring…' : known ? `Noise there: ${say(known.brightness)} of brightness, ${say(known.colour)} of colour` : 'Not measured: 1 % is taken for it' }}</span>
    <button type="button" class="btn h-6.5 shrink-0 px-2" :disabled="isBusy || session.readOnly" title="Measures the noise of what this changes anew" @click="measure">Measure</button>
  </div>
</template>
