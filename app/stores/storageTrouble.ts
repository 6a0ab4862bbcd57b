import { defineStore } from 'pinia';
import { ref } from 'vue';
import { type DatabaseTrouble, onDatabaseTrouble } from '../storage/database.ts';
import { useSession } from './session.ts';

/** What keeps this page from its database, if anything does. */
export const useStorageTrouble = defineStore('storageTrouble', () => {
  const session = useSession();
  const trouble = ref<Exclude<DatabaseTrouble, 'cleared'>>();

  onDatabaseTrouble((now) => {
    // What is cleared concerns the scene that is open; a page without one begins anew.
    if (now !== 'cleared') trouble.value = now;
    else if (session.sceneId) session.gone = 'cleared';
  });

  return { trouble };
});
