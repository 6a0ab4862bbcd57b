import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import type { PointPair } from '#core/align/pointPairs.ts';
import { EngineError } from '../../engine/engineError.ts';
import { useNotices } from './notices.ts';
import { usePairs } from './pointPairs.ts';

const pairsWith = (snap: (pair: PointPair) => Promise<PointPair | undefined>) =>
  usePairs(() => ({
    toBase: ({ x, y }) => ({ x: x + 1, y }),
    toFrame: ({ x, y }) => ({ x, y: y + 1 }),
    snap,
  }));
const PUT = { base: { x: 11, y: 20 }, frame: { x: 30, y: 41 } };

describe('a pair of points', () => {
  beforeEach(() => setActivePinia(createPinia()));

  const putBoth = async ({ put }: ReturnType<typeof usePairs>) => {
    await put({ x: 10, y: 20 });
    await put({ x: 30, y: 40 });
  };

  it('is kept where both look alike', async () => {
    const exact = { base: PUT.base, frame: { x: 30.5, y: 41.25 } };
    const pairs = pairsWith(async () => exact);
    await putBoth(pairs);
    expect(pairs.pairs.value).toEqual([exact]);
  });

  it('stays where it was put when nothing looks alike, which is said', async () => {
    const pairs = pairsWith(async () => undefined);
    await putBoth(pairs);
    expect(pairs.pairs.value).toEqual([PUT]);
    expect(useNotices().list[0].text).toMatch(/stays where you put it/);
  });

  it('stays as well when looking fails', async () => {
    const pairs = pairsWith(async () => {
      throw new EngineError('thread-failed', 'gone');
    });
    await putBoth(pairs);
    expect(pairs.pairs.value).toEqual([PUT]);
    expect(pairs.isSnapping.value).toBe(false);
    expect(useNotices().list[0].tone).toBe('error');
  });
});
