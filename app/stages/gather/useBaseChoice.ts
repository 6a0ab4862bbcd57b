import { computed, ref } from 'vue';
import type { FrameId } from '#core/ids.ts';
import { type BaseChange, baseChange } from '#core/scene/baseChange.ts';
import { setBase } from '#core/scene/edits/frames.ts';
import { frameLabel } from '../../frameLabel.ts';
import { useSession } from '../../stores/session.ts';
import { sayBaseChange } from './sayBaseChange.ts';

/** Another base: what changes with it is said first, where there is anything to say. */
export function useBaseChoice() {
  const session = useSession();
  const asked = ref<{ id: FrameId; run: () => void }>();

  const label = (id: FrameId): string => frameLabel(session.scene, id);
  const question = computed(() => {
    if (!asked.value) return undefined;
    const { id } = asked.value;
    const former = session.scene.base;
    const names = { base: label(id), former: former ? label(former) : '' };
    return { title: `Use ${names.base} as the base?`, lines: sayBaseChange(baseChange(session.scene, id), names) };
  });

  /** @param run - What makes it the base. */
  function choose(id: FrameId, run: () => void = () => session.dispatch(setBase({ frameId: id }))): void {
    const isSilent = session.scene.base === id || isPlain(baseChange(session.scene, id));
    if (isSilent) run();
    else asked.value = { id, run };
  }

  function answer(isYes: boolean): void {
    const run = asked.value?.run;
    asked.value = undefined;
    if (isYes) run?.();
  }

  return { question, choose, answer };
}

/** Nothing changes that anybody has worked on. */
const isPlain = ({ setAside, comeBack, readers, isPlaced }: BaseChange): boolean =>
  setAside.length === 0 && comeBack.length === 0 && readers === 0 && !isPlaced;
