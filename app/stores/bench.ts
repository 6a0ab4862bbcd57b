import { defineStore } from 'pinia';
import { ref } from 'vue';
import { BenchState, newBenchState } from './benchState.ts';

/** The bench: selected layer, look, brush and viewport. */
export const useBench = defineStore('bench', () => {
  const state = ref<BenchState>(newBenchState());
  /** While held, the base alone is shown. */
  const before = ref(false);
  /** While held, the item at hand is shown by itself over the base, or everywhere at half strength. */
  const tried = ref<'alone' | 'half'>();

  /** Takes over how a scene's bench was left; what does not fit any more starts anew. */
  function restore(stored: unknown): void {
    const parsed = BenchState.safeParse(stored);
    state.value = parsed.success ? parsed.data : newBenchState();
    before.value = false;
    tried.value = undefined;
  }

  return { state, before, tried, restore };
});
