<script setup lang="ts">
/** Freezes the picture so far to a picture file of the layer: a stamp, which follows nothing any more. */
import { ref } from 'vue';
import type { Layer } from '#core/scene/item.ts';
import { setContent } from '#core/scene/edits/stack.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { restOf } from '#codecs/deliver/formats/list.ts';
import { asTheyAre } from '#engine/deliver/layeredFile.ts';
import { writeToMemory } from '#engine/deliver/writeToMemory.ts';
import { useEngine } from '../../../stores/engine.ts';
import { useFrames } from '../../../stores/frames.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useSession } from '../../../stores/session.ts';

const props = defineProps<{ layer: Layer }>();
const session = useSession();
const engines = useEngine();
const frames = useFrames();
const notices = useNotices();

const share = ref<number>();
let stopping = new AbortController();
async function stamp(): Promise<void> {
  const size = sceneSize(session.scene);
  if (!size) return;
  share.value = 0;
  try {
    const machine = await engines.start();
    const region = { x: 0, y: 0, width: size.width, height: size.height };
    const of = { what: 'source', source: 'below', at: props.layer.id } as const;
    const options = asTheyAre(size, session.scene.workingSpace, restOf('tiff'));
    stopping = new AbortController();
    const bytes = await writeToMemory(machine, { of, size: region, region, channels: 3 }, options, { onProgress: (done) => { share.value = done * 0.9; }, signal: stopping.signal });
    const picture = await frames.takeLayerPicture(new File([bytes], 'stamp.tif', { type: 'image/tiff' }));
    if (picture) session.dispatch(setContent({ layerId: props.layer.id, content: { picture } }));
  } catch (error) {
    if (!stopping.signal.aborted) notices.tellError(error);
  } finally {
    share.value = undefined;
  }
}
const stop = () => stopping.abort();
</script>

<template>
  <div class="flex items-center gap-1.5">
    <button type="button" class="btn h-7 px-2" :disabled="share !== undefined || session.readOnly" title="Freezes it as it is now to a picture file, a stamp: it follows nothing any more" @click="stamp">{{ share === undefined ? 'Freeze to a stamp' : `Freezing, ${Math.round(share * 100)} %` }}</button>
    <button v-if="share !== undefined" type="button" class="btn h-7 px-2" @click="stop">Stop</button>
  </div>
</template>
