import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { AlignCancelled } from '../align/cancelled.ts';
import { LINEAR, type Sketch } from '../checks/sketch.ts';
import { encodeSrgb } from '../color/srgb.ts';
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

  it('is told by uprights that lean towards each other, as a camera sees them that looks up and is held askew', () => {
    const degrees = 4;
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    const street = drawn(480, 320, (x, y) => {
      // Backwards through roll, then through the tilt: walls of a street are upright there.
      const [u, v] = [(x - 240) * c - (y - 160) * s, (x - 240) * s + (y - 160) * c];
      const across = u / (1 + v / 1400);
      return Math.abs(across) > 40 ? 105 + 25 * Math.max(-1, Math.min(1, 8 * Math.sin(across / 12))) : 80;
    });
    const found = findLevel(street);
    expect(found?.along).toBe('upright');
    expect(Math.abs((found?.straighten ?? 99) - degrees)).toBeLessThan(0.3);
    expect(found?.sureness).toBeGreaterThan(0.3);
  });

  it('is not sure of itself where edges run in all directions', () => {
    // As a lens draws an edge: of hard ones each disc would have level and upright pieces.
    const soft = (inside: number) => Math.min(1, Math.max(0, inside / 2 + 0.5));
    const discs = Array.from({ length: 60 }, () => ({ x: 400 * random(), y: 300 * random(), r: 8 + 20 * random() }));
    const found = findLevel(
      drawn(
        400,
        300,
        (x, y) => 60 + discs.reduce((sum, disc) => sum + 25 * soft(disc.r - Math.hypot(x - disc.x, y - disc.y)), 0),
      ),
    );
    expect(found?.sureness).toBeLessThan(0.1);
  });
});

describe('dust', () => {
  const QUIET = { isCancelled: () => false, onProgress: () => undefined };
  const DUST = { x: 140, y: 80 };
  /** A sky that brightens downwards and a bird in it, as frames see them that have moved sideways, and dust that takes 15 % of the light of each.
   * @param stops - Exposures against that at which the sky is of middle brightness. */
  const bracket = (stops: readonly number[], { dust = 0.15, in: among = stops.map(() => true) } = {}) =>
    stops.map((ev, index) => {
      const shift = 13 * ((index % 3) - 1);
      const light = (x: number, y: number) => {
        const isBird = Math.hypot(x - 60, y - 50) < 4;
        const isDust = among[index] && Math.hypot(x - DUST.x - shift, y - DUST.y) < 4;
        return (0.16 + y / 1600) * 2 ** ev * (isBird ? 0.6 : 1) * (isDust ? 1 - dust : 1);
      };
      return {
        sketch: drawn(300, 200, (x, y) => 255 * encodeSrgb(Math.min(1, light(x, y)))),
        placement: [1, 0, shift * 8, 0, 1, 0, 0, 0, 1],
      };
    });

  it('is what stands at one place of the sensor in all frames, and nothing that moves with the view', () => {
    const found = findDust(bracket([0, 0.5, -0.5]), 8, QUIET);
    expect(found.length).toBe(1);
    expect(Math.hypot(found[0].x - 8 * DUST.x, found[0].y - 8 * DUST.y)).toBeLessThan(24);
    expect(found[0].depth).toBeGreaterThan(0.1);
    expect(found[0].depth).toBeLessThan(0.16);
    expect(findDust([], 8, QUIET)).toEqual([]);
  });

  it('is found where long frames are blown and short ones dark, which cannot tell of it', () => {
    const found = findDust(bracket([-4, -2, 0, 2, 4]), 8, QUIET);
    expect(found.map(({ x, y }) => Math.hypot(x - 8 * DUST.x, y - 8 * DUST.y) < 24)).toEqual([true]);
  });

  it('is not what one of several frames lacks, nor what only one can tell of', () => {
    expect(findDust(bracket([0, 0.5, -0.5], { in: [true, false, true] }), 8, QUIET)).toEqual([]);
    expect(findDust(bracket([0, 4, 5]), 8, QUIET)).toEqual([]);
    // Of one frame alone nothing more can be asked.
    expect(findDust(bracket([0]), 8, QUIET).length).toBe(2);
  });

  it('is not what takes more than half of the light, nor next to nothing of it', () => {
    expect(findDust(bracket([0, 0.5, -0.5], { dust: 0.7 }), 8, QUIET)).toEqual([]);
    expect(findDust(bracket([0, 0.5, -0.5], { dust: 0.01 }), 8, QUIET)).toEqual([]);
  });

  it('tells how far it has come, and can be stopped', () => {
    const told: number[] = [];
    findDust(bracket([0, 0]), 8, { ...QUIET, onProgress: (share) => told.push(share) });
    expect(told).toEqual([0.25, 0.5, 0.75, 1]);
    expect(() => findDust(bracket([0, 0]), 8, { ...QUIET, isCancelled: () => true })).toThrow(AlignCancelled);
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
