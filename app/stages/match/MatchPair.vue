<script setup lang="ts">
/** How far the frame lies from the one below it, in words, and bringing it closer. */
import { computed } from 'vue';
import type { FrameId } from '#core/ids.ts';
import type { PairDistance } from '#core/checks/pairDistance.ts';
import { ADJUSTMENTS } from '#core/develop/list.ts';
import type { Frame } from '#core/scene/frame.ts';
import RuleSlider from '../../ui/RuleSlider.vue';
import { frameLabel } from '../../frameLabel.ts';
import { useSession } from '../../stores/session.ts';
import type { PairMatch } from './usePairMatch.ts';

const session = useSession();
const props = defineProps<{ match: PairMatch; other: string; mayChange: boolean; /** Frames as they lie, the base first. */ order: readonly FrameId[] }>();
const { distance, state, isStale, share, proposal, isShown, progress } = props.match;

/** Fewer kelvins are as warm. */
const LEAST_KELVIN = 30;
const sayKelvin = (kelvin: number) => `${Math.round(Math.abs(kelvin) / 10) * 10} K`;
const whiteOf = ({ develop }: Frame) => ({ ...ADJUSTMENTS.whiteBalance.rest, ...develop.whiteBalance });

function say({ stops, kelvin, along }: PairDistance): string {
  const light = Math.abs(stops) < 0.05 ? 'As bright' : `${Math.abs(stops).toFixed(1)} stops ${stops > 0 ? 'brighter' : 'darker'}`;
  const warmth = Math.abs(kelvin) < LEAST_KELVIN ? 'as warm' : `${sayKelvin(kelvin)} ${kelvin > 0 ? 'warmer' : 'cooler'}`;
  return `${light}, ${warmth} ${along === 'seam' ? 'along the seam' : 'where both hold the strongest edges'}.`;
}
const said = computed(() => distance.value && say(distance.value));
/** What is proposed, in the order in which it would be done by hand. */
const proposed = computed(() => {
  const now = proposal.value;
  if (!now) return '';
  const { raised, whiteBalance, ends, darker } = now;
  const steps = Math.abs(raised) < 0.05 ? [] : [`${Math.abs(raised).toFixed(1)} stops ${raised > 0 ? 'more' : 'less'} light`];
  const opened = ends && ends.darks.stops !== 0 ? `darks opened by ${ends.darks.stops.toFixed(1)}` : '';
  const held = ends && ends.brights.stops !== 0 ? `brights held by ${Math.abs(ends.brights.stops).toFixed(1)}` : '';
  const warmer = whiteBalance.kelvin - whiteOf(now.own).kelvin;
  if (Math.abs(warmer) >= LEAST_KELVIN) steps.push(`${sayKelvin(warmer)} ${warmer > 0 ? 'warmer' : 'cooler'}`);
  const both = [opened, held].filter(Boolean).join(', ');
  if (both) steps.push(darker.id === now.own.id ? both : `on ${frameLabel(session.scene, darker.id)} ${both}`);
  return steps.join('; ');
});
function change(value: number): void {
  share.value = value;
  if (isShown.value) props.match.show();
}
</script>

<template>
  <section class="flex flex-col gap-1.5" aria-label="Match these two">
    <div class="flex items-center justify-between gap-2">
      <h3 class="caption truncate">Against {{ other }}</h3>
      <button
        v-if="!progress" type="button" class="btn ml-auto h-7 shrink-0 px-2" :disabled="!mayChange || isShown" :title="`Brings every frame closer to the one below it by ${Math.round(share * 100)} %, from the base outwards`"
        @click="match.matchAll(order)"
      >
        Match all
      </button>
      <button type="button" class="btn h-7 shrink-0 px-2" :disabled="state === 'measuring' || isShown || progress !== undefined" @click="match.measure()">{{ state === 'measuring' ? 'Measuring…' : 'Measure' }}</button>
    </div>
    <p v-if="progress" class="flex items-center justify-between text-soft" role="status">Matching {{ progress.done + 1 }} of {{ progress.of }}… <button type="button" class="btn h-7 px-2" @click="match.stopAll()">Stop</button></p>
    <p v-else-if="state === 'nothing'" class="text-soft" role="status">Nothing to match: no tones that both frames hold, neither clipped nor in the noise. Choose a neighbour closer in exposure.</p>
    <p v-else-if="state === 'unread'" class="text-soft" role="status">Not to be measured at the moment: frames are still being read. Measure again when they are there.</p>
    <template v-else-if="said">
      <p role="status" data-testid="distance" :class="{ 'text-soft': isStale }">{{ said }}</p>
      <RuleSlider slim label="Close by" unit="%" :shown="100" :value="share" :min="0" :max="1" :step="0.01" :usual="0.6" title="How much of the distance is closed; all of it looks flat" @preview="change" @commit="change" />
      <p v-if="proposed" class="text-[11px] leading-4 text-soft" data-testid="proposed">{{ proposed }}</p>
      <div class="flex gap-1.5">
        <template v-if="isShown">
          <button type="button" class="btn btn-main h-7 px-2" @click="match.take()">Take it</button>
          <button type="button" class="btn h-7 px-2" @click="match.giveUp()">Leave it</button>
        </template>
        <button v-else type="button" class="btn h-7 px-2" :disabled="!mayChange || isStale" @click="match.show()">Show it closer</button>
      </div>
    </template>
  </section>
</template>
