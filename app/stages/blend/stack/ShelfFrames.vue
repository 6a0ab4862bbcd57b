<script setup lang="ts">
/** Frames of the other scenes in this browser, one of which is laid as a layer: another sky, a long exposure's trail. */
import { onMounted, onUnmounted, ref, shallowRef } from 'vue';
import { present } from '#core/scene/history.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Scene } from '#core/scene/scene.ts';
import { frameLabel } from '../../../frameLabel.ts';
import { getFile, getThumb, listScenes, loadScene } from '../../../storage/sceneShelf.ts';
import { useSession } from '../../../stores/session.ts';
import DialogBox from '../../../ui/DialogBox.vue';
import { sayError } from '../../../wording.ts';

const emit = defineEmits<{ choose: [file: File, reading: Frame['reading']]; close: [] }>();
const session = useSession();

interface Shown {
  scene: Scene;
  id: string;
  name: string;
  picture: string | undefined;
}
const scenes = shallowRef<Shown[]>();
const trouble = ref('');

onMounted(async () => {
  try {
    const others = (await listScenes()).filter(({ head, problem }) => head.id !== session.sceneId && head.frames > 0 && !problem);
    const shown = await Promise.all(others.map(({ head }) => show(head.id, head.name)));
    scenes.value = shown.flatMap((each) => each ?? []);
  } catch (error) {
    scenes.value = [];
    trouble.value = sayError(error);
  }
});
/** Addresses of the scenes' pictures, for as long as this is open. */
const addresses: string[] = [];
let isGone = false;
onUnmounted(() => {
  isGone = true;
  for (const address of addresses) URL.revokeObjectURL(address);
});
function addressOf(thumb: Blob | undefined): string | undefined {
  if (!thumb || isGone) return undefined;
  const address = URL.createObjectURL(thumb);
  addresses.push(address);
  return address;
}

async function show(id: string, name: string): Promise<Shown | undefined> {
  const [opened, thumb] = await Promise.all([loadScene(id), getThumb(id)]);
  return opened && { scene: present(opened.history), id, name, picture: addressOf(thumb) };
}

async function choose({ name }: Shown, frame: Frame): Promise<void> {
  const stored = await getFile(frame.file.sha256);
  if (!stored) {
    trouble.value = `The browser has cleared the original of ${frame.file.name}. Open ${name} and give it back, or lay it from its file.`;
    return;
  }
  emit('choose', new File([stored], frame.file.name), frame.reading);
}
</script>

<template>
  <DialogBox title="A frame of another scene" @close="emit('close')">
    <p v-if="!scenes" class="text-soft" role="status">Looking through the scenes…</p>
    <p v-else-if="scenes.length === 0 && !trouble" class="text-soft">There is no other scene with frames in this browser. A picture can be laid from its file as well: "Another picture…".</p>
    <ul v-else class="flex flex-col gap-3">
      <li v-for="shown in scenes" :key="shown.id" class="flex gap-3" :aria-label="shown.name">
        <img v-if="shown.picture" :src="shown.picture" alt="" class="h-15 w-22 shrink-0 rounded object-cover" />
        <span v-else class="h-15 w-22 shrink-0 rounded bg-raised" aria-hidden="true" />
        <div class="flex min-w-0 flex-col gap-1">
          <span class="truncate font-semibold" :title="shown.name">{{ shown.name }}</span>
          <div class="flex flex-wrap gap-1">
            <button
              v-for="frame in shown.scene.frames" :key="frame.id" type="button" class="btn px-2 py-0.5 text-[12px]"
              :title="frame.file.name" :aria-label="`Lay ${frameLabel(shown.scene, frame.id)} of ${shown.name}`" @click="choose(shown, frame)"
            >
              {{ frameLabel(shown.scene, frame.id) }}
            </button>
          </div>
        </div>
      </li>
    </ul>
    <p v-if="trouble" class="font-semibold" role="alert">{{ trouble }}</p>
    <button type="button" class="btn self-end" @click="emit('close')">Close</button>
  </DialogBox>
</template>
