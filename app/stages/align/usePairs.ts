import { type Ref, ref } from 'vue';
import { mapPoint, type Point } from '#core/align/placement.ts';
import { MOST_PAIRS, type PointPair } from '#core/align/pointPairs.ts';
import { IDENTITY3, invert3 } from '#core/raster/matrix3.ts';
import type { Frame } from '#core/scene/frame.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlacing } from '../../stores/placing.ts';

export type Pairs = ReturnType<typeof usePairs>;

/** Pairs of points that are being set: first a spot of the base, then the same spot of the frame. All are kept in pixels of the
 * picture that they lie in. */
export function usePairs(frame: Ref<Frame | undefined>) {
  const placing = usePlacing();
  const notices = useNotices();
  const pairs = ref<PointPair[]>([]);
  /** The spot of the base whose counterpart is still to come. */
  const pending = ref<Point>();
  const isSnapping = ref(false);

  const matrixOf = (of: Frame | undefined) => of?.placement?.matrix ?? IDENTITY3;

  /** A press at a place of the scene. */
  async function put(at: Point): Promise<void> {
    if (pairs.value.length >= MOST_PAIRS || !frame.value) return;
    if (!pending.value) {
      pending.value = at;
      return;
    }
    const base = mapPoint(invert3(matrixOf(placing.base)), pending.value);
    const put: PointPair = { base, frame: mapPoint(invert3(matrixOf(frame.value)), at) };
    pending.value = undefined;
    isSnapping.value = true;
    try {
      const snapped = await placing.snap(frame.value, put);
      if (!snapped) notices.tell('Nothing near there looks alike in both, so the pair stays where you put it.');
      pairs.value = [...pairs.value, snapped ?? put];
    } finally {
      isSnapping.value = false;
    }
  }

  function remove(index: number): void {
    pairs.value = pairs.value.filter((_, i) => i !== index);
  }

  function clear(): void {
    pairs.value = [];
    pending.value = undefined;
  }

  return { pairs, pending, isSnapping, put, remove, clear };
}
