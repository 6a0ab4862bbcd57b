<script setup lang="ts">
/** The frames of one moment: its name and time, its bracket on the stop scale, its frames. */
import { PhArrowLineLeft } from '@phosphor-icons/vue';
import { computed } from 'vue';
import { keepFrames } from '#core/scene/edits/gather.ts';
import type { FrameId } from '#core/ids.ts';
import { bracketsOf, type Moment } from '#core/scene/moments.ts';
import { relativeEvs } from '#core/scene/frame.ts';
import { useSession } from '../../stores/session.ts';
import NameField from '../../ui/NameField.vue';
import StopScale from '../../ui/StopScale.vue';
import { sayEv } from '../../wording.ts';

const props = defineProps<{ moment: Moment; /** The moment before, which it can be joined to. */ before: string | undefined; lit: string | undefined; /** It is the only one, and has all the width. */ alone: boolean; cardWidth: number }>();
const emit = defineEmits<{ point: [id: string | undefined]; rename: [name: string]; join: [] }>();
const session = useSession();

const marks = computed(() => {
  const evs = relativeEvs(session.scene.frames);
  return props.moment.frames.flatMap((frame) => {
    const ev = evs[session.scene.frames.indexOf(frame)];
    return ev === null ? [] : [{ id: frame.id, ev, label: `${frame.shot.estimated ? '≈' : ''}${sayEv(ev)}`, strong: frame.id === session.scene.base }];
  });
});
/** The moment's brackets, where there are several of more than one frame. */
const brackets = computed(() => {
  const all = bracketsOf(props.moment.frames);
  if (all.filter(({ length }) => length > 1).length < 2) return [];
  const evs = relativeEvs(session.scene.frames);
  return all.map((frames) => {
    const stops = frames.map((frame) => evs[session.scene.frames.indexOf(frame)]);
    const ids = frames.map(({ id }) => id);
    const isKept = props.moment.frames.every(({ id, choice }) => (choice === 'out') !== ids.includes(id));
    return { ids, isKept, text: stops.map((ev) => (ev === null ? '?' : sayEv(ev))).join(' · ') };
  });
});
function keep(ids: readonly FrameId[]): void {
  session.dispatch(keepFrames({ keep: [...ids], leave: props.moment.frames.flatMap(({ id }) => (ids.includes(id) ? [] : [id])) }));
}
const span = computed(() => {
  const times = props.moment.frames.flatMap(({ shot }) => shot.takenAt?.slice(11, 19) ?? []).sort();
  return times.length === 0 ? '' : times[0] === times.at(-1) ? times[0] : `${times[0]} to ${times.at(-1)}`;
});
</script>

<template>
  <section class="mb-6 min-w-0 max-w-full" :style="{ flex: alone ? '1 1 100%' : `0 0 ${moment.frames.length * cardWidth + (moment.frames.length - 1) * 16}px` }" :aria-label="`Moment ${moment.name}`">
    <header class="mb-2 flex min-h-6 items-center gap-3 text-on-surround">
      <NameField
        class="rounded bg-transparent px-1 text-[15px] font-semibold focus:bg-panel focus:text-ink" :label="`Name of the moment ${moment.name}`" :most="80" :size="Math.max(5, moment.name.length)" :value="moment.name"
        @commit="emit('rename', $event)"
      />
      <span class="min-w-0 truncate text-[12px]">{{ moment.frames.length }} {{ moment.frames.length === 1 ? 'frame' : 'frames' }}<template v-if="span"> · {{ span }}</template></span>
      <button v-if="before !== undefined" type="button" class="ml-auto rounded p-1 hover:bg-panel hover:text-ink" :aria-label="`Join to the moment before: ${moment.name}`" :title="`Put these frames into “${before}”, the moment before`" @click="emit('join')"><PhArrowLineLeft :size="16" /></button>
    </header>
    <div v-if="brackets.length > 0" class="mb-2 flex flex-wrap items-center gap-1.5 text-[12px] text-on-surround" role="group" :aria-label="`Brackets of ${moment.name}`">
      {{ brackets.length }} brackets
      <button
        v-for="(bracket, index) in brackets" :key="index" type="button" class="rounded px-1.5 py-0.5" :class="bracket.isKept ? 'bg-panel font-semibold text-ink' : 'bg-panel/50 hover:bg-panel hover:text-ink'" :aria-pressed="bracket.isKept"
        :title="`Take these ${bracket.ids.length} frames, and leave the others of this moment out`" @click="keep(bracket.ids)"
      >
        {{ bracket.text }}
      </button>
    </div>
    <StopScale v-if="marks.length > 1" class="mx-6 mb-3" :marks="marks" :lit="lit" @point="emit('point', $event)" />
    <p v-if="marks.length < moment.frames.length" class="mb-2 text-[12px] text-on-surround">{{ moment.frames.length - marks.length }} of these frames carry no exposure data and are not on the scale.</p>
    <slot />
  </section>
</template>
