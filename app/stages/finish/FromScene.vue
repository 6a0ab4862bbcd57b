<script setup lang="ts">
/** Steps of another scene in this browser, laid over this picture. */
import { onMounted, ref, shallowRef } from 'vue';
import { present } from '#core/scene/history.ts';
import { type StepSet, stepSetOf } from '#core/scene/stepSet.ts';
import { listScenes, loadScene } from '../../storage/sceneShelf.ts';
import { useSession } from '../../stores/session.ts';
import { sayError } from '../../wording.ts';

const emit = defineEmits<{ lay: [set: StepSet] }>();
const session = useSession();
const sets = shallowRef<readonly StepSet[]>();
const chosen = ref(0);
const trouble = ref('');

onMounted(async () => {
  try {
    const others = (await listScenes()).filter(({ head, problem }) => head.id !== session.sceneId && !problem);
    const opened = await Promise.all(others.map(async ({ head }) => ({ name: head.name, record: await loadScene(head.id) })));
    sets.value = opened.flatMap(({ name, record }) => {
      const scene = record && present(record.history);
      return scene && scene.finish.length > 0 ? [stepSetOf(scene, name)] : [];
    });
  } catch (error) {
    trouble.value = sayError(error);
  }
});
const said = ({ name, steps }: StepSet) => `${name} · ${steps.length} step${steps.length === 1 ? '' : 's'}`;
function lay(): void {
  const set = sets.value?.[chosen.value];
  if (set) emit('lay', set);
}
</script>

<template>
  <div class="flex items-end gap-1.5">
    <label class="flex min-w-0 flex-1 flex-col gap-1"><span class="caption">Steps of another scene</span>
      <select v-model.number="chosen" class="field h-8 min-w-0 px-2" :disabled="!sets?.length">
        <option v-if="!sets?.length" :value="0">{{ sets || trouble ? 'None here has any' : 'Being looked for…' }}</option>
        <option v-for="(set, index) in sets" :key="index" :value="index">{{ said(set) }}</option>
      </select>
    </label>
    <button type="button" class="btn h-8 px-2" :disabled="!sets?.length || session.readOnly" aria-label="Lay the steps of that scene over this picture" @click="lay">Lay</button>
  </div>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
</template>
