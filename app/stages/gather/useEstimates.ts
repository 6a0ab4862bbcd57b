import { watch } from 'vue';
import { estimateEvs } from '#core/checks/exposureRatio.ts';
import type { FrameId } from '#core/ids.ts';
import { setEstimates } from '#core/scene/edits/gather.ts';
import { useFrames } from '../../stores/frames.ts';
import { useSession } from '../../stores/session.ts';
import { useSketches } from '../../stores/sketches.ts';

/** Estimates the brightness of frames whose camera wrote none, once all frames can be looked at; each frame once, so that
 * undoing it stays undone. */
export function useEstimates(): void {
  const session = useSession();
  const sketches = useSketches();
  const reading = useFrames();
  const tried = new Set<FrameId>();
  watch(
    () => [session.scene.frames, sketches.made, reading.reading],
    () => {
      if (reading.reading) return;
      const { frames } = session.scene;
      const unknown = frames.filter(({ id, shot }) => shot.ev === null && !tried.has(id));
      const found = frames.flatMap((frame) => sketches.sketchOf(frame) ?? []);
      if (unknown.length === 0 || frames.length < 2 || found.length < frames.length) return;
      for (const { id } of unknown) tried.add(id);
      const evs = estimateEvs(
        found,
        frames.map(({ shot }) => shot.ev),
      );
      const estimates = frames.flatMap(({ id, shot }, index) => {
        const ev = evs[index];
        return shot.ev === null && ev !== null ? [{ frameId: id, ev }] : [];
      });
      if (estimates.length > 0) session.dispatch(setEstimates({ evs: estimates }));
    },
    { immediate: true },
  );
}
