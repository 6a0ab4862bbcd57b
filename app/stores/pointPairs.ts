import { ref } from 'vue';
import type { Point } from '#core/align/placement.ts';
import { MOST_PAIRS, type PointPair } from '#core/align/pointPairs.ts';
import { useNotices } from './notices.ts';

export type Pairs = ReturnType<typeof usePairs>;

/** Two pictures of which spots are told to be the same. */
export interface PairedPictures {
  /** From the scene, counted from the middle of its first pixel, to pixels of each. */
  toBase: (at: Point) => Point;
  toFrame: (at: Point) => Point;
  /** Puts the frame's half of a pair exactly where both look alike; undefined where nothing does. */
  snap: (pair: PointPair) => Promise<PointPair | undefined>;
}

/** Pairs of points that are being set: first a spot of the base, then the same spot of the frame. All are kept in pixels of the
 * picture that they lie in. */
export function usePairs(pictures: () => PairedPictures | undefined) {
  const notices = useNotices();
  const pairs = ref<PointPair[]>([]);
  /** The spot of the base whose counterpart is still to come. */
  const pending = ref<Point>();
  const isSnapping = ref(false);

  /** A press at a place of the scene. */
  async function put(at: Point): Promise<void> {
    const between = pictures();
    if (pairs.value.length >= MOST_PAIRS || !between) return;
    if (!pending.value) {
      pending.value = at;
      return;
    }
    const put: PointPair = { base: between.toBase(pending.value), frame: between.toFrame(at) };
    pending.value = undefined;
    isSnapping.value = true;
    let found: PointPair | undefined;
    try {
      found = await between.snap(put);
      if (!found) notices.tell('Nothing near there looks alike in both, so the pair stays where you put it.');
    } catch (error) {
      notices.tellError(error);
    } finally {
      // What was put is kept, whatever hindered looking for the exact point.
      pairs.value = [...pairs.value, found ?? put];
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
