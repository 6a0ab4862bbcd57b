<script setup lang="ts">
/** Spots of the blend: how the next are covered, the one at hand, all of them, and dust that stands in all frames. */
import { PhTrash } from '@phosphor-icons/vue';
import { computed, onBeforeUnmount, watch } from 'vue';
import type { FrameId } from '#core/ids.ts';
import { removeSpots } from '#core/scene/edits/retouching.ts';
import { middleOfSpot, type RetouchSpot } from '#core/scene/retouch.ts';
import { frameLabel } from '../../frameLabel.ts';
import { useBench } from '../../stores/bench.ts';
import { type SpotHow, useFinish } from '../../stores/finish.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import ProgressLine from '../../ui/ProgressLine.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import { useDust } from './useDust.ts';
import { useSpots } from './useSpots.ts';

/** A place of the scene is to be seen, at a scale or as large as now. */
const emit = defineEmits<{ look: [at: { x: number; y: number }, scale?: number] }>();
const session = useSession();
const finish = useFinish();
const bench = useBench();
const { nextFrame, change, again, takeFrom } = useSpots();

const HOWS: readonly { value: SpotHow; label: string; hint: string }[] = [
  { value: 'heal', label: 'Heal', hint: 'Texture from elsewhere, light and colour of the surroundings' },
  { value: 'clone', label: 'Clone', hint: 'A copy as it is' },
  { value: 'frame', label: 'Other frame', hint: 'The same place as another frame has it: for what moved' },
];
const JOINED = [{ value: 'heal', label: 'Heal' }, { value: 'clone', label: 'Clone' }] as const;
const FLIPS = [{ value: 'none', label: 'As it is' }, { value: 'across', label: 'Mirrored' }, { value: 'down', label: 'Upside down' }] as const;
const frames = computed(() => session.scene.frames.filter(({ choice }) => choice !== 'out').map(({ id }) => ({ value: id as string, label: frameLabel(session.scene, id) })));
const spot = computed(() => finish.spot);
const sources = computed(() => [{ value: '', label: 'elsewhere in the blend' }, ...frames.value]);
function drag(to: Parameters<typeof change>[1]): void {
  if (spot.value) change(spot.value, to, 'spot panel');
}
function commit(to: Parameters<typeof change>[1]): void {
  drag(to);
  session.closeDrag();
}

const { progress, find, stop, next, accept } = useDust();
/** The picture at 100 % around what is looked at. */
watch(() => finish.speck, (speck, before) => {
  if (speck) emit('look', speck, 1);
  else if (before) bench.state.viewport = { ...bench.state.viewport, fit: true };
});
function choose(chosen: RetouchSpot): void {
  finish.spotId = chosen.id;
  emit('look', middleOfSpot(chosen));
}
onBeforeUnmount(() => {
  stop();
  finish.dust = undefined;
});
const kinds = computed(() => session.scene.retouch.map((each, i) => ({ spot: each, name: `${i + 1} · ${each.frame ? `from ${frameLabel(session.scene, each.frame)}` : each.how === 'heal' ? 'healed' : 'cloned'}${each.path.length > 1 ? ', a way' : ''}` })));
</script>

<template>
  <aside class="flex w-76 shrink-0 flex-col gap-2 overflow-y-auto bg-panel px-3 py-2.5 [scrollbar-width:thin]" aria-label="Spots" data-skip="Spots" tabindex="-1" @keydown.esc="session.cancelDrag()">
    <h2 class="text-[15px] font-semibold">Cover the next</h2>
    <ChoiceRow label="How the next spots are covered" :value="finish.how" :choices="HOWS" @choose="finish.how = $event" />
    <ChoiceField v-if="finish.how === 'frame'" label="Frame" :value="nextFrame ?? ''" :choices="frames" @choose="finish.frame = $event" />
    <p class="text-[11px] text-soft">{{ finish.busy ? 'Looking for a place that covers it…' : HOWS.find(({ value }) => value === finish.how)?.hint }}</p>
    <div class="flex flex-col gap-1.5 rounded bg-sunken p-2" role="group" aria-label="Dust">
      <template v-if="finish.dust && finish.speck">
        <p>Visit {{ finish.dust.at + 1 }} of {{ finish.dust.found.length }}: within the ring, {{ Math.round(100 * finish.speck.depth) }} % darker wherever a frame can tell.</p>
        <div class="flex gap-1.5"><button type="button" class="btn btn-main h-7 px-2" :disabled="finish.busy || session.readOnly" @click="accept">Cover it</button><button type="button" class="btn h-7 px-2" @click="next">Leave it</button><button type="button" class="btn ml-auto h-7 px-2" @click="finish.dust = undefined">End</button></div>
      </template>
      <ProgressLine v-else-if="progress !== undefined" text="Looking through all frames" :share="progress" stoppable @stop="stop" />
      <button v-else type="button" class="btn h-7 justify-center px-2" title="What stands at the same place of the sensor in all frames that can tell" @click="find">Find dust</button>
    </div>
    <section v-if="spot" class="flex flex-col gap-1.5 border-t border-line pt-2" aria-label="The spot at hand">
      <h2 class="flex items-center justify-between text-[15px] font-semibold">At hand <button type="button" class="rounded p-1 hover:bg-raised" aria-label="Remove the spot at hand" title="Remove (Del)" @click="session.dispatch(removeSpots({ ids: [spot.id] }))"><PhTrash :size="14" /></button></h2>
      <ChoiceRow label="How it is joined" :value="spot.how" :choices="JOINED" @choose="commit({ how: $event })" />
      <ChoiceField label="Taken" :value="(spot.frame as string | null) ?? ''" :choices="sources" @choose="takeFrom(spot, ($event || null) as FrameId | null)" />
      <RuleSlider slim label="Radius" unit="px" :value="Math.round(spot.radius)" :min="1" :max="1000" :step="1" :usual="40" geometric @preview="drag({ radius: $event })" @commit="commit({ radius: $event })" />
      <RuleSlider slim label="Softness" unit="%" :shown="100" :value="spot.soft" :min="0" :max="1" :step="0.01" :usual="0.3" @preview="drag({ soft: $event })" @commit="commit({ soft: $event })" />
      <RuleSlider slim label="Opacity" unit="%" :shown="100" :value="spot.opacity" :min="0" :max="1" :step="0.01" :usual="1" @preview="drag({ opacity: $event })" @commit="commit({ opacity: $event })" />
      <RuleSlider v-if="spot.frame" slim label="Lighter" unit="EV" :value="spot.stops" :min="-16" :max="16" :step="0.05" :usual="0" @preview="drag({ stops: $event })" @commit="commit({ stops: $event })" />
      <template v-else>
        <ChoiceRow label="Turned over" :value="spot.flip" :choices="FLIPS" @choose="commit({ flip: $event })" />
        <button type="button" class="btn h-7 self-start px-2" :disabled="session.readOnly" title="The best match of what surrounds it, away from other spots" @click="again(spot)">Propose a place again</button>
      </template>
    </section>
    <section v-if="kinds.length > 0" class="flex flex-col gap-0.5 border-t border-line pt-2" aria-label="All spots">
      <h2 class="pb-1 text-[15px] font-semibold">{{ kinds.length }} spot{{ kinds.length === 1 ? '' : 's' }}</h2>
      <div v-for="each in kinds" :key="each.spot.id" class="flex items-center gap-1 rounded pl-1.5" :class="each.spot.id === finish.spotId ? 'bg-raised' : ''">
        <button type="button" class="min-w-0 flex-1 truncate py-0.5 text-left" :aria-pressed="each.spot.id === finish.spotId" @click="choose(each.spot)">{{ each.name }}</button>
        <button type="button" class="rounded px-1 text-[11px] text-soft hover:bg-panel" :aria-pressed="each.spot.visible" :aria-label="`${each.spot.visible ? 'Visible' : 'Hidden'}: spot ${each.name}`" @click="change(each.spot, { visible: !each.spot.visible })">{{ each.spot.visible ? 'On' : 'Off' }}</button>
      </div>
    </section>
  </aside>
</template>
