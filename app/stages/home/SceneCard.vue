<script setup lang="ts">
/** One scene of the list: its picture, name and age, and what can be done with it. */
import { PhCopy, PhPencilSimple, PhTrash } from '@phosphor-icons/vue';
import { computed, nextTick, onBeforeUnmount, onMounted, ref } from 'vue';
import type { SceneRecord } from '../../storage/database.ts';
import { bytesOfScene, getThumb } from '../../storage/sceneShelf.ts';
import { sayBytes } from '../../wording.ts';

const props = defineProps<{ record: SceneRecord }>();
const emit = defineEmits<{ rename: [name: string]; duplicate: []; remove: [] }>();

const picture = ref<string>();
const naming = ref<string>();
const field = ref<HTMLInputElement>();

onMounted(async () => {
  const thumb = await getThumb(props.record.id);
  if (thumb) picture.value = URL.createObjectURL(thumb);
});
onBeforeUnmount(() => picture.value && URL.revokeObjectURL(picture.value));

async function startNaming(): Promise<void> {
  naming.value = props.record.name;
  await nextTick();
  field.value?.select();
}

function finishNaming(): void {
  const name = naming.value?.trim();
  naming.value = undefined;
  if (name && name !== props.record.name) emit('rename', name);
}

/** Room that its files take; files that scenes share are counted with each. */
const size = computed(() => (props.record.frames > 0 ? ` · ${sayBytes(bytesOfScene(props.record))}` : ''));

const age = new Intl.DateTimeFormat(undefined, { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
</script>

<template>
  <li class="group overflow-hidden rounded-md bg-panel" :data-testid="`scene-${record.name}`">
    <RouterLink :to="{ name: record.frames > 0 ? 'blend' : 'gather', params: { id: record.id } }" class="block aspect-3/2 bg-sunken">
      <img v-if="picture" :src="picture" alt="" class="h-full w-full object-cover" />
      <span v-else class="flex h-full items-center justify-center text-soft">{{ record.frames > 0 ? 'Open to draw its picture' : 'No frames yet' }}</span>
    </RouterLink>
    <div class="flex items-start gap-1 p-3">
      <div class="min-w-0 flex-1">
        <input
          v-if="naming !== undefined" ref="field" v-model="naming" type="text" class="field w-full" aria-label="Name of the scene" maxlength="200"
          @blur="finishNaming" @keydown.enter="finishNaming" @keydown.esc="naming = undefined"
        />
        <RouterLink v-else :to="{ name: record.frames > 0 ? 'blend' : 'gather', params: { id: record.id } }" class="block truncate font-semibold">{{ record.name }}</RouterLink>
        <div class="text-[12px] text-soft">{{ record.frames }} {{ record.frames === 1 ? 'frame' : 'frames' }}{{ size }} · {{ age.format(record.updatedAt) }}</div>
      </div>
      <button type="button" class="rounded p-1.5 text-soft hover:bg-raised hover:text-ink" title="Rename" aria-label="Rename" @click="startNaming"><PhPencilSimple :size="15" /></button>
      <button type="button" class="rounded p-1.5 text-soft hover:bg-raised hover:text-ink" title="Duplicate" aria-label="Duplicate" @click="emit('duplicate')"><PhCopy :size="15" /></button>
      <button type="button" class="rounded p-1.5 text-soft hover:bg-raised hover:text-ink" title="Delete" aria-label="Delete" @click="emit('remove')"><PhTrash :size="15" /></button>
    </div>
  </li>
</template>
