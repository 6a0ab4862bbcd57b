import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allTiles, tilesIn } from './region.ts';
import {
  coarsestFrom,
  levelCount,
  levelForScale,
  levelSize,
  quarterForScale,
  TILE,
  tileGrid,
  tileRegion,
} from './size.ts';

const sizes = fc.record({ width: fc.integer({ min: 1, max: 9000 }), height: fc.integer({ min: 1, max: 9000 }) });

describe('pyramid sizes', () => {
  it('ends in one tile', () => {
    fc.assert(
      fc.property(sizes, (size) => {
        const last = levelSize(size, levelCount(size) - 1);
        expect(Math.max(last.width, last.height)).toBeLessThanOrEqual(TILE);
        if (levelCount(size) > 1) {
          const before = levelSize(size, levelCount(size) - 2);
          expect(Math.max(before.width, before.height)).toBeGreaterThan(TILE);
        }
      }),
    );
  });

  it('covers every pixel of a level with tiles once', () => {
    fc.assert(
      fc.property(sizes, fc.integer({ min: 0, max: 6 }), (size, level) => {
        const { width, height } = levelSize(size, level);
        const covered = allTiles(size, level)
          .map(({ tx, ty }) => tileRegion(size, level, tx, ty))
          .reduce((sum, region) => sum + region.width * region.height, 0);
        expect(covered).toBe(width * height);
      }),
    );
  });

  it('finds the tiles that a region touches, and none outside the picture', () => {
    const size = { width: 300, height: 200 };
    expect(tilesIn(size, 0, { x: 100, y: -50, width: 60, height: 60 })).toEqual([
      { tx: 0, ty: 0 },
      { tx: 1, ty: 0 },
    ]);
    expect(tilesIn(size, 0, { x: -900, y: 0, width: 10, height: 10 })).toEqual([]);
    expect(tilesIn(size, 0, { x: 128, y: 128, width: 128, height: 1 })).toEqual([{ tx: 1, ty: 1 }]);
    expect(tileGrid(size, 1)).toEqual({ columns: 2, rows: 1 });
  });

  it.each([
    [1, 0],
    [2, 0],
    [0.5, 1],
    [0.51, 0],
    [0.25, 2],
    [0.3, 1],
    [0.0001, 5],
  ])('draws a zoom of %f from level %i', (scale, level) => {
    expect(levelForScale(scale, 6)).toBe(level);
  });

  it('halves quarters of levels as it does whole ones, down to a single tile', () => {
    fc.assert(
      fc.property(sizes, fc.integer({ min: 0, max: 24 }), (size, quarters) => {
        const level = quarters / 4;
        const { width, height } = levelSize(size, level);
        expect(levelSize(size, level + 1)).toEqual({ width: Math.ceil(width / 2), height: Math.ceil(height / 2) });
        const last = coarsestFrom(level, levelCount(size));
        expect(Number.isInteger(last - level)).toBe(true);
        expect(tileGrid(size, last)).toEqual({ columns: 1, rows: 1 });
      }),
    );
  });

  it('draws a zoom from the coarsest quarter that has a pixel for each of the screen, a fifth more at most', () => {
    fc.assert(
      fc.property(fc.double({ min: 1 / 64, max: 1, noNaN: true }), (scale) => {
        const shown = scale * 2 ** quarterForScale(scale, 8);
        expect(shown).toBeLessThanOrEqual(1 + 1e-6);
        expect(shown).toBeGreaterThan(2 ** -0.25 - 1e-6);
      }),
    );
    expect([1, 2, 0.5, 0.0001].map((scale) => quarterForScale(scale, 6))).toEqual([0, 0, 1, 5]);
  });
});
