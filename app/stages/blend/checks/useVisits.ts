import { onBeforeUnmount, ref, toRaw } from 'vue';
import type { CheckName } from '#core/checks/checkedBlock.ts';
import type { Visit } from '#core/checks/visits.ts';
import { applyEdit, together } from '#core/scene/edits/index.ts';
import type { Point } from '../../../bench/viewTransform.ts';
import { plain } from '../../../plain.ts';
import { useBench } from '../../../stores/bench.ts';
import { useChecks } from '../../../stores/checks.ts';
import { useEngine } from '../../../stores/engine.ts';
import { useSession } from '../../../stores/session.ts';
import type { Remedy } from './remedies.ts';

/** Going from place to place, and trying and taking remedies.
 * @param look - Shows a place of the scene at 100 %. */
export function useVisits(look: (at: Point) => void) {
  const checks = useChecks();
  const session = useSession();
  const bench = useBench();
  const engines = useEngine();

  function visit(to: Visit | undefined): void {
    checks.visitedId = to?.id;
    if (to)
      look(to.facts.otherX === undefined ? to : { x: (to.x + to.facts.otherX) / 2, y: (to.y + to.facts.otherY) / 2 });
  }

  function choose(check: CheckName | undefined): void {
    checks.chosen = check;
    checks.visitedId = undefined;
  }

  /** Goes to the next place of the check, or of the next check that has any. */
  function step(by: 1 | -1): void {
    if (!checks.isOpen) checks.isOpen = true;
    const all = checks.byWorst.flatMap((check) => checks.open.filter((each) => each.check === check));
    if (all.length === 0) return;
    const at = all.findIndex(({ id, check }) => id === checks.visitedId && check === checks.chosen);
    const first = all.findIndex(({ check }) => check === checks.chosen);
    const index = at >= 0 ? at + by : Math.max(0, first);
    const next = all[(index + all.length) % all.length];
    checks.chosen = next.check;
    visit(next);
  }

  /** The remedy whose outcome is shown instead of the picture. */
  const tried = ref<string>();
  /** Strokes that the engine was told for trying. */
  function tellPoints({ points }: Remedy): void {
    const engine = engines.running?.engine;
    if (points && engine && !engine.knowsStroke(points.stroke.id))
      engine.addStrokePoints(points.stroke.id, points.points);
  }

  function tryOut(remedy: Remedy): void {
    tellPoints(remedy);
    engines.running?.engine.setOther(remedy.edits.reduce(applyEdit, toRaw(session.scene)));
    tried.value = remedy.name;
    bench.showsOther = true;
  }

  function endTrying(): void {
    if (!bench.showsOther) return;
    tried.value = undefined;
    bench.showsOther = false;
    engines.running?.engine.setOther(bench.since && toRaw(bench.since.scene));
  }
  onBeforeUnmount(endTrying);

  function take(remedy: Remedy): void {
    endTrying();
    const [only] = remedy.edits;
    if (remedy.points && remedy.edits.length === 1) {
      tellPoints(remedy);
      const { owner, of } = only.params as { owner: Parameters<typeof session.finishStroke>[0]['owner']; of: 'mask' };
      void session.finishStroke({ owner, of, stroke: remedy.points.stroke, through: null }, remedy.points.points);
    } else
      session.dispatch(
        remedy.edits.length === 1
          ? only
          : together({ edits: remedy.edits.map(({ kind, params }) => ({ kind, params: plain(params) })) }),
      );
  }

  return { visit, choose, step, tried, tryOut, endTrying, take };
}
