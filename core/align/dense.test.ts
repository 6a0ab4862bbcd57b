import { describe, expect, it } from 'vitest';
import { lowTexture } from '../../bench/align/lowTexture.ts';
import { cornerError, takePair } from '../../bench/align/sets.ts';
import { loadPixels, madeFrame, openPixels } from '../../tests/smallScene.ts';
import { IDENTITY3, type Matrix3 } from '../raster/matrix3.ts';
import { frameKey } from '../render/nodes/frameNode.ts';
import { alignDensely, densePair } from './dense.ts';
import { matchAreas } from './denseMatches.ts';
import { estimatePlacement } from './estimate.ts';
import { smooth } from './patchMatch.ts';
import { compose, cornerDistance, mapPoint, shiftMatrix } from './placement.ts';
import { TileSource } from './tileSource.ts';
import type { ToneSignal } from './toneSignal.ts';

const size = { width: 300, height: 200 };
/** Smooth hills without an edge or a corner, which can be read anywhere. */
const toneAt = (x: number, y: number) =>
  -3 + 0.5 * Math.sin(x / 31 + y / 47) + 0.4 * Math.cos(y / 23 - x / 90) + 0.2 * Math.sin((x - 2 * y) / 37);

function signal(at: (x: number, y: number) => number, weight = (_x: number, _y: number) => 1): ToneSignal {
  const { width, height } = size;
  const of = (value: (x: number, y: number) => number) =>
    Float32Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width)));
  return { ...size, value: of(at), weight: of(weight) };
}
/** The hills seen through a placement (frame to base), brighter, with less contrast, and light that falls off across. */
const seen = (placement: Matrix3) =>
  signal((x, y) => {
    const at = mapPoint(placement, { x, y });
    return 0.8 * toneAt(at.x, at.y) + 1.7 + 0.002 * x - 0.001 * y;
  });
const everywhere = () => 1;

describe('placing by the whole', () => {
  /** A camera's: turned, zoomed and tilted along its way, about the middle. */
  const truth = compose(
    shiftMatrix(-150, -100),
    [1.004, 0.0055, 3.3, -0.0055, 1.004, -2.6, 8e-6, -6.3e-6, 1],
    shiftMatrix(150, 100),
  );
  const stretched: Matrix3 = [1.004, 0.006, 3.3, -0.005, 0.997, -2.6, 8e-6, -6e-6, 1];

  it('finds a homography of smooth tones to less than a tenth of a pixel, whatever the light, and of no camera', () => {
    for (const placement of [truth, stretched]) {
      const pair = densePair(0, signal(toneAt), seen(placement), everywhere);
      const found = alignDensely(pair, IDENTITY3, 'perspective');
      expect(cornerDistance(found?.matrix as Matrix3, placement, size)).toBeLessThan(0.08);
    }
  });

  it('leaves out what is not to be looked at, and what something stands before', () => {
    const isAway = (x: number, y: number) => x > 180 && x < 260 && y > 40 && y < 120;
    const there = seen(truth);
    const frame = {
      ...there,
      value: there.value.map((value, i) => (isAway(i % 300, Math.floor(i / 300)) ? value + Math.sin(i) : value)),
    };
    const pair = densePair(0, signal(toneAt), frame, ({ x }) => (x < 20 ? 0 : 1));
    const found = alignDensely(pair, IDENTITY3, 'perspective');
    expect(cornerDistance(found?.matrix as Matrix3, truth, size)).toBeLessThan(0.1);
  });

  it('is not misled by light that falls off across, nor by one that does not', () => {
    const fading = (x: number, y: number) => toneAt(x, y) + y / 90;
    const even = signal((x, y) => {
      const at = mapPoint(truth, { x, y });
      return fading(at.x, at.y) + 1.7;
    });
    const uneven = { ...even, value: even.value.map((value, i) => value + 0.0015 * Math.floor(i / 300)) };
    for (const frame of [even, uneven]) {
      const pair = densePair(0, signal(fading), frame, everywhere);
      const start = alignDensely(pair, IDENTITY3, 'similarity');
      const found = alignDensely(pair, start?.matrix as Matrix3, 'perspective');
      expect(cornerDistance(found?.matrix as Matrix3, truth, size)).toBeLessThan(0.1);
      expect(found?.doubt).toBeLessThan(0.1);
    }
  });

  it('finds nothing where there is nothing, or where both hold next to nothing', () => {
    const flat = signal(() => -3);
    expect(alignDensely(densePair(0, flat, flat, everywhere), IDENTITY3, 'shift')).toBeUndefined();
    const clipped = signal(toneAt, (x) => (x < 5 ? 1 : 0));
    expect(alignDensely(densePair(0, clipped, seen(truth), everywhere), IDENTITY3, 'shift')).toBeUndefined();
    // Slopes of one direction do not tell of the other.
    const ramp = signal((x) => -3 + x / 100);
    expect(alignDensely(densePair(0, ramp, ramp, everywhere), IDENTITY3, 'perspective')).toBeUndefined();
  });

  it('is judged by areas that know how far they are off, and how surely', () => {
    const noisy = (placement: Matrix3, seed: number) => {
      const made = seen(placement);
      let state = seed;
      const random = () => {
        state = (Math.imul(state, 1664525) + 1013904223) | 0;
        return (state >>> 0) / 2 ** 32 - 0.5;
      };
      return smooth(
        smooth({ ...made, value: made.value.map((value) => value + 0.1 * (random() + random() + random())) }),
      );
    };
    let [within, all] = [0, 0];
    for (let seed = 1; seed <= 12; seed++) {
      const pair = densePair(0, smooth(smooth(signal(toneAt))), noisy(truth, seed), everywhere);
      // Looked at from a placement that is off by a known shift.
      const { matches, unlike } = matchAreas(pair, compose(truth, shiftMatrix(0.4, -0.3)));
      expect(unlike).toEqual([]);
      for (const {
        from,
        to,
        sureness: [xx, xy, yy],
      } of matches) {
        const at = mapPoint(truth, from);
        const [ex, ey] = [to.x - at.x, to.y - at.y];
        all++;
        if (ex * ex * xx + 2 * ex * ey * xy + ey * ey * yy < 5.99) within++;
      }
    }
    expect(all).toBeGreaterThan(400);
    // 95 % of a normal distribution in two directions lie within 5.99 variances (chi squared, handbook tables); of an
    // honest estimate about as many do.
    expect(within / all).toBeGreaterThan(0.9);
  });
});

describe('pairs in which little can be seen', () => {
  const { resources, loader } = openPixels(2 ** 27);
  const picture = { width: 720, height: 480 };
  it.each([
    ['dunes', 0, 0.3],
    ['a hazy lake', 4, 0.3],
    ['a lake by night', 14, 0.4],
  ])('%s, out of a hand: %i', { timeout: 60_000 }, (_name, seed, most) => {
    const { set, light } = lowTexture(seed, picture);
    const pair = takePair(set, light, picture, seed);
    const [base, frame] = [pair.base, pair.frame].map((pixels, k) => {
      const made = madeFrame(100 + seed * 2 + k, picture);
      loadPixels(loader, made, (x, y) => {
        const at = 3 * (y * picture.width + x);
        return [pixels[at], pixels[at + 1], pixels[at + 2]];
      });
      return new TileSource(resources.table, frameKey(made.file.sha256, made.reading), picture);
    });
    const found = estimatePlacement(base, frame);
    expect(found.verdict).not.toBe('failed');
    expect(cornerError(found.matrix, pair)).toBeLessThan(most);
  });
});
