<script setup lang="ts">
/** The scene that is open is stored no more: says so, and offers to keep it as a new one. */
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import { useFrames } from '../stores/frames.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

const router = useRouter();
const session = useSession();
const frames = useFrames();
const notices = useNotices();
const busy = ref(false);

async function keep(): Promise<void> {
  busy.value = true;
  try {
    const id = await session.keepAsNew();
    await router.replace({ params: { id } });
    await frames.askForUnstored();
    notices.tell('Saved as a new scene, with everything that is left of it.');
  } catch (error) {
    notices.tellError(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="flex shrink-0 items-center gap-4 border-b border-line bg-panel px-4 py-2" role="alert" aria-label="The scene is gone">
    <p class="min-w-0 flex-1">
      {{ session.gone === 'deleted' ? 'This scene was deleted in another tab.' : 'The browser has cleared what it stored of this scene.' }}
      What you see is only in this tab, and what you change is not stored.
    </p>
    <button type="button" class="btn btn-main" :disabled="busy" @click="keep">Save as a new scene</button>
  </div>
</template>
