<script setup lang="ts">
/** Freezes the picture so far to a picture file of the layer: a stamp, which follows nothing any more. */
import { ref } from 'vue';
import type { Layer } from '#core/scene/item.ts';
import { setContent } from '#core/scene/edits/stack.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { Lane } from '#engine/lanes.ts';
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
async function stamp(): Promise<void> {
  const size = sceneSize(session.scene);
  if (!size) return;
  share.value = 0;
  try {
    const { engine, codec } = await engines.start();
    const space = session.scene.workingSpace;
    const region = { x: 0, y: 0, width: size.width, height: size.height };
    const show = { what: 'source', source: 'below', at: props.layer.id } as const;
    const image = await engine.render(show, region, region, space, (done) => { share.value = done * 0.6; });
    if (!image) return;
    const bytes = await codec.encode(image.buffer as SharedArrayBuffer, region, { format: 'tiff', quality: 100, space }, {}, (done) => { share.value = 0.6 + done * 0.3; });
    engine.giveBack(image);
    const picture = await frames.takeLayerPicture(new File([bytes], 'stamp.tif', { type: 'image/tiff' }));
    if (picture) session.dispatch(setContent({ layerId: props.layer.id, content: { picture } }));
  } catch (error) {
    notices.tellError(error);
  } finally {
    share.value = undefined;
  }
}
async function stop(): Promise<void> {
  const { engine, codec } = await engines.start();
  engine.advance(Lane.Export);
  codec.stopEncoding();
}
</script>

<template>
  <div class="flex items-center gap-1.5">
    <button type="button" class="btn h-7 px-2" :disabled="share !== undefined || session.readOnly" title="Freezes it as it is now to a picture file, a stamp: it follows nothing any more" @click="stamp">{{ share === undefined ? 'Freeze to a stamp' : `Freezing, ${Math.round(share * 100)} %` }}</button>
    <button v-if="share !== undefined" type="button" class="btn h-7 px-2" @click="stop">Stop</button>
  </div>
</template>
