import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { StrokeId } from '../ids.ts';
import { twinKernels } from '../kernels/kernels.ts';
import { Arena } from '../raster/arena.ts';
import { TILE_SAMPLES } from '../raster/size.ts';
import { coarsening, dabMargin } from './coarsening.ts';
import { DAB_NUMBERS, DabTrail } from './dabs.ts';
import { plainStroke, type Stroke } from './stroke.ts';
import { StrokeCoverage } from './strokeCoverage.ts';
import { dabTouches, StrokeStore } from './strokeStore.ts';

/** Nothing lies beyond its edges. */
const WIDE = { width: Infinity, height: Infinity };

const stroke = (change: Partial<Stroke> = {}): Stroke => ({
  ...plainStroke(StrokeId.parse('s')),
  size: 40,
  ...change,
});
const point = fc.tuple(
  fc.double({ min: -50, max: 400, noNaN: true }),
  fc.double({ min: -50, max: 400, noNaN: true }),
  fc.double({ min: 0, max: 1, noNaN: true }),
);
const path = fc.array(point, { minLength: 1, maxLength: 12 });
const flat = (points: readonly (readonly number[])[]) => Float32Array.from(points.flatMap(([x, y, p]) => [x, y, p, 0]));

/** Coverage as the TypeScript twins compute it, as a tile's plane, laid coarser or not. */
const coverageOf = (strokes: StrokeStore) => {
  const coverage = new StrokeCoverage(strokes, twinKernels, new Arena(new ArrayBuffer(2 ** 23), 0, 2 ** 23));
  const on = (stroke: Stroke, level: number, tx: number, ty: number): Float32Array =>
    coverage.with(stroke, WIDE, { level, tx, ty }, undefined, (laid) => {
      if (laid instanceof Float32Array) return laid.slice();
      const plane = new Float32Array(TILE_SAMPLES);
      twinKernels.enlarge(laid.area, laid.side, laid.offset, laid.offset, laid.step, plane);
      return plane;
    });
  return { on };
};

describe('dabs along a stroke', () => {
  it('lays one dab for a press without movement', () => {
    const trail = new DabTrail(stroke());
    trail.add(flat([[10, 20, 1]]));
    expect([...trail.dabs]).toEqual([10, 20, 20, 1]);
  });

  it('costs nothing beyond the picture, and goes on where it comes back', () => {
    const far = flat([
      [100, 100, 1],
      [1e9, 100, 1],
      [1e9, 1e9, 1],
      [300, 1e9, 1],
      [300, 50, 1],
    ]);
    const trail = new DabTrail(stroke({ size: 20 }), { width: 400, height: 300 });
    trail.add(far);
    // One dab a pixel, over the picture and half its size around it.
    expect(trail.count).toBeLessThan(2000);
    const ys = Array.from({ length: trail.count }, (_, i) => [trail.dabs[4 * i], trail.dabs[4 * i + 1]]);
    expect(ys.some(([x, y]) => x === 300 && y > 50 && y < 250)).toBe(true);
  });

  it('lays the same dabs on the picture, whether those beyond it are left out or not', () => {
    fc.assert(
      fc.property(path, (points) => {
        const wide = points.map(([x, y, p]) => [x * 12 - 2000, y * 12 - 2000, p]);
        const within = { width: 128, height: 128 };
        const [all, some] = [undefined, within].map((size) => {
          const trail = new DabTrail(stroke({ size: 17 }), size);
          trail.add(flat(wide));
          return Array.from({ length: trail.count }, (_, i) => [...trail.dabs.subarray(4 * i, 4 * i + 4)]);
        });
        const seen = (dabs: number[][]) =>
          dabs.filter(([x, y]) => x > -8.5 && y > -8.5 && x < 136.5 && y < 136.5).map(([x, y]) => [Math.fround(x), y]);
        const [whole, part] = [seen(all), seen(some)];
        expect(part.length).toBe(whole.length);
        for (const [i, [x, y]] of part.entries()) {
          expect(x).toBeCloseTo(whole[i][0], 2);
          expect(y).toBeCloseTo(whole[i][1], 2);
        }
      }),
    );
  });

  it('does not depend on how the points arrive', () => {
    fc.assert(
      fc.property(path, fc.integer({ min: 0, max: 12 }), (points, cut) => {
        const whole = new DabTrail(stroke({ size: 17 }));
        whole.add(flat(points));
        const pieces = new DabTrail(stroke({ size: 17 }));
        pieces.add(flat(points.slice(0, cut)));
        pieces.add(flat(points.slice(cut)));
        expect([...pieces.dabs]).toEqual([...whole.dabs]);
      }),
    );
  });

  it('keeps dabs at even steps along the path', () => {
    const trail = new DabTrail(stroke({ size: 100 }));
    trail.add(
      flat([
        [0, 0, 1],
        [33, 0, 1],
        [77, 0, 1],
      ]),
    );
    const xs = Array.from({ length: trail.count }, (_, i) => trail.dabs[i * DAB_NUMBERS]);
    expect(xs.slice(0, 4)).toEqual([0, 5, 10, 15]);
    expect(xs.at(-1)).toBe(75);
  });

  it('lets pressure set the size or the strength', () => {
    const sized = new DabTrail(stroke({ pressure: 'size' }));
    sized.add(flat([[0, 0, 0.5]]));
    expect([...sized.dabs]).toEqual([0, 0, 10, 1]);
    const strong = new DabTrail(stroke({ pressure: 'strength' }));
    strong.add(flat([[0, 0, 0.5]]));
    expect([...strong.dabs]).toEqual([0, 0, 20, 0.5]);
  });
});

describe('the stroke strokes', () => {
  it('counts for each tile just the dabs that touch it', () => {
    fc.assert(
      fc.property(path, fc.integer({ min: 0, max: 2 }), (points, level) => {
        const strokes = new StrokeStore();
        const s = stroke();
        strokes.append(s.id, flat(points));
        const dabs = strokes.on(WIDE).dabs(s);
        for (const [tx, ty] of [
          [0, 0],
          [1, 0],
          [2, 3],
        ]) {
          let counted = 0;
          for (let dab = 0; dab < dabs.length / DAB_NUMBERS; dab++)
            if (dabTouches(dabs, dab, level, dabMargin(s, level), tx, ty)) counted++;
          expect(strokes.on(WIDE).dabsOnTile(s, level, tx, ty)).toBe(counted);
        }
      }),
      { numRuns: 50 },
    );
  });

  it('knows nothing of a stroke whose points are lost, and does not fail', () => {
    expect(new StrokeStore().on(WIDE).dabsOnTile(stroke(), 0, 0, 0)).toBe(0);
  });
});

describe('coverage of a stroke', () => {
  it('is that of the analytic capsule for a straight run, but for the last step', () => {
    const strokes = new StrokeStore();
    const s = stroke({ size: 30, hardness: 0.2 });
    strokes.append(
      s.id,
      flat([
        [30, 64, 1],
        [100, 64, 1],
      ]),
    );
    const plane = coverageOf(strokes).on(s, 0, 0, 0);
    let worst = 0;
    for (let y = 40; y < 90; y++) {
      for (let x = 0; x < 98; x++) {
        const along = Math.min(100, Math.max(30, x + 0.5));
        const distance = Math.hypot(x + 0.5 - along, y + 0.5 - 64);
        const t = Math.min(1, Math.max(0, (15 - distance) / 12));
        worst = Math.max(worst, Math.abs(plane[y * 128 + x] - t * t * (3 - 2 * t)));
      }
    }
    expect(worst).toBeLessThan(0.02);
  });

  it('goes on where it was when the stroke grows', () => {
    fc.assert(
      fc.property(path, path, (first, second) => {
        const strokes = new StrokeStore();
        const s = stroke({ flow: 0.3, hardness: 0.1, size: 90 });
        const grown = coverageOf(strokes);
        strokes.append(s.id, flat(first));
        grown.on(s, 0, 0, 0);
        strokes.append(s.id, flat(second));
        expect(grown.on(s, 0, 0, 0)).toEqual(coverageOf(strokes).on(s, 0, 0, 0));
      }),
      { numRuns: 20 },
    );
  });

  it('looks alike at every level', () => {
    const strokes = new StrokeStore();
    const s = stroke({ size: 160, hardness: 0 });
    strokes.append(
      s.id,
      flat([
        [100, 100, 1],
        [180, 140, 1],
      ]),
    );
    const fine = coverageOf(strokes).on(s, 0, 0, 0).slice();
    const coarse = coverageOf(strokes).on(s, 1, 0, 0);
    for (let y = 10; y < 60; y += 7) {
      for (let x = 10; x < 60; x += 7) {
        const mean =
          (fine[2 * y * 128 + 2 * x] +
            fine[2 * y * 128 + 2 * x + 1] +
            fine[(2 * y + 1) * 128 + 2 * x] +
            fine[(2 * y + 1) * 128 + 2 * x + 1]) /
          4;
        expect(Math.abs(mean - coarse[y * 128 + x])).toBeLessThan(0.01);
      }
    }
  });

  it('of a wide soft brush, laid coarser, is within six thousandths of the analytic capsule and has no seam', () => {
    const strokes = new StrokeStore();
    const s = stroke({ size: 1000, hardness: 0 });
    expect(coarsening(s, 0)).toBe(3);
    expect(coarsening(s, 1)).toBe(2);
    expect(coarsening(s, 2)).toBe(0);
    expect(coarsening({ ...s, hardness: 1 }, 0)).toBe(0);
    expect(coarsening({ ...s, pressure: 'size' }, 0)).toBe(0);
    strokes.append(
      s.id,
      flat([
        [-2000, 300, 1],
        [3000, 300, 1],
      ]),
    );
    const coverage = coverageOf(strokes);
    let worst = 0;
    for (const ty of [0, 1, 3, 5, 6]) {
      const plane = coverage.on(s, 0, 2, ty);
      for (let y = 0; y < 128; y++) {
        const t = Math.max(0, 1 - Math.abs(ty * 128 + y + 0.5 - 300) / 500);
        for (const x of [0, 63, 127]) worst = Math.max(worst, Math.abs(plane[y * 128 + x] - t * t * (3 - 2 * t)));
      }
    }
    // Most of it comes from the steps between dabs.
    expect(worst).toBeLessThan(0.006);
  });

  it('of a coarsely laid stroke is nothing on tiles that its keys do not name', () => {
    const strokes = new StrokeStore();
    const s = stroke({ size: 700, hardness: 0 });
    strokes.append(
      s.id,
      flat([
        [413, 377, 1],
        [460, 431, 1],
      ]),
    );
    const coverage = coverageOf(strokes);
    for (let ty = 0; ty < 9; ty++) {
      for (let tx = 0; tx < 9; tx++) {
        if (strokes.on(WIDE).dabsOnTile(s, 0, tx, ty) === 0) expect(Math.max(...coverage.on(s, 0, tx, ty))).toBe(0);
      }
    }
  });

  it('is one stroke at a time: laying another meanwhile is refused', () => {
    const strokes = new StrokeStore();
    const coverage = new StrokeCoverage(strokes, twinKernels, new Arena(new ArrayBuffer(2 ** 23), 0, 2 ** 23));
    const lay = <T>(use: () => T) => coverage.with(stroke(), WIDE, { level: 0, tx: 0, ty: 0 }, undefined, use);
    expect(() => lay(() => lay(() => 1))).toThrow(RangeError);
    expect(lay(() => 2)).toBe(2);
  });
});
