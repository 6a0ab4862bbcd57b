<script setup lang="ts">
/** Gather: all frames together, by moment and exposure; keep, compare, choose the base. */
import { PhColumns, PhLightbulb, PhPlus, PhSimCard } from '@phosphor-icons/vue';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { orderByExposure, removeFrame, renameScene } from '#core/scene/edits/frames.ts';
import { groupFrames, orderFrames, renameMoment, setChoice, setLabel, setMoment, readAlike, setReading } from '#core/scene/edits/gather.ts';
import type { FrameId } from '#core/ids.ts';
import { byTime, type Moment, momentsOf, startOf } from '#core/scene/moments.ts';
import { byExposure, type Frame, relativeEvs } from '#core/scene/frame.ts';
import { frameLabel } from '../../frameLabel.ts';
import { useFrames } from '../../stores/frames.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import NameField from '../../ui/NameField.vue';
import TimeScale from '../../ui/TimeScale.vue';
import { ACCEPTED } from '../../wording.ts';
import CardDialog from '../../card/CardDialog.vue';
import AdviceBoard from './AdviceBoard.vue';
import CompareView from './CompareView.vue';
import FrameCard from './FrameCard.vue';
import MomentGroup from './MomentGroup.vue';
import { useAdvice } from './useAdvice.ts';
import { useEstimates } from './useEstimates.ts';
import BaseQuestion from './BaseQuestion.vue';
import { useBaseChoice } from './useBaseChoice.ts';
import { moveFocus, useSheetKeys } from './useSheetKeys.ts';

const MOST_COMPARED = 4;
const ORDERS = [
  { value: 'exposure', label: 'Exposure' },
  { value: 'time', label: 'Time' },
  { value: 'name', label: 'Name' },
] as const;
type Order = (typeof ORDERS)[number]['value'];

const session = useSession();
const frames = useFrames();
const notices = useNotices();
const router = useRouter();
const advice = useAdvice();
useEstimates();

const lit = ref<string>();
const dropping = ref(false);
const cardWidth = ref(206);
const cardOpen = ref(false);
const adviceOpen = ref(true);
const marked = ref<FrameId[]>([]);
const compared = ref<Frame[]>([]);

const list = computed(() => session.scene.frames);
const moments = computed(() => momentsOf(list.value));
const order = computed<Order | ''>(() => {
  const isOrder = (sorted: readonly Frame[]) => sorted.every((frame, index) => frame === list.value[index]);
  if (isOrder(byExposure(list.value)) && relativeEvs(list.value).some((ev) => ev !== null)) return 'exposure';
  return list.value.some((frame) => startOf(frame) !== null) && isOrder(byTime(list.value)) ? 'time' : '';
});
const times = computed(() => moments.value.flatMap(({ name, frames: [first] }) => {
  const at = startOf(first);
  return at === null ? [] : [{ id: name, at, label: name }];
}));
/** Files that are read for the first time. */
const newcomers = computed(() => (frames.reading?.waiting ?? []).filter((name) => list.value.every(({ file }) => file.name !== name)));
const labelOf = (frame: Frame) => frameLabel(session.scene, frame.id);
const byId = (id: string) => list.value.find((frame) => frame.id === id);

const take = (files: FileList | null | undefined) => frames.take([...(files ?? [])]);
const isFirstOf = (moment: Moment, frame: Frame) => byTime(moment.frames)[0] === frame;

function sort(by: Order): void {
  session.dispatch(by === 'exposure' ? orderByExposure({}) : orderFrames({ by }));
}

function remove({ id, file }: Frame): void {
  session.dispatch(removeFrame({ frameId: id }));
  notices.tell(`${file.name} was removed from the scene.`, { action: { label: 'Undo', run: () => session.undo() } });
}

/** A moment that begins with a frame: it takes all that came after along. */
function split(moment: Moment, frame: Frame): void {
  const sorted = byTime(moment.frames);
  const later = sorted.slice(sorted.indexOf(frame));
  const time = frame.shot.takenAt?.slice(11, 19);
  const free = [time, `${moment.name}, later`].find((name) => name && moments.value.every((other) => other.name !== name));
  session.dispatch(setMoment({ frameIds: later.map(({ id }) => id), moment: free ?? `${moment.name} ${moments.value.length + 1}` }));
}

function join(index: number): void {
  const [into, from] = [moments.value[index - 1], moments.value[index]];
  session.dispatch(setMoment({ frameIds: from.frames.map(({ id }) => id), moment: into.name }));
}

function mark(id: FrameId): void {
  marked.value = marked.value.includes(id) ? marked.value.filter((each) => each !== id) : [...marked.value, id].slice(-MOST_COMPARED);
}

/** Shows frames large, side by side when they are several. */
function compare(ids: readonly string[]): void {
  compared.value = ids.flatMap((id) => byId(id) ?? []);
}

const bases = useBaseChoice();

useSheetKeys({
  choose: (id, choice) => session.dispatch(setChoice({ frameIds: [id as FrameId], choice })),
  base: (id) => bases.choose(id as FrameId),
  mark: (id) => mark(id as FrameId),
  look: (id) => compare(marked.value.length > 0 ? marked.value : [id ?? session.scene.base ?? '']),
  isActive: () => compared.value.length === 0,
});

onMounted(() => { document.title = `${session.scene.name} · Gather`; });
</script>

<template>
  <div class="relative h-full">
    <div
      class="flex h-full flex-col overflow-y-auto px-7 py-5" @dragover.prevent="dropping = true" @dragleave.self="dropping = false"
      @drop.prevent="dropping = false; take($event.dataTransfer?.files)" @keydown="moveFocus"
    >
      <header class="mb-3 flex shrink-0 items-center gap-3">
        <NameField
          class="min-w-24 flex-1 rounded bg-transparent px-1 text-xl font-semibold text-on-surround focus:bg-panel" label="Name of the scene" :most="200"
          :value="session.scene.name" @commit="session.dispatch(renameScene({ name: $event }))"
        />
        <ChoiceRow v-if="list.length > 1" label="Order of frames" :value="order" :choices="[...ORDERS]" @choose="sort($event as Order)" />
        <label v-if="list.length > 0" class="flex w-28 items-center gap-2 text-on-surround" title="Size of the frames on the sheet"><input v-model.number="cardWidth" type="range" class="rule" min="150" max="480" step="2" aria-label="Size of the frames on the sheet" /></label>
        <button v-if="list.length > 0" type="button" class="btn" :disabled="marked.length < 2" :title="marked.length < 2 ? 'Mark two to four frames first' : 'Compare them (Enter)'" @click="compare(marked)"><PhColumns :size="16" /> Compare{{ marked.length > 1 ? ` ${marked.length}` : '' }}</button>
        <button v-if="advice && !adviceOpen" type="button" class="btn" @click="adviceOpen = true"><PhLightbulb :size="16" /> Advice</button>
        <button type="button" class="btn px-2" aria-label="Add frames from the camera card" title="Add frames from the camera card" @click="cardOpen = true"><PhSimCard :size="16" /></button>
        <label class="btn cursor-pointer">
          <PhPlus :size="16" /> Add frames…
          <input type="file" multiple :accept="ACCEPTED" class="sr-only" data-testid="add-frames" @change="take(($event.target as HTMLInputElement).files)" />
        </label>
        <button type="button" class="btn btn-main" :disabled="list.length === 0" @click="router.push({ name: 'blend' })">Continue to Blend</button>
      </header>

      <ul v-if="frames.refused.length > 0" class="mb-4 shrink-0 rounded-md border-l-4 border-ink bg-panel p-3" role="alert" aria-label="Files left out">
        <li v-for="(each, index) in frames.refused" :key="index" class="py-0.5"><span class="font-semibold">{{ each.name }}</span> — {{ each.reason }}</li>
        <li class="mt-2"><button v-if="frames.refused.some(({ wrongSizeFile }) => wrongSizeFile)" type="button" class="btn mr-2 h-7" title="Only for frames of the same view: they are scaled to the size of the others" @click="frames.fitWrongSizes()">Fit {{ frames.refused.filter(({ wrongSizeFile }) => wrongSizeFile).length === 1 ? 'the one' : 'those' }} of another size by scaling</button><button type="button" class="btn h-7" @click="frames.forget()">Understood</button></li>
      </ul>

      <div v-if="list.length === 0 && !frames.reading" class="rounded-lg border border-dashed border-on-surround px-8 py-20 text-center text-on-surround">
        <p class="text-base font-semibold">No frames yet</p>
        <p class="mx-auto mt-1 max-w-xl">Drop the frames of one view here, or add them: JPEG, TIFF, PNG, WebP, AVIF, HEIC, JPEG XL, Radiance, DNG or the raw files of a camera, all of one size.</p>
      </div>
      <template v-else>
        <AdviceBoard v-if="advice && adviceOpen" :advice="advice" @base="bases.choose" @close="adviceOpen = false" />
        <div v-if="moments.length > 1" class="mb-4 flex shrink-0 items-start gap-4">
          <TimeScale v-if="times.length > 1" class="mx-6 min-w-0 flex-1" :marks="times" :lit="byId(lit ?? '')?.moment" />
          <button type="button" class="btn ml-auto mt-1 h-7 shrink-0" title="Group all frames again by the pauses between them" @click="session.dispatch(groupFrames({}))">Group by time</button>
        </div>
        <div class="flex shrink-0 flex-wrap gap-x-4" data-skip="Frames" tabindex="-1">
        <MomentGroup
          v-for="(moment, index) in moments" :key="moment.name" :moment="moment" :before="moments[index - 1]?.name" :lit="lit" :alone="moments.length === 1" :card-width="cardWidth"
          @point="lit = $event" @rename="session.dispatch(renameMoment({ from: moment.name, to: $event }))" @join="join(index)"
        >
          <ul class="grid gap-4" :style="{ gridTemplateColumns: `repeat(auto-fill, minmax(${cardWidth}px, 1fr))` }" aria-label="Frames">
            <FrameCard
              v-for="frame in moment.frames" :key="frame.id" :frame="frame" :label="labelOf(frame)" :is-base="frame.id === session.scene.base" :lit="lit === frame.id" :marked="marked.includes(frame.id)" :can-split="!isFirstOf(moment, frame)"
              @mouseenter="lit = frame.id" @mouseleave="lit = undefined" @base="bases.choose(frame.id)" @remove="remove(frame)" @mark="mark(frame.id)" @look="compare([frame.id])" @split="split(moment, frame)"
              @choose="session.dispatch(setChoice({ frameIds: [frame.id], choice: $event }))" @label="session.dispatch(setLabel({ frameId: frame.id, label: $event }))" @read="session.dispatch(setReading({ frameIds: readAlike(session.scene, frame, $event), reading: $event }))"
            />
          </ul>
        </MomentGroup>
        </div>
        <ul v-if="frames.reading" class="mb-6 grid shrink-0 gap-4" :style="{ gridTemplateColumns: `repeat(auto-fill, minmax(${cardWidth}px, 1fr))` }" aria-label="Frames under way">
          <li v-for="name in newcomers" :key="name" class="overflow-hidden rounded-md bg-panel">
            <img v-if="frames.previews[name]" :src="frames.previews[name]" alt="" class="aspect-3/2 w-full object-cover opacity-70" />
            <div v-else class="aspect-3/2 w-full animate-pulse bg-sunken" />
            <div class="truncate px-2.5 py-3 text-soft">{{ name }}</div>
          </li>
        </ul>
      </template>
      <div v-if="dropping" class="pointer-events-none fixed inset-4 rounded-lg border-2 border-verdigris" />
    </div>
    <CardDialog :open="cardOpen" @close="cardOpen = false" @copied="(_, files) => { cardOpen = false; void frames.take(files); }" />
    <BaseQuestion :question="bases.question.value" @answer="bases.answer" />
    <CompareView v-if="compared.length > 0" :frames="compared" :label-of="labelOf" @close="compared = []" />
  </div>
</template>
