import { onBeforeUnmount, onMounted } from 'vue';
import type { Point } from '../../../bench/viewTransform.ts';
import { useChecks } from '../../../stores/checks.ts';
import { useShortcuts } from '../../../useShortcuts.ts';
import { useVisits } from './useVisits.ts';

/** Keys of the checks, which are made as long as the stage is looked at.
 * @param finished - Whether of the finished picture.
 * @param look - Shows a place of the scene at 100 %. */
export function useCheckKeys(finished: boolean, look: (at: Point) => void): void {
  const checks = useChecks();
  const { step } = useVisits(look);
  useShortcuts({
    'checks.open': () => {
      checks.isOpen = !checks.isOpen;
    },
    'checks.next': () => step(1),
    'checks.before': () => step(-1),
    'checks.leave': () => {
      if (checks.visited) checks.dismiss(checks.visited);
    },
  });
  onMounted(() => {
    checks.finished = finished;
    checks.isWanted = true;
  });
  onBeforeUnmount(() => {
    checks.isWanted = false;
  });
}
