<script setup lang="ts">
/** Sets of steps that are kept by name: laid over this picture, saved from it, written to a file and read from one. */
import { ref, shallowRef } from 'vue';
import { laySteps } from '#core/scene/edits/steps.ts';
import { readStepSet, type StepSet, StepSetError, stepSetOf, stepsFor, writeStepSet } from '#core/scene/stepSet.ts';
import { plain } from '../../plain.ts';
import { dropStepSet, keepStepSet, keptStepSets } from '../../storage/settingSets.ts';
import { useBench } from '../../stores/bench.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import DialogBox from '../../ui/DialogBox.vue';
import FromScene from './FromScene.vue';
import { download } from '../../storage/download.ts';

const session = useSession();
const bench = useBench();
const notices = useNotices();

const MOST_BYTES = 4_000_000;
const isOpen = ref(false);
const sets = shallowRef<readonly StepSet[]>();
const name = ref('');
const wrong = ref('');
const file = ref<HTMLInputElement>();

async function change(task: () => Promise<void>): Promise<void> {
  wrong.value = '';
  try {
    await task();
    sets.value = await keptStepSets();
  } catch (error) {
    if (error instanceof StepSetError) wrong.value = error.message;
    else notices.tellError(error);
  }
}
function open(): void {
  isOpen.value = true;
  void change(async () => undefined);
}
const save = () => change(async () => {
  await keepStepSet(plain(stepSetOf(session.scene, name.value.trim())));
  name.value = '';
});
const read = () => change(async () => {
  const [chosen] = file.value?.files ?? [];
  if (file.value) file.value.value = '';
  if (!chosen) return;
  if (chosen.size > MOST_BYTES) throw new StepSetError('This is not a set of steps: it is too large.');
  await keepStepSet(readStepSet(await chosen.text()));
});
function lay(set: StepSet): void {
  const steps = stepsFor(set, session.scene, () => crypto.randomUUID());
  if (steps.length === 0) return;
  session.dispatch(laySteps({ steps }));
  bench.state.layerId = steps.at(-1)?.id ?? null;
  isOpen.value = false;
  notices.tell(`${set.name} is laid on top: masks of tones and shapes came along, what was painted did not.`);
}
const asFile = (set: StepSet) => download(new Blob([writeStepSet(set)], { type: 'application/json' }), `${set.name}.lusket-steps.json`);
</script>

<template>
  <button type="button" class="btn h-7 w-17 justify-center px-1 text-[12px]" title="Steps saved by name, for other pictures" @click="open">Sets…</button>
  <DialogBox v-if="isOpen" title="Sets of steps" @close="isOpen = false">
    <p v-if="sets?.length === 0" class="text-soft">None is saved yet. Save the steps of this picture under a name, or open a file.</p>
    <ul v-else class="flex flex-col gap-1.5">
      <li v-for="set in sets" :key="set.name" class="flex items-center gap-1.5">
        <span class="min-w-0 flex-1 truncate" :title="set.name">{{ set.name }} <span class="text-soft">{{ set.steps.length }} step{{ set.steps.length === 1 ? '' : 's' }}</span></span>
        <button type="button" class="btn h-7 px-2" :disabled="session.readOnly" :aria-label="`Lay ${set.name} over this picture`" @click="lay(set)">Lay</button>
        <button type="button" class="btn h-7 px-2" :aria-label="`Write ${set.name} to a file`" @click="asFile(set)">To a file</button>
        <button type="button" class="btn h-7 px-2" :aria-label="`Remove ${set.name}`" @click="change(() => dropStepSet(set.name))">Remove</button>
      </li>
    </ul>
    <FromScene @lay="lay" />
    <form class="flex items-end gap-1.5" @submit.prevent="save">
      <label class="flex min-w-0 flex-1 flex-col gap-1"><span class="caption">Save the steps of this picture as</span><input v-model="name" type="text" maxlength="80" class="h-8 rounded bg-sunken px-2" /></label>
      <button type="submit" class="btn h-8 px-2" :disabled="name.trim() === '' || session.scene.finish.length === 0" :title="session.scene.finish.length > 0 ? undefined : 'There are no steps yet'">Save</button>
    </form>
    <p v-if="wrong" class="font-semibold" role="alert">{{ wrong }}</p>
    <div class="flex justify-between gap-2">
      <button type="button" class="btn" @click="file?.click()">Open a file…</button>
      <input ref="file" type="file" accept=".json" class="hidden" aria-label="File of steps" @change="read" />
      <button type="button" class="btn" @click="isOpen = false">Close</button>
    </div>
  </DialogBox>
</template>
