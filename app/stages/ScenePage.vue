<script setup lang="ts">
/** One open scene: loads it, keeps it, and shows its stages. */
import { onBeforeUnmount, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { filesOf } from '#core/scene/places.ts';
import { useEngine } from '../stores/engine.ts';
import { pixelsName, useFrames } from '../stores/frames.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import HelpSheet from '../ui/HelpSheet.vue';
import ProgressLine from '../ui/ProgressLine.vue';
import { useShortcuts } from '../useShortcuts.ts';
import GoneScene from './GoneScene.vue';
import LostOriginals from './LostOriginals.vue';
import { keepPicture, useScenePicture } from './useScenePicture.ts';
import SkipLinks from './SkipLinks.vue';
import StageTrail from './StageTrail.vue';

const props = defineProps<{ id: string }>();

const router = useRouter();
const session = useSession();
const frames = useFrames();
const engines = useEngine();
const notices = useNotices();
const ready = ref(false);
const help = ref(false);

async function open(id: string): Promise<void> {
  ready.value = false;
  try {
    await session.whenLeft();
    if (!(await session.open(id))) {
      notices.tell('This scene is no longer in this browser.', { tone: 'error' });
      await router.replace('/');
      return;
    }
    ready.value = true;
    await frames.ensure();
  } catch (error) {
    notices.tellError(error);
    await router.replace('/');
  }
}
watch(() => props.id, open, { immediate: true });
useScenePicture();

onBeforeUnmount(() => session.leave(async () => {
  frames.stop();
  const { scene, sceneId, history } = session;
  const everHad = [history.origin, ...history.steps.map(({ after }) => after), scene].flatMap(filesOf);
  if (engines.running && sceneId && !session.gone) await keepPicture(engines.running.engine, sceneId, scene);
  await session.close();
  await frames.drop([...new Map(everHad.map((each) => [pixelsName(each), each])).values()]);
}));

useShortcuts({ undo: () => session.undo(), redo: () => session.redo(), help: () => { help.value = !help.value; } });
</script>

<template>
  <div class="flex h-full">
    <SkipLinks />
    <StageTrail @help="help = true" />
    <main class="flex min-w-0 flex-1 flex-col" data-skip="Stage" tabindex="-1">
      <p v-if="session.readOnly" class="shrink-0 border-b border-line bg-panel px-4 py-2" role="status">This scene is open in another tab. You can view it here, and edit it once it is closed there.</p>
      <GoneScene v-if="session.gone" />
      <LostOriginals v-if="frames.lost.length > 0" />
      <div v-if="frames.reading" class="shrink-0 border-b border-line bg-panel px-4 py-2">
        <ProgressLine
          :text="`Reading ${Object.keys(frames.reading.shares).join(', ')} (${frames.reading.done} of ${frames.reading.total} done)`"
          :share="(frames.reading.done + Object.values(frames.reading.shares).reduce((sum, share) => sum + share, 0)) / frames.reading.total" stoppable @stop="frames.stop()"
        />
      </div>
      <div class="min-h-0 flex-1"><RouterView v-if="ready" /></div>
    </main>
    <HelpSheet :open="help" @close="help = false" />
  </div>
</template>
