import { computed } from 'vue';
import { setContent } from '#core/scene/edits/stack.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import type { Handle } from './canvasTool.ts';

/** The ends of the run of two colours that the layer at hand shows, while no part of a mask is open. */
export function useColourRun() {
  const tools = useMaskTools();
  const session = useSession();
  const run = computed(() => {
    const content = tools.part ? undefined : tools.layer?.content;
    return content && 'gradient' in content ? content.gradient : undefined;
  });
  const handlesOfRun = computed<Handle[]>(() =>
    run.value
      ? [
          { name: 'start', label: 'First colour', at: run.value.start, move: (to) => ({ start: to }) },
          { name: 'end', label: 'Second colour', at: run.value.end, move: (to) => ({ end: to }) },
        ]
      : [],
  );
  function changeRun(settings: object): void {
    const { layer } = tools;
    if (!layer || !run.value) return;
    session.dispatch(
      setContent({ layerId: layer.id, content: { gradient: { ...run.value, ...settings } } }),
      'mask bench',
    );
  }
  return { run, handlesOfRun, changeRun };
}
