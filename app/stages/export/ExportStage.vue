<script setup lang="ts">
/** Export: the flat picture at full size, and the scene file that keeps everything. */
import { computed, onMounted, ref } from 'vue';
import { DecodeError } from '#codecs/decodeError.ts';
import type { OutputFormat } from '#codecs/encode.ts';
import { writeSceneFile } from '#codecs/sceneFile.ts';
import { OUTPUT_SPACES, type OutputSpace } from '#core/color/workingSpace.ts';
import type { StrokeId } from '#core/ids.ts';
import { deliveredPicture } from '#core/finish/delivered.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { filesOf, strokesOf } from '#core/scene/places.ts';
import { Lane } from '#engine/lanes.ts';
import type { View } from '#engine/protocol.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { getFile } from '../../storage/sceneShelf.ts';
import { useEngine } from '../../stores/engine.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import EmptyStage from '../../ui/EmptyStage.vue';
import ProgressLine from '../../ui/ProgressLine.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import { OUTPUT_SPACE_NAMES, sayBytes } from '../../wording.ts';
import { useCommonArea } from '../useCommonArea.ts';
import { download } from './download.ts';

const session = useSession();
const engines = useEngine();
const notices = useNotices();

const FORMATS = [
  { value: 'tiff', label: '16-bit TIFF' },
  { value: 'png', label: '16-bit PNG' },
  { value: 'jpeg', label: 'JPEG' },
] as const;
const SPACES = OUTPUT_SPACES.map((value) => ({ value, label: OUTPUT_SPACE_NAMES[value] }));
const ENDINGS: Record<OutputFormat, string> = { tiff: 'tif', png: 'png', jpeg: 'jpg' };

const STOPPED = 'Export stopped; nothing was written.';

const format = ref<OutputFormat>('tiff');
const quality = ref(92);
/** Colours that were chosen for a kind of file; before that a wide scene keeps them all, and eight bits hold fewer. */
const chosenSpace = ref<Partial<Record<OutputFormat, OutputSpace>>>({});
const isWide = computed(() => session.scene.workingSpace !== 'srgb');
const space = computed<OutputSpace>(() => (isWide.value ? (chosenSpace.value[format.value] ?? (format.value === 'jpeg' ? 'display-p3' : 'bt2020')) : 'srgb'));
const working = ref<{ text: string; share: number; stoppable: boolean }>();
const size = computed(() => sceneSize(session.scene));
const area = useCommonArea();
const delivered = computed(() => deliveredPicture(session.scene));
const region = computed(() => delivered.value?.region);
/** As it is delivered, whether it is only cut or turned as well. */
const view: View = { show: { what: 'result', turned: 'finished' } };
const fileName = computed(() => session.scene.name.replace(/[\\/:*?"<>|]+/g, '-'));

async function exportPicture(): Promise<void> {
  const { scene } = session;
  if (!delivered.value) return;
  const { of, size: whole, region: part } = delivered.value;
  const { engine, codec } = await engines.start();
  working.value = { text: 'Rendering at full size', share: 0, stoppable: true };
  try {
    engine.advance(Lane.Export);
    const image = await engine.render(of, whole, { ...part }, space.value, (share) => { if (working.value) working.value.share = share * 0.7; });
    if (!image) return notices.tell(STOPPED);
    working.value = { text: 'Writing the file', share: 0.7, stoppable: true };
    const exif = scene.frames.find(({ id }) => id === scene.base)?.exif ?? {};
    const plain = JSON.parse(JSON.stringify(exif)) as typeof exif; // out of Vue's proxies, which threads cannot take
    const bytes = await codec.encode(image.buffer as SharedArrayBuffer, { ...part }, { format: format.value, quality: quality.value, space: space.value }, plain, (share) => { if (working.value) working.value.share = 0.7 + share * 0.3; });
    engine.giveBack(image);
    download(new Blob([bytes]), `${fileName.value}.${ENDINGS[format.value]}`);
    notices.tell(`${fileName.value}.${ENDINGS[format.value]} is written (${sayBytes(bytes.length)}).`);
  } catch (error) {
    if (error instanceof DecodeError && error.code === 'cancelled') notices.tell(STOPPED);
    else notices.tellError(error);
  } finally {
    working.value = undefined;
  }
}

let packing = new AbortController();

function stop(): void {
  packing.abort();
  engines.running?.engine.advance(Lane.Export);
  engines.running?.codec.stopEncoding();
}

async function exportScene(withOriginals: boolean): Promise<void> {
  working.value = { text: 'Packing the scene', share: 0, stoppable: true };
  packing = new AbortController();
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
    const onProgress = (share: number) => { if (working.value) working.value.share = share; };
    const packed = await writeSceneFile({ scene, strokes, originals, evidence: session.evidence }, { onProgress, signal: packing.signal });
    download(packed, `${fileName.value}.lusket`);
    notices.tell(`${fileName.value}.lusket is written (${sayBytes(packed.size)}).`);
  } catch (error) {
    if (packing.signal.aborted) return notices.tell(STOPPED);
    notices.tellError(error);
  } finally {
    working.value = undefined;
  }
}

onMounted(() => { document.title = `${session.scene.name} · Export`; });
</script>

<template>
  <EmptyStage v-if="!size" text="There is nothing to export yet." />
  <div v-else class="flex h-full gap-8 overflow-y-auto p-8">
    <div class="flex min-w-0 flex-1 items-center justify-center">
      <TileThumb v-if="region" :key="`${region.width} ${region.height}`" :size="region" :view="view" :side="1000" class="max-h-full w-full max-w-[1000px] shadow-lg" label="The picture" />
    </div>
    <div class="flex w-80 shrink-0 flex-col gap-5">
      <section class="flex flex-col gap-3 rounded-md bg-panel p-5" aria-label="Picture" data-skip="Picture file" tabindex="-1">
        <h2 class="text-[15px] font-semibold">The picture</h2>
        <p class="text-soft">{{ region?.width }} × {{ region?.height }} pixels<template v-if="region && (region.width !== size.width || region.height !== size.height)"> of {{ size.width }} × {{ size.height }}, cropped</template>, {{ OUTPUT_SPACE_NAMES[space] }}, with the shot data of the base frame.</p>
        <div v-if="!session.scene.geometry.crop && !area.isWhole.value && area.common.value" class="flex flex-col gap-2 rounded bg-sunken p-3" role="note" aria-label="Common area">
          <p>{{ area.leavesBorders.value ? 'The base does not reach the edges of the picture, which are black there.' : 'Not all frames reach the edges of the picture; the base shows there.' }} All of them cover {{ area.common.value.width }} × {{ area.common.value.height }} pixels.</p>
          <button type="button" class="btn h-7 self-start px-2" :disabled="session.readOnly" @click="area.crop">Crop to the common area</button>
        </div>
        <ChoiceRow label="Format" :value="format" :choices="FORMATS" @choose="format = $event" />
        <ChoiceRow v-if="isWide" label="Colours" :value="space" :choices="SPACES" @choose="chosenSpace = { ...chosenSpace, [format]: $event }" />
        <RuleSlider v-if="format === 'jpeg'" label="Quality" :value="quality" :min="40" :max="100" :step="1" :usual="92" @preview="quality = $event" @commit="quality = $event" />
        <button type="button" class="btn btn-main justify-center" :disabled="working !== undefined" @click="exportPicture">Export {{ fileName }}.{{ ENDINGS[format] }}</button>
      </section>
      <section class="flex flex-col gap-3 rounded-md bg-panel p-5" aria-label="Scene file" data-skip="Scene file" tabindex="-1">
        <h2 class="text-[15px] font-semibold">The scene</h2>
        <p class="text-soft">All frames, masks and strokes in one file, which opens here or on any other computer.</p>
        <button type="button" class="btn justify-center" :disabled="working !== undefined" @click="exportScene(true)">Save {{ fileName }}.lusket</button>
        <button type="button" class="btn justify-center" :disabled="working !== undefined" title="A small file; the frames are asked for when it is opened elsewhere" @click="exportScene(false)">Save without the frames</button>
      </section>
      <ProgressLine v-if="working" class="rounded-md bg-panel p-4" :text="working.text" :share="working.share" :stoppable="working.stoppable" @stop="stop" />
    </div>
  </div>
</template>
