<script setup lang="ts">
/** Sets of settings that are kept by name: applied, saved, written to a file and read from one. */
import { onMounted, ref, shallowRef } from 'vue';
import { readSettings, type SettingSet, SettingsFileError, writeSettings } from '#core/develop/settingsFile.ts';
import type { Develop } from '#core/develop/list.ts';
import { plain } from '../../plain.ts';
import { dropSet, keepSet, keptSets } from '../../storage/settingSets.ts';
import { useNotices } from '../../stores/notices.ts';
import DialogBox from '../../ui/DialogBox.vue';
import { download } from '../../storage/download.ts';

const props = defineProps<{ label: string; develop: Develop; disabled: boolean }>();
const emit = defineEmits<{ close: []; apply: [develop: Develop] }>();
const notices = useNotices();

const MOST_BYTES = 1_000_000;
const sets = shallowRef<readonly SettingSet[]>();
const name = ref('');
const wrong = ref('');
const file = ref<HTMLInputElement>();

async function renew(): Promise<void> {
  sets.value = await keptSets();
}
async function change(task: () => Promise<void>): Promise<void> {
  wrong.value = '';
  try {
    await task();
    await renew();
  } catch (error) {
    if (error instanceof SettingsFileError) wrong.value = error.message;
    else notices.tellError(error);
  }
}
const save = () => change(async () => {
  await keepSet({ name: name.value.trim(), develop: plain(props.develop) });
  name.value = '';
});
const open = () => change(async () => {
  const [chosen] = file.value?.files ?? [];
  if (!chosen) return;
  if (file.value) file.value.value = '';
  if (chosen.size > MOST_BYTES) throw new SettingsFileError('This is not a file of settings: it is too large.');
  await keepSet(readSettings(await chosen.text()));
});
const asFile = (set: SettingSet) => download(new Blob([writeSettings(set)], { type: 'application/json' }), `${set.name}.lusket-settings.json`);
const hasSettings = () => Object.keys(props.develop).length > 0;
const isKept = () => sets.value?.some((set) => set.name === name.value.trim()) ?? false;

onMounted(() => void change(async () => undefined));
</script>

<template>
  <DialogBox title="Sets of settings" @close="emit('close')">
    <p v-if="sets?.length === 0" class="text-soft">None is saved yet. Save the settings of {{ label }} under a name, or open a file.</p>
    <ul v-else class="flex flex-col gap-1.5">
      <li v-for="set in sets" :key="set.name" class="flex items-center gap-1.5">
        <span class="min-w-0 flex-1 truncate" :title="set.name">{{ set.name }}</span>
        <button type="button" class="btn h-7 px-2" :disabled="disabled" :aria-label="`Apply ${set.name} to ${label}`" @click="emit('apply', set.develop)">Apply</button>
        <button type="button" class="btn h-7 px-2" :aria-label="`Write ${set.name} to a file`" @click="asFile(set)">To a file</button>
        <button type="button" class="btn h-7 px-2" :aria-label="`Remove ${set.name}`" @click="change(() => dropSet(set.name))">Remove</button>
      </li>
    </ul>
    <form class="flex items-end gap-1.5" @submit.prevent="save">
      <label class="flex min-w-0 flex-1 flex-col gap-1"><span class="caption">Save the settings of {{ label }} as</span><input v-model="name" type="text" maxlength="80" class="h-8 rounded bg-sunken px-2" /></label>
      <button type="submit" class="btn h-8 px-2" :disabled="name.trim() === '' || !hasSettings()" :title="hasSettings() ? undefined : 'Nothing was done to this frame yet'">{{ isKept() ? 'Replace' : 'Save' }}</button>
    </form>
    <p v-if="wrong" class="font-semibold" role="alert">{{ wrong }}</p>
    <div class="flex justify-between gap-2">
      <button type="button" class="btn" @click="file?.click()">Open a file…</button>
      <input ref="file" type="file" accept=".json" class="hidden" aria-label="File of settings" @change="open" />
      <button type="button" class="btn" @click="emit('close')">Close</button>
    </div>
  </DialogBox>
</template>
