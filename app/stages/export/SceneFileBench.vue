<script setup lang="ts">
/** The scene file: everything, to be opened again here or elsewhere. */
import { computed, onBeforeUnmount, ref } from 'vue';
import { safeName } from '#codecs/deliver/fileName.ts';
import { writeSceneFile } from '#codecs/sceneFile.ts';
import type { StrokeId } from '#core/ids.ts';
import { filesOf, strokesOf } from '#core/scene/places.ts';
import { download } from '../../storage/download.ts';
import { getFile } from '../../storage/sceneShelf.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ProgressLine from '../../ui/ProgressLine.vue';
import { sayBytes } from '../../wording.ts';

const session = useSession();
const notices = useNotices();
const name = computed(() => `${safeName(session.scene.name)}.lusket`);
const working = ref<{ text: string; share: number }>();
let packing = new AbortController();

async function save(withOriginals: boolean): Promise<void> {
  working.value = { text: 'Packing the scene', share: 0 };
  packing = new AbortController();
  const { signal } = packing;
  try {
    const { scene } = session;
    const strokes = new Map<StrokeId, Float32Array>();
    for (const id of strokesOf(scene)) {
      const points = session.pointsOf(id);
      if (points) strokes.set(id, points);
    }
    const originals = new Map<string, Blob>();
    for (const { file } of withOriginals ? filesOf(scene) : []) {
      const original = await getFile(file.sha256);
      if (original) originals.set(file.sha256, original);
    }
    const onProgress = (share: number, isChecking?: boolean) => {
      if (working.value) working.value = { text: isChecking ? 'Reading it back' : 'Packing the scene', share };
    };
    const packed = await writeSceneFile({ scene, strokes, originals, evidence: session.evidence }, { onProgress, signal });
    download(packed, name.value);
    notices.tell(`${name.value} is written and was read back whole (${sayBytes(packed.size)}).`);
  } catch (error) {
    if (signal.aborted) notices.tell('Export stopped; nothing was written.');
    else notices.tellError(error);
  } finally {
    working.value = undefined;
  }
}
const stop = () => packing.abort();
onBeforeUnmount(stop);
</script>

<template>
  <aside class="flex w-76 shrink-0 flex-col gap-3 overflow-y-auto bg-panel p-4" aria-label="Scene file" data-skip="Scene file" tabindex="-1">
    <h2 class="text-[15px] font-semibold">The scene file</h2>
    <p class="text-soft">All frames, masks and strokes in one file, which opens here or on any other computer. It is a ZIP of open formats.</p>
    <button type="button" class="btn justify-center" :disabled="working !== undefined" @click="save(true)">Save {{ name }}</button>
    <button type="button" class="btn justify-center" :disabled="working !== undefined" title="A small file; the frames are asked for when it is opened elsewhere" @click="save(false)">Save without the frames</button>
    <ProgressLine v-if="working" :text="working.text" :share="working.share" stoppable @stop="stop" />
  </aside>
</template>
