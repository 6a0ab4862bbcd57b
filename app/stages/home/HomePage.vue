<script setup lang="ts">
/** All scenes in this browser, and the ways to begin one. */
import { PhDownloadSimple, PhImages, PhMountains, PhSimCard } from '@phosphor-icons/vue';
import { computed, onMounted, ref, shallowRef } from 'vue';
import { useRouter } from 'vue-router';
import { askToPersist, roomLeft } from '../../storage/room.ts';
import { importSceneFile, storeScene } from '../../storage/importSceneFile.ts';
import { readOpenRaster } from '#engine/deliver/readOpenRaster.ts';
import { useEngine } from '../../stores/engine.ts';
import { rescueFile } from '../../storage/rescue.ts';
import { bringBack, duplicateScene, type ListedScene, listScenes, removeScene, renameStored } from '../../storage/sceneShelf.ts';
import { sweep } from '../../storage/sweep.ts';
import { useFrames } from '../../stores/frames.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { ACCEPTED, sayBytes, sayBroken, sayRepairs } from '../../wording.ts';
import { download } from '../../storage/download.ts';
import CardDialog from '../../card/CardDialog.vue';
import { useListPictures } from './useListPictures.ts';
import { type DemoSet, fetchDemoFiles, listDemoSets } from './demoSets.ts';
import SceneCard from './SceneCard.vue';
import ProgressLine from '../../ui/ProgressLine.vue';

const router = useRouter();
const session = useSession();
const frames = useFrames();
const notices = useNotices();
const engines = useEngine();

const scenes = shallowRef<ListedScene[]>();
const demos = ref<DemoSet[]>([]);
const busy = ref<string>();
const dropping = ref(false);
const cardOpen = ref(false);

const wanted = ref('');
const found = computed(() => {
  const words = wanted.value.toLocaleLowerCase().split(/\s+/);
  return scenes.value?.filter(({ head }) => words.every((word) => head.name.toLocaleLowerCase().includes(word))) ?? [];
});

/** What the browser grants, and whether it promises to keep it. */
const room = ref<{ used: number; free: number; kept: boolean }>();
const roomText = computed(() => {
  if (!room.value) return '';
  const { used, free, kept } = room.value;
  const promise = kept ? 'The browser keeps it until you delete it.' : 'The browser may clear it when the disk fills up, and a private window forgets it when it is closed: save scenes that matter as files in their Export stage.';
  return `${sayBytes(used)} stored on this machine, ${sayBytes(free)} free. ${promise}`;
});

async function measureRoom(): Promise<void> {
  const left = await roomLeft();
  if (left) room.value = { ...left, kept: await askToPersist() };
}

const { drawn, drawing, drawMissing } = useListPictures();

async function refresh(): Promise<void> {
  scenes.value = await listScenes();
  drawMissing(scenes.value);
  if (scenes.value.length > 0) void measureRoom();
}

onMounted(async () => {
  document.title = 'Lusket';
  void listDemoSets().then((sets) => { demos.value = sets; });
  try {
    await session.whenLeft();
    await refresh();
    void sweep().catch(() => undefined); // the next visit sweeps
  } catch (error) {
    scenes.value = [];
    notices.tellError(error);
  }
});

/** Opens a new scene with files in it. */
async function begin(name: string, files: readonly File[]): Promise<void> {
  const id = await session.create(name);
  await router.push({ name: 'gather', params: { id } });
  // The page opens the scene first; its files follow.
  await waitUntilOpen(id);
  await frames.take(files);
}

function waitUntilOpen(id: string): Promise<void> {
  return new Promise((resolve) => {
    const look = () => (session.sceneId === id ? resolve() : void setTimeout(look, 20));
    look();
  });
}

async function during(what: string, work: () => Promise<void>): Promise<void> {
  busy.value = what;
  try {
    await work();
  } catch (error) {
    notices.tellError(error);
  } finally {
    busy.value = undefined;
  }
}

const beginFromCard = (title: string, files: readonly File[]) => {
  cardOpen.value = false;
  return during('Opening…', () => begin(title, files));
};

const openDemo = (demo: DemoSet) => during(`Fetching ${demo.title}…`, async () => begin(demo.title, await fetchDemoFiles(demo)));

/** How far the scene file is that is being opened. */
const unpacking = ref<number>();
let stopping = new AbortController();

async function openSceneFile(file: File): Promise<string> {
  stopping = new AbortController();
  unpacking.value = 0;
  try {
    const { id, repairs, broken } = await importSceneFile(file, { onProgress: (share) => { unpacking.value = share; }, signal: stopping.signal });
    if (repairs.size > 0) notices.tell(sayRepairs(repairs));
    if (broken.length > 0) notices.tell(sayBroken(broken), { tone: 'error' });
    return id;
  } finally {
    unpacking.value = undefined;
  }
}

/** Layers of another program become a scene. */
async function openLayers(file: File): Promise<string> {
  stopping = new AbortController();
  unpacking.value = 0;
  try {
    const { codec } = await engines.start();
    const name = file.name.replace(/\.ora$/i, '');
    const { scene, originals, unknownModes } = await readOpenRaster(codec, file, name, { onProgress: (share) => { unpacking.value = share; }, signal: stopping.signal });
    if (unknownModes.length > 0) notices.tell(`Layers in ${unknownModes.join(', ')} are laid normally: Lusket has no such mode.`);
    return await storeScene({ scene, strokes: new Map(), originals, evidence: new Map() });
  } finally {
    unpacking.value = undefined;
  }
}

const choose = (files: FileList | readonly File[] | null) => during('Opening…', async () => {
  const chosen = [...(files ?? [])];
  const sceneFile = chosen.find(({ name }) => name.endsWith('.lusket'));
  const layers = chosen.find(({ name }) => /\.ora$/i.test(name));
  if (sceneFile) {
    await router.push({ name: 'blend', params: { id: await openSceneFile(sceneFile) } });
  } else if (layers) {
    await router.push({ name: 'blend', params: { id: await openLayers(layers) } });
  } else if (chosen.length > 0) {
    await begin('New scene', chosen);
  }
});

const rename = ({ head }: ListedScene, name: string) => during('Renaming…', async () => {
  await renameStored(head.id, name);
  await refresh();
});

const duplicate = ({ head }: ListedScene) => during('Duplicating…', async () => {
  await duplicateScene(head.id);
  await refresh();
});

const remove = ({ head }: ListedScene) => during('Deleting…', async () => {
  const removed = await removeScene(head.id);
  await refresh();
  const back = () => during('Restoring…', async () => {
    if (removed) await bringBack(removed);
    await refresh();
  });
  notices.tell(`“${head.name}” was deleted.`, { action: { label: 'Restore', run: back } });
});

const rescue = ({ head }: ListedScene) => during('Collecting what is left…', async () => {
  const packed = await rescueFile(head.id);
  download(packed, `${head.name.replace(/[\\/:*?"<>|]+/g, '-')} (what is left).zip`);
  notices.tell(`What is left of “${head.name}” is written (${sayBytes(packed.size)}): its record, and the originals and strokes that it names.`);
});
</script>

<template>
  <main
    class="flex h-full flex-col overflow-y-auto" @dragover.prevent="dropping = true" @dragleave.self="dropping = false"
    @drop.prevent="dropping = false; choose($event.dataTransfer?.files ?? null)"
  >
    <header class="shrink-0 bg-panel px-12 pb-8 pt-9">
      <div class="flex items-end justify-between gap-8">
        <div>
          <h1 class="text-[34px] font-bold leading-none tracking-tight">Lusket</h1>
          <p class="mt-2 text-[15px] text-soft">Several exposures of one view, blended by hand into one picture.</p>
        </div>
        <div class="flex gap-2">
          <label class="btn btn-main cursor-pointer">
            <PhImages :size="17" /> Choose frames…
            <input type="file" multiple :accept="ACCEPTED" class="sr-only" data-testid="choose-frames" @change="choose(($event.target as HTMLInputElement).files)" />
          </label>
          <button type="button" class="btn" :disabled="busy !== undefined" @click="cardOpen = true"><PhSimCard :size="17" /> Camera card…</button>
          <label class="btn cursor-pointer" title="A scene file (.lusket), or layers of another program (.ora)">
            <PhDownloadSimple :size="17" /> Open a scene file…
            <input type="file" accept=".lusket,.ora" class="sr-only" data-testid="open-scene-file" @change="choose(($event.target as HTMLInputElement).files)" />
          </label>
        </div>
      </div>
      <div v-if="demos.length > 0" class="mt-4 flex items-center gap-2">
        <span class="text-soft">Or try the frames that come with Lusket:</span>
        <button v-for="demo in demos" :key="demo.name" type="button" class="btn h-7" :aria-label="`Demo: ${demo.title}`" :disabled="busy !== undefined" @click="openDemo(demo)"><PhMountains :size="15" /> {{ demo.title }}</button>
      </div>
    </header>
    <div class="h-2 shrink-0 text-on-surround opacity-50" aria-hidden="true" style="background: repeating-linear-gradient(90deg, currentColor 0 1px, transparent 1px 16px)" />
    <section class="px-12 py-8">
      <ProgressLine v-if="unpacking !== undefined" class="mb-4 rounded-md bg-panel p-4" text="Opening the scene file" :share="unpacking" stoppable @stop="stopping.abort()" />
      <p v-else-if="busy" class="mb-4 text-on-surround" role="status">{{ busy }}</p>
      <p v-if="scenes === undefined" class="text-on-surround" role="status">Loading your scenes…</p>
      <div v-else-if="scenes.length === 0" class="rounded-lg border border-dashed border-on-surround px-8 py-16 text-center text-on-surround">
        <p class="text-base font-semibold">No scenes yet</p>
        <p class="mt-1">Drop the frames of a bracket here, choose them, or try the demo. Everything stays on this computer.</p>
      </div>
      <template v-else>
      <div class="mb-4 flex items-center gap-4 text-on-surround">
        <input v-model="wanted" type="search" class="field w-60" placeholder="Find a scene by name" aria-label="Find a scene by name" />
        <p class="text-[12px]" data-testid="room">{{ roomText }}</p>
      </div>
      <p v-if="found.length === 0" class="text-on-surround">No scene has that name.</p>
      <ul class="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-6" aria-label="Scenes">
        <SceneCard v-for="scene in found" :key="scene.head.id" :scene="scene" :drawing="drawing === scene.head.id" :drawn="drawn.has(scene.head.id)" @rename="rename(scene, $event)" @duplicate="duplicate(scene)" @remove="remove(scene)" @rescue="rescue(scene)" />
      </ul>
      </template>
    </section>
    <CardDialog :open="cardOpen" @close="cardOpen = false" @copied="beginFromCard" />
    <div v-if="dropping" class="pointer-events-none fixed inset-4 rounded-lg border-2 border-verdigris" />
  </main>
</template>
