<script setup lang="ts">
/** Where files of a preset go. */
import { computed } from 'vue';
import type { Preset } from '#codecs/deliver/preset.ts';
import { canChooseFolder, chooseFolder } from '../../storage/folderPlace.ts';
import { useDeliveries } from '../../stores/deliveries.ts';
import { useNotices } from '../../stores/notices.ts';

const props = defineProps<{ preset: Preset }>();
const deliveries = useDeliveries();
const notices = useNotices();
const folder = computed(() => deliveries.folders.get(props.preset.id));

async function choose(): Promise<void> {
  const { id } = props.preset;
  try {
    const chosen = await chooseFolder();
    if (chosen) deliveries.sendTo(id, chosen);
  } catch (error) {
    notices.tellError(error);
  }
}
</script>

<template>
  <section v-if="canChooseFolder()" class="flex flex-col gap-2" aria-label="Where to">
    <h3 class="caption">Where to</h3>
    <p class="break-all" data-testid="place">{{ deliveries.placesOf([preset])[0] }}</p>
    <div class="flex flex-wrap gap-2">
      <button type="button" class="btn h-7 px-2" @click="choose">{{ folder ? 'Another folder…' : 'Choose a folder…' }}</button>
      <button v-if="folder" type="button" class="btn h-7 px-2" @click="deliveries.sendTo(preset.id, undefined)">To the downloads</button>
    </div>
  </section>
</template>
