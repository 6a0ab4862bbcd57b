import { defineStore } from 'pinia';
import { computed, ref, toRaw, watch } from 'vue';
import { DecodeError } from '#codecs/decodeError.ts';
import type { Alignment } from '#core/align/alignment.ts';
import { farthest } from '#core/align/localFit.ts';
import { compose } from '#core/align/placement.ts';
import type { PointPair } from '#core/align/pointPairs.ts';
import type { FrameId } from '#core/ids.ts';
import { IDENTITY3, type Matrix3 } from '#core/raster/matrix3.ts';
import { setLocalFit, takePlacements } from '#core/scene/edits/placing.ts';
import type { ComparedPlace } from '#core/scene/evidence.ts';
import type { Frame, Placement, VerdictReason } from '#core/scene/frame.ts';
import type { AlignRequest, PixelsToPlace } from '#engine/alignProtocol.ts';
import { Lane } from '#engine/lanes.ts';
import { plain } from '../plain.ts';
import { useEngine } from './engine.ts';
import { useNotices } from './notices.ts';
import { useSession } from './session.ts';

/** A fit that moves nothing farther than this many pixels is none. */
const LEAST_MOVE = 0.05;

/** A frame, or a picture of which nobody knows how it was exposed. */
type Placeable = Pick<Frame, 'file' | 'reading' | 'width' | 'height'> & Partial<Pick<Frame, 'shot'>>;

const toPlace = ({ file, reading, width, height, shot }: Placeable): PixelsToPlace =>
  plain({ file: toRaw(file), reading: toRaw(reading), width, height, ev: shot?.ev ?? null });

/** Frames being placed, and what the search saw of each. */
export const usePlacing = defineStore('placing', () => {
  const session = useSession();
  const engines = useEngine();
  const notices = useNotices();

  /** Frames under way, each with how far it has come. */
  const shares = ref<Record<FrameId, number>>({});
  const isRunning = computed(() => Object.keys(shares.value).length > 0);
  watch(() => session.sceneId, stop);

  const base = computed(() => session.scene.frames.find(({ id }) => id === session.scene.base));

  /** Searches how frames lie on the base. Those that are locked are left alone.
   * @param wanted - Where to look. */
  async function align(ids: readonly FrameId[], wanted: AlignRequest['wanted'] = null): Promise<void> {
    const [on, { aligner, engine }] = [base.value, await engines.start()];
    const { frames } = session.scene;
    const chosen = frames.filter(({ id, locked }) => ids.includes(id) && id !== on?.id && !locked);
    if (!on || chosen.length === 0 || isRunning.value) return;
    engine.advance(Lane.Align);
    shares.value = Object.fromEntries(chosen.map(({ id }) => [id, 0]));
    const [drag, scene] = [crypto.randomUUID(), session.sceneId];
    const found: { frameId: FrameId; placement: Placement }[] = [];
    await Promise.all(
      chosen.map(async (frame) => {
        const others = frames.filter(({ id, choice }) => id !== on.id && id !== frame.id && choice !== 'out');
        const request = { base: toPlace(on), frame: toPlace(frame), between: others.map(toPlace), wanted };
        try {
          const alignment = await aligner.align(request, (share) => {
            if (frame.id in shares.value) shares.value[frame.id] = share;
          });
          if (session.sceneId !== scene) return;
          const placement = placementOf(alignment, on);
          found.push({ frameId: frame.id, placement });
          session.keepEvidence(frame.id, { found: placement, compared: comparedOf(alignment) });
          session.dispatch(takePlacements({ found: [...found] }), drag);
        } catch (error) {
          const stopped = error instanceof DecodeError && error.code === 'cancelled';
          if (!stopped) notices.tellError(error);
        } finally {
          delete shares.value[frame.id];
        }
      }),
    );
    if (session.sceneId === scene) session.closeDrag();
  }

  /** Stops searching; frames that are placed already stay so. */
  function stop(): void {
    engines.running?.engine.advance(Lane.Align);
  }

  /** Fits a placed frame further from place to place: parallax, wind. */
  async function fitFurther(frame: Frame, limit: number): Promise<void> {
    const on = base.value;
    if (!on || isRunning.value) return;
    const { aligner, engine } = await engines.start();
    engine.advance(Lane.Align);
    shares.value = { [frame.id]: 0 };
    const scene = session.sceneId;
    try {
      const placement = [...(frame.placement?.matrix ?? IDENTITY3)];
      const request = { base: toPlace(on), frame: toPlace(frame), placement, limit };
      const { columns, rows, dx, dy } = await aligner.fitLocally(request, (share) => {
        if (frame.id in shares.value) shares.value[frame.id] = share;
      });
      if (session.sceneId !== scene) return;
      const local = { columns, rows, dx: [...dx], dy: [...dy] };
      session.dispatch(setLocalFit({ frameId: frame.id, local: farthest(local) < LEAST_MOVE ? null : local }));
      if (farthest(local) < LEAST_MOVE) notices.tell('Nothing is left to fit: the frame is aligned everywhere.');
    } catch (error) {
      const stopped = error instanceof DecodeError && error.code === 'cancelled';
      if (!stopped) notices.tellError(error);
    } finally {
      delete shares.value[frame.id];
    }
  }

  /** Searches how a picture that is no frame of the scene lies on its base.
   * @returns From its pixels to the scene, as far as the lens of the base is straight; undefined where no place was found.
   * @throws {DecodeError} `cancelled` when it was stopped. */
  async function findPicture(picture: Placeable, onProgress: (share: number) => void): Promise<Matrix3 | undefined> {
    const on = base.value;
    if (!on || isRunning.value) return undefined;
    const { aligner, engine } = await engines.start();
    engine.advance(Lane.Align);
    const request = { base: toPlace(on), frame: toPlace(picture), between: [], wanted: null };
    const { verdict, matrix } = await aligner.align(request, onProgress);
    return verdict === 'failed' ? undefined : compose(matrix, on.placement?.matrix ?? IDENTITY3);
  }

  /** A pair of points, in pixels of the frame and of the base, put exactly where both look alike. */
  async function snap(frame: Placeable, pair: PointPair): Promise<PointPair | undefined> {
    if (!base.value) return undefined;
    const { aligner } = await engines.start();
    return aligner.snap({ base: toPlace(base.value), frame: toPlace(frame), pair: plain(pair) });
  }

  return { shares, isRunning, base, align, findPicture, fitFurther, stop, snap };
});

/** What was compared, to whole pixels and hundredths of how far it was off: it is kept with the scene. */
const comparedOf = ({ places }: Alignment): ComparedPlace[] =>
  places.map(({ x, y, missPx }) => ({
    x: Math.round(x),
    y: Math.round(y),
    missPx: missPx === null ? null : Math.round(100 * missPx) / 100,
  }));

/** A figure that came out as infinite is not known. */
const knownFigures = ({ px, ...reason }: VerdictReason): VerdictReason =>
  px === undefined || !Number.isFinite(px) ? reason : { ...reason, px };

/** What was found, in scene space: the base may be placed itself. */
function placementOf(found: Alignment, base: Frame): Placement {
  const { matrix, model, verdict, reason, residualPx, agreement, confidence, stops } = found;
  return {
    matrix: [...compose(matrix, base.placement?.matrix ?? IDENTITY3)],
    model,
    verdict,
    reason: knownFigures(reason),
    residualPx: Number.isFinite(residualPx) ? residualPx : null,
    agreement,
    confidence,
    stops,
  };
}
