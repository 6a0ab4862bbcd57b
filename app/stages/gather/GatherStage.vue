<script setup lang="ts">
/** Gather: all frames together on the stop scale; choose the base, drop what is not needed. */
import { PhPlus, PhSortAscending } from '@phosphor-icons/vue';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { orderByExposure, removeFrame, renameScene, setBase } from '#core/scene/edits/frames.ts';
import { byExposure, relativeEvs } from '#core/scene/scene.ts';
import { useFrames } from '../../stores/frames.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import TileThumb from '../../bench/TileThumb.vue';
import StopScale from '../../ui/StopScale.vue';
import { sayEv } from '../../wording.ts';
import FrameCard from './FrameCard.vue';

const session = useSession();
const frames = useFrames();
const notices = useNotices();
const router = useRouter();
const lit = ref<string>();
const dropping = ref(false);

const list = computed(() => session.scene.frames);
const evs = computed(() => relativeEvs(list.value));
const marks = computed(() => list.value.flatMap(({ id }, index) => {
  const ev = evs.value[index];
  return ev === null ? [] : [{ id, ev, label: sayEv(ev), strong: id === session.scene.base }];
}));
const isOrdered = computed(() => byExposure(list.value).every((frame, index) => frame === list.value[index]));

/** The frame pointed at, else the base, shown large. */
const large = computed(() => list.value.find(({ id }) => id === (lit.value ?? session.scene.base)) ?? list.value[0]);

const take = (files: FileList | null | undefined) => frames.take([...(files ?? [])]);

function remove(index: number): void {
  const { id, file } = list.value[index];
  session.dispatch(removeFrame({ frameId: id }));
  notices.tell(`${file.name} is out of the scene.`, { action: { label: 'Take it back', run: () => session.undo() } });
}

function rename(event: Event): void {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  if (name) session.dispatch(renameScene({ name }));
  else input.value = session.scene.name;
}

onMounted(() => { document.title = `${session.scene.name} · Gather`; });
</script>

<template>
  <div
    class="flex h-full flex-col overflow-y-auto px-7 py-5" @dragover.prevent="dropping = true" @dragleave.self="dropping = false"
    @drop.prevent="dropping = false; take($event.dataTransfer?.files)"
  >
    <header class="mb-4 flex shrink-0 items-center gap-3">
      <input
        type="text" class="min-w-0 flex-1 rounded bg-transparent px-1 text-xl font-semibold text-on-surround focus:bg-panel" aria-label="Name of the scene" maxlength="200"
        :value="session.scene.name" @change="rename"
      />
      <button v-if="list.length > 1 && !isOrdered" type="button" class="btn" @click="session.dispatch(orderByExposure({}))"><PhSortAscending :size="16" /> Order by exposure</button>
      <label class="btn cursor-pointer">
        <PhPlus :size="16" /> Add frames…
        <input type="file" multiple accept=".jpg,.jpeg,.tif,.tiff,.png" class="sr-only" data-testid="add-frames" @change="take(($event.target as HTMLInputElement).files)" />
      </label>
      <button type="button" class="btn btn-main" :disabled="list.length === 0" @click="router.push({ name: 'blend' })">Go on to blend</button>
    </header>

    <ul v-if="frames.refused.length > 0" class="mb-4 rounded-md border-l-4 border-ink bg-panel p-3" role="alert" aria-label="Files left out">
      <li v-for="(each, index) in frames.refused" :key="index" class="py-0.5"><span class="font-semibold">{{ each.name }}</span> — {{ each.reason }}</li>
      <li class="mt-2"><button type="button" class="btn h-7" @click="frames.forget()">Understood</button></li>
    </ul>

    <div v-if="list.length === 0 && !frames.reading" class="rounded-lg border border-dashed border-on-surround px-8 py-20 text-center text-on-surround">
      <p class="text-base font-semibold">No frames yet</p>
      <p class="mt-1">Drop the frames of one view here, or add them. JPEG, TIFF and PNG, 8 or 16 bits, all of one size.</p>
    </div>
    <template v-else>
      <StopScale v-if="marks.length > 0" class="mx-6 mb-5 shrink-0" :marks="marks" :lit="lit" @point="lit = $event" />
      <p v-if="marks.length < list.length" class="mb-3 text-on-surround">{{ list.length - marks.length }} of these frames carry no exposure data and are not on the scale.</p>
      <ul class="grid shrink-0 grid-cols-[repeat(auto-fill,minmax(204px,1fr))] gap-4" aria-label="Frames">
        <FrameCard
          v-for="(frame, index) in list" :key="frame.id" :frame="frame" :ev="evs[index]" :is-base="frame.id === session.scene.base" :lit="lit === frame.id"
          @mouseenter="lit = frame.id" @mouseleave="lit = undefined" @choose="session.dispatch(setBase({ frameId: frame.id }))" @remove="remove(index)"
        />
      </ul>
      <figure v-if="large" class="mt-5 flex min-h-64 flex-1 items-center justify-center gap-4">
        <TileThumb :key="large.id" :size="large" :view="{ kind: 'frame', frameId: large.id }" :side="900" class="h-full max-h-[60vh] w-auto max-w-full bg-transparent object-contain" :label="`${large.file.name}, large`" />
      </figure>
    </template>
    <div v-if="dropping" class="pointer-events-none fixed inset-4 rounded-lg border-2 border-verdigris" />
  </div>
</template>
