import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import type { Scene } from '#core/scene/scene.ts';
import { BenchState, newBenchState } from './benchState.ts';

export type Finishing = 'steps' | 'spots' | 'turn';

/** The bench: selected layer, look, brush and viewport. */
export const useBench = defineStore('bench', () => {
  const state = ref<BenchState>(newBenchState());
  /** While held, what is compared with is shown. */
  const before = ref(false);
  /** It lies to the left of an upright over the picture. */
  const divides = ref(false);
  /** Blend shows what finishes the picture as well. */
  const withFinish = ref(false);
  /** While an end of levels is dragged, only what clips is seen. */
  const showsClipped = ref(true);
  /** What is done in Finish: steps above the blend, spots in it, or how it is turned and cut. */
  const finishing = ref<Finishing>('steps');
  /** The step that is compared with, with what it is called; undefined while it is none. */
  const since = shallowRef<{ scene: Scene; name: string }>();
  /** The scene that this one is compared with is shown instead of it: a remedy that is tried. */
  const showsOther = ref(false);
  /** While held, the item at hand is shown by itself over the base, or everywhere at half strength. */
  const tried = ref<'alone' | 'half'>();

  /** Cards of the strip whose name holds this; all while it is empty. */
  const sought = ref('');
  /** What of the card at hand was asked for last, and how often: the bench brings it into sight. */
  const asked = ref<{ what: 'content' | 'mask'; times: number }>({ what: 'content', times: 0 });
  function open(what: 'content' | 'mask'): void {
    if (what === 'mask') state.value.of = 'mask';
    asked.value = { what, times: asked.value.times + 1 };
  }

  /** Takes over how a scene's bench was left; what does not fit any more starts anew. */
  function restore(stored: unknown): void {
    const parsed = BenchState.safeParse(stored);
    state.value = parsed.success ? parsed.data : newBenchState();
    before.value = false;
    divides.value = false;
    since.value = undefined;
    if (state.value.beforeIs === 'step') state.value.beforeIs = 'base';
    tried.value = undefined;
    showsOther.value = false;
    sought.value = '';
  }

  return {
    state,
    before,
    divides,
    withFinish,
    showsClipped,
    finishing,
    since,
    showsOther,
    tried,
    sought,
    asked,
    open,
    restore,
  };
});
