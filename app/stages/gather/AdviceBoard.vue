<script setup lang="ts">
/** What Lusket proposes for the frames, each with its reason and one press to accept. */
import { PhX } from '@phosphor-icons/vue';
import { computed } from 'vue';
import { prepareStack, setChoice } from '#core/scene/edits/gather.ts';
import type { FrameId } from '#core/ids.ts';
import { frameOfLayer } from '#core/scene/item.ts';
import { layersOf } from '#core/scene/tree.ts';
import { useSession } from '../../stores/session.ts';
import { frameLabel } from '../../frameLabel.ts';
import { sayShare } from '../../wording.ts';
import type { Advice } from './useAdvice.ts';

const props = defineProps<{ advice: Advice }>();
const emit = defineEmits<{ close: []; base: [frame: FrameId, run?: () => void] }>();
const session = useSession();

const labelOf = (index: number) => frameLabel(session.scene, props.advice.frames[index].id);
const idOf = (index: number) => props.advice.frames[index].id;

const base = computed(() => {
  const { base: best, present } = props.advice;
  const share = sayShare(best.needs);
  const needs = `Another frame holds ${share} of the picture better, by noise, local contrast or clipping`;
  const against = present ? `; with ${labelOf(present.frame)} it is ${sayShare(present.needs)}` : '';
  return `${needs}${against}. It lies ${best.distance.toFixed(1)} stops from the others on average.`;
});

const idle = computed(() => {
  const shares = [...new Set(props.advice.idle.map(({ adds }) => sayShare(adds)))];
  const parts = shares.map((share) => {
    const labels = props.advice.idle.filter(({ adds }) => sayShare(adds) === share).map(({ frame }) => labelOf(frame));
    return labels.length === 1 ? `${labels[0]} adds ${share}` : `${labels.join(', ')} add ${share} each`;
  });
  return `${parts.join('; ')} of the picture to what the other frames hold.`;
});

const bridges = computed(() => props.advice.bridges.map(({ frame, gap }) => `Without ${labelOf(frame)}, ${gap.toFixed(1).replace('.0', '')} stops would gape, which do not blend naturally.`).join(' '));

const order = computed(() => {
  const { order: frames, reveals } = props.advice.order;
  return frames.map((frame, place) => `${labelOf(frame)} over ${sayShare(reveals[place])}`).join(', then ');
});

const isPrepared = computed(() => {
  const { base: best, order: wanted } = props.advice;
  const ids = wanted.order.map(idOf);
  const stacked = layersOf(session.scene).map(frameOfLayer);
  return session.scene.base === idOf(best.frame) && ids.every((id, place) => stacked[place] === id);
});

function leaveOut(): void {
  session.dispatch(setChoice({ frameIds: props.advice.idle.map(({ frame }) => idOf(frame)), choice: 'out' }));
}

/** The base at the bottom, the others above it in the best order, hidden. */
function prepare(): void {
  const { base: best, order: wanted } = props.advice;
  emit('base', idOf(best.frame), () => session.dispatch(prepareStack({ base: idOf(best.frame), order: wanted.order.map(idOf) })));
}
</script>

<template>
  <section class="mb-4 shrink-0 rounded-md bg-panel py-1.5 pl-3.5 pr-2" aria-label="Advice" data-skip="Advice" tabindex="-1">
    <dl class="grid grid-cols-[minmax(0,auto)_minmax(40%,1fr)_auto] items-center gap-x-4 [&>*]:py-1">
      <dt class="font-semibold">Base: {{ labelOf(advice.base.frame) }}</dt>
      <dd class="text-soft">{{ base }}</dd>
      <dd class="flex items-center justify-end gap-1">
        <button v-if="advice.present" type="button" class="btn h-7" @click="emit('base', idOf(advice.base.frame))">Use as base</button>
        <span v-else class="px-2 text-soft">is the base</span>
        <button type="button" class="rounded p-1.5 text-soft hover:bg-raised" aria-label="Dismiss the advice" title="Dismiss the advice" @click="emit('close')"><PhX :size="14" /></button>
      </dd>
      <template v-if="advice.idle.length > 0">
        <dt class="font-semibold">Not needed: {{ advice.idle.map(({ frame }) => labelOf(frame)).join(', ') }}</dt>
        <dd class="text-soft">{{ idle }}</dd>
        <dd class="text-right"><button type="button" class="btn h-7" @click="leaveOut">Leave {{ advice.idle.length === 1 ? 'it' : 'them' }} out</button></dd>
      </template>
      <template v-if="advice.bridges.length > 0">
        <dt class="font-semibold">Keep: {{ advice.bridges.map(({ frame }) => labelOf(frame)).join(', ') }}</dt>
        <dd class="text-soft">{{ bridges }}</dd>
        <dd />
      </template>
      <template v-if="advice.order.order.length > 0">
        <dt class="font-semibold">Stack: {{ [advice.base.frame, ...advice.order.order].map(labelOf).join(' › ') }}</dt>
        <dd class="text-soft">Least to reveal: {{ order }} of the picture.</dd>
        <dd class="text-right">
          <span v-if="isPrepared" class="px-2 text-soft">done</span>
          <button v-else type="button" class="btn h-7" @click="prepare">Prepare the stack</button>
        </dd>
      </template>
    </dl>
  </section>
</template>
