<script setup lang="ts">
/** One scene of the list: its picture, name and age, and what can be done with it; of one that cannot be opened, why, and a way to
 * save what is left. */
import { PhCopy, PhDownloadSimple, PhPencilSimple, PhTrash } from '@phosphor-icons/vue';
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue';
import { getThumb, type ListedScene } from '../../storage/sceneShelf.ts';
import { detailsOf, sayBytes, sayError } from '../../wording.ts';

const props = defineProps<{ scene: ListedScene; /** Its picture is being drawn, or has been since the list was shown. */ drawing: boolean; drawn: boolean }>();
const emit = defineEmits<{ rename: [name: string]; duplicate: []; remove: []; rescue: [] }>();
const head = computed(() => props.scene.head);
const problem = computed(() => props.scene.problem);

const picture = ref<string>();
const naming = ref<string>();
const field = ref<HTMLInputElement>();

async function showPicture(): Promise<void> {
  const thumb = await getThumb(props.scene.head.id);
  forgetPicture();
  if (thumb) picture.value = URL.createObjectURL(thumb);
}
function forgetPicture(): void {
  if (picture.value) URL.revokeObjectURL(picture.value);
  picture.value = undefined;
}
watch(() => props.drawn, showPicture, { immediate: true });
onBeforeUnmount(forgetPicture);

async function startNaming(): Promise<void> {
  naming.value = head.value.name;
  await nextTick();
  field.value?.select();
}

function finishNaming(): void {
  const name = naming.value?.trim();
  naming.value = undefined;
  if (name && name !== head.value.name) emit('rename', name);
}

/** Room that its files take; files that scenes share are counted with each. */
const size = computed(() => (head.value.frames > 0 && !problem.value ? ` · ${sayBytes(props.scene.bytes)}` : ''));

const age = new Intl.DateTimeFormat(undefined, { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
</script>

<template>
  <li class="group overflow-hidden rounded-md bg-panel" :data-testid="`scene-${head.name}`">
    <div v-if="problem" class="flex aspect-3/2 flex-col justify-center gap-2 overflow-y-auto bg-sunken p-3" role="alert">
      <p>{{ sayError(problem) }} It has not been changed.</p>
      <details class="text-[12px] text-soft"><summary class="cursor-pointer">Details</summary><code class="break-all">{{ detailsOf(problem) }}</code></details>
      <button type="button" class="btn h-7 self-start" :aria-label="`Save what is left: ${head.name}`" @click="emit('rescue')"><PhDownloadSimple :size="15" /> Save what is left…</button>
    </div>
    <RouterLink v-else :to="{ name: head.frames > 0 ? 'blend' : 'gather', params: { id: head.id } }" class="block aspect-3/2 bg-sunken" :aria-label="`Open: ${head.name}`">
      <img v-if="picture" :src="picture" alt="" class="h-full w-full object-cover" />
      <span v-else class="flex h-full items-center justify-center text-soft">{{ drawing ? 'Drawing its picture…' : head.frames > 0 ? 'No picture yet' : 'No frames yet' }}</span>
    </RouterLink>
    <div class="flex items-start gap-1 p-3">
      <div class="min-w-0 flex-1">
        <input
          v-if="naming !== undefined" ref="field" v-model="naming" type="text" class="field w-full" aria-label="Name of the scene" maxlength="200"
          @blur="finishNaming" @keydown.enter="finishNaming" @keydown.esc="naming = undefined"
        />
        <span v-else-if="problem" class="block truncate font-semibold">{{ head.name }}</span>
        <RouterLink v-else :to="{ name: head.frames > 0 ? 'blend' : 'gather', params: { id: head.id } }" class="block truncate font-semibold">{{ head.name }}</RouterLink>
        <div class="text-[12px] text-soft">{{ head.frames }} {{ head.frames === 1 ? 'frame' : 'frames' }}{{ size }} · {{ age.format(head.updatedAt) }}</div>
      </div>
      <template v-if="!problem">
        <button type="button" class="rounded p-1.5 text-soft hover:bg-raised hover:text-ink" title="Rename" :aria-label="`Rename: ${head.name}`" @click="startNaming"><PhPencilSimple :size="15" /></button>
        <button type="button" class="rounded p-1.5 text-soft hover:bg-raised hover:text-ink" title="Duplicate" :aria-label="`Duplicate: ${head.name}`" @click="emit('duplicate')"><PhCopy :size="15" /></button>
      </template>
      <button type="button" class="rounded p-1.5 text-soft hover:bg-raised hover:text-ink" title="Delete" :aria-label="`Delete: ${head.name}`" @click="emit('remove')"><PhTrash :size="15" /></button>
    </div>
  </li>
</template>
