import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { LINEAR, type Sketch } from '../checks/sketch.ts';
import { findDust } from './findDust.ts';
import { findLevel } from './findLevel.ts';
import { proposeSource, stopsBetween } from './proposeSource.ts';

const random = alea('finding');
function drawn(width: number, height: number, toneAt: (x: number, y: number) => number): Sketch {
  const rgba = new Uint8ClampedArray(width * height * 4);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const tone = toneAt(x, y) + 2 * (random() - 0.5);
      rgba.set([tone, tone, tone, 255], i);
    }
  return { width, height, rgba };
}

describe('a level edge', () => {
  it('is found to a tenth of a degree, with how sure it is', () => {
    for (const degrees of [-6.3, -1.2, 0, 2.7, 9]) {
      const slope = Math.tan((degrees * Math.PI) / 180);
      const sea = drawn(400, 260, (x, y) => {
        const below = y - (140 + slope * (x - 200));
        return 170 - 90 * Math.min(1, Math.max(0, below / 2 + 0.5)) + (below > 0 ? 12 * Math.sin(x / 5 + y / 3) : 0);
      });
      const found = findLevel(sea);
      expect(found?.straighten).toBeCloseTo(-degrees, 0.7);
      expect(Math.abs((found?.straighten ?? 99) + degrees)).toBeLessThan(0.15);
      expect(found?.sureness).toBeGreaterThan(0.4);
    }
  });

  it('is found in an upright wall as well, and not where there is none', () => {
    const slope = Math.tan((3 * Math.PI) / 180);
    const wall = drawn(
      300,
      300,
      (x, y) => 160 - 120 * Math.min(1, Math.max(0, (x - 150 + slope * (y - 150)) / 2 + 0.5)),
    );
    expect(Math.abs((findLevel(wall)?.straighten ?? 99) + 3)).toBeLessThan(0.2);
    expect(findLevel(drawn(200, 200, () => 90))).toBeUndefined();
  });
});

describe('dust', () => {
  it('is what stands at one place of the sensor in all frames, and nothing that moves with the view', () => {
    const shifts = [0, 18, -11];
    const DUST = { x: 140, y: 80 };
    const frames = shifts.map((shift) => ({
      // As it lies in the scene: the view stands still, dust moves against it.
      sketch: drawn(300, 200, (x, y) => {
        const isBird = Math.hypot(x - 60, y - 50) < 4;
        const isDust = Math.hypot(x - DUST.x - shift, y - DUST.y) < 4;
        return (150 + y / 8) * (isBird ? 0.5 : 1) * (isDust ? 0.85 : 1);
      }),
      placement: [1, 0, shift * 8, 0, 1, 0, 0, 0, 1],
    }));
    const found = findDust(frames, 8);
    expect(found.length).toBe(1);
    expect(Math.hypot(found[0].x - 8 * DUST.x, found[0].y - 8 * DUST.y)).toBeLessThan(24);
    expect(found[0].depth).toBeGreaterThan(0.02);
    expect(findDust([], 8)).toEqual([]);
  });
});

describe('a proposed source', () => {
  it('has the same surroundings, and nothing that is covered or stands out', () => {
    // An upright post: what covers a spot on it lies above or below.
    const piece = drawn(
      160,
      160,
      (x, y) => (Math.abs(x - 80) < 6 ? 40 : 170) * (Math.hypot(x - 80, y - 80) < 7 ? 0.6 : 1),
    );
    const by = proposeSource(piece, { x: 80, y: 80, radius: 8 }, []);
    expect(Math.abs(by?.x ?? 99)).toBeLessThanOrEqual(2);
    const above = (by?.y ?? 0) < 0 ? -1 : 1;
    const taken = [{ x: 80, y: 80 + above * 36, radius: 28 }];
    const other = proposeSource(piece, { x: 80, y: 80, radius: 8 }, taken);
    expect(Math.sign(other?.y ?? 0)).toBe(-above);
    expect(proposeSource(piece, { x: 1, y: 1, radius: 8 }, [])).toBeDefined();
    expect(
      proposeSource(
        drawn(12, 12, () => 90),
        { x: 6, y: 6, radius: 8 },
        [],
      ),
    ).toBeUndefined();
  });

  it('of another frame is made as bright as the blend is around', () => {
    const dark = drawn(40, 40, () => 80);
    const bright = drawn(40, 40, () => 80 + 29);
    expect(stopsBetween(bright, dark, LINEAR)).toBeCloseTo(Math.log2(LINEAR[109] / LINEAR[80]), 1);
  });
});
