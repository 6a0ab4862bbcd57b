import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { type OpenCv, startOpenCv } from '../../tests/openCv.ts';
import { openPixels } from '../../tests/smallScene.ts';
import { coreOf } from '../kernels/coreFill.ts';
import { twinKernels } from '../kernels/kernels.ts';
import { TILE, TILE_SAMPLES } from '../raster/size.ts';
import { AT_REST } from '../refinements/list.ts';
import { borderWidths } from './borderWidth.ts';
import { piecesToRankBy, probabilityAbove, rankChannel } from './channelRank.ts';
import { finishTable, shapeTable, smoothCurve } from './greyCurve.ts';
import { grow } from './grow.ts';
import { colourRangesOf, colourRangesWithout, rangeOf, rangeWithout } from './picking.ts';
import { fillPolygon } from './polygon.ts';
import { WHOLE_RANGE } from './range.ts';
import { hueWindow, rangeWindow } from './rangeWindow.ts';

const { kernels, arena } = openPixels(2 ** 20).resources;

const noise = (seed: number) => {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    return (state >>> 0) / 2 ** 32;
  };
};

describe('growing', () => {
  let cv: OpenCv;
  beforeAll(async () => {
    ({ cv } = await startOpenCv());
  });
  const side = 96;
  const planes = () => Array.from({ length: 4 }, () => arena.floats(side * side));
  const [plane, out, runs, spare] = planes();

  /** OpenCV's morphology with the same disc. */
  function theirs(picture: Float32Array, radius: number, erode: boolean): Float32Array {
    const size = 2 * radius + 1;
    const disc = cv.Mat.zeros(size, size, cv.CV_8U);
    for (let y = -radius; y <= radius; y++)
      for (let x = -radius; x <= radius; x++)
        disc.data[(y + radius) * size + x + radius] = x * x + y * y <= radius * radius ? 1 : 0;
    const from = cv.matFromArray(side, side, cv.CV_32F, Array.from(picture));
    const to = new cv.Mat();
    if (erode) cv.erode(from, to, disc);
    else cv.dilate(from, to, disc);
    const result = Float32Array.from(to.data32F as Float32Array);
    for (const mat of [disc, from, to]) mat.delete();
    return result;
  }

  it.each([1, 2, 3, 5, 8, 13, 24])(
    'by %i pixels, or shrinking, is the morphology of OpenCV, sample by sample',
    (radius) => {
      const next = noise(radius);
      const picture = Float32Array.from({ length: side * side }, () => next() ** 8);
      for (const by of [radius, -radius]) {
        plane.set(picture);
        grow(kernels, { plane, out, runs, spare, width: side }, by);
        const expected = theirs(picture, radius, by < 0);
        let worst = 0;
        for (let y = radius; y < side - radius; y++)
          for (let x = radius; x < side - radius; x++)
            worst = Math.max(worst, Math.abs(out[y * side + x] - expected[y * side + x]));
        expect(worst).toBeLessThan(1e-6);
      }
    },
  );

  it('between whole radii lies between both, and the twin agrees', () => {
    const next = noise(7);
    const picture = Float32Array.from({ length: side * side }, () => next() ** 8);
    const grown = [2, 2.25, 3].map((by) => {
      plane.set(picture);
      grow(kernels, { plane, out, runs, spare, width: side }, by);
      return out.slice();
    });
    for (let i = 10 * side; i < 80 * side; i += 7)
      expect(grown[1][i]).toBeCloseTo(grown[0][i] + (grown[2][i] - grown[0][i]) * 0.25, 5);
    plane.set(picture);
    const own = { plane: picture.slice(), out: new Float32Array(side * side), runs: new Float32Array(side * side) };
    grow(twinKernels, { ...own, spare: new Float32Array(side * side), width: side }, 2.25);
    expect(own.out).toEqual(grown[1]);
  });
});

describe('an outline', () => {
  const plane = new Float32Array(TILE_SAMPLES);
  const corner = fc.double({ min: 4, max: 124, noNaN: true });

  it('covers the area of its triangle exactly', () => {
    fc.assert(
      fc.property(fc.array(corner, { minLength: 6, maxLength: 6 }), (corners) => {
        fillPolygon(corners, plane);
        const [x0, y0, x1, y1, x2, y2] = corners;
        const area = Math.abs((x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)) / 2; // the shoelace formula
        const covered = plane.reduce((sum, value) => sum + value, 0);
        expect(Math.abs(covered - area)).toBeLessThan(0.02 + area * 1e-4);
      }),
    );
  });

  it('covers what lies inside when it goes far beyond the tile, sampled at 400 points a pixel', () => {
    const corners = [-200, -30, 90.3, -80, 300, 60.5, 40.2, 220, -90, 70];
    fillPolygon(corners, plane);
    const inside = (x: number, y: number) => {
      let odd = false;
      for (let i = 0, j = corners.length - 2; i < corners.length; j = i, i += 2) {
        const [xi, yi, xj, yj] = [corners[i], corners[i + 1], corners[j], corners[j + 1]];
        if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) odd = !odd;
      }
      return odd;
    };
    for (let y = 0; y < TILE; y += 9)
      for (let x = 0; x < TILE; x += 5) {
        let hits = 0;
        for (let k = 0; k < 400; k++)
          hits += inside(x + ((k % 20) + 0.5) / 20, y + (Math.floor(k / 20) + 0.5) / 20) ? 1 : 0;
        expect(Math.abs(plane[y * TILE + x] - hits / 400)).toBeLessThan(0.03);
      }
  });

  it('covers nothing before it has three corners', () => {
    fillPolygon([3, 3, 60, 60], plane);
    expect(plane.every((value) => value === 0)).toBe(true);
  });
});

describe('greys', () => {
  it('at rest stay as they are', () => {
    const table = shapeTable(AT_REST);
    const finished = finishTable(AT_REST);
    for (let code = 0; code < 65536; code += 11) expect([table[code], finished[code]]).toEqual([code, code]);
  });

  // The usual levels: ((grey - black) / (white - black)) ^ (1 / gamma); common practice, no source.
  it('follow levels in closed form', () => {
    const table = shapeTable({ ...AT_REST, levels: { black: 0.2, white: 0.8, gamma: 2 } });
    for (const grey of [0, 0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 1]) {
      const expected = Math.min(1, Math.max(0, (grey - 0.2) / 0.6)) ** 0.5;
      expect(table[Math.round(grey * 65535)] / 65535).toBeCloseTo(expected, 4);
    }
  });

  it('are cut hard where black and white meet', () => {
    const table = shapeTable({ ...AT_REST, levels: { black: 0.5, white: 0.5, gamma: 1 } });
    expect([table[32000], table[33500]]).toEqual([0, 65535]);
  });

  it('pass through the points of a curve and never turn back between them', () => {
    const points = [
      { x: 0, y: 0.1 },
      { x: 0.3, y: 0.12 },
      { x: 0.35, y: 0.8 },
      { x: 1, y: 0.9 },
    ];
    const curve = smoothCurve(points);
    for (const { x, y } of points) expect(curve(x)).toBeCloseTo(y, 9);
    let last = 0;
    for (let x = 0; x <= 1; x += 0.001) {
      expect(curve(x)).toBeGreaterThanOrEqual(last - 1e-9);
      last = curve(x);
    }
  });

  it('of a straight curve are straight', () => {
    const curve = smoothCurve([
      { x: 0, y: 0 },
      { x: 0.5, y: 0.5 },
      { x: 1, y: 1 },
    ]);
    for (let x = 0; x <= 1; x += 0.01) expect(curve(x)).toBeCloseTo(x, 9);
  });

  it('are inverted and weakened', () => {
    const table = finishTable({ ...AT_REST, inverted: true, strength: 0.5 });
    expect([table[0], table[65535], table[16384]]).toEqual([32768, 0, Math.round((65535 - 16384) / 2)]);
  });
});

describe('the core', () => {
  it('begins past the edge and is full inside, however grey the area', () => {
    for (const grey of [0.3, 0.6, 1]) {
      // A window of which a share lies in an area of one grey.
      const at = (share: number) => coreOf(grey * share, grey * grey * share, 0.25);
      expect(at(0.5)).toBe(0);
      expect(at(1)).toBe(1);
      expect(at(0.7)).toBeGreaterThan(0.2);
      expect(at(0.7)).toBeLessThan(0.8);
    }
  });

  it('leaves faint coverage alone, and nothing', () => {
    expect(coreOf(0.05, 0.0025, 0.25)).toBe(0);
    expect(coreOf(0, 0, 0.25)).toBe(0);
  });
});

describe('ranges', () => {
  it('of hues go round the circle', () => {
    const window = { centre: 350, width: 20, shoulder: 20 };
    expect([hueWindow(window, 5), hueWindow(window, 335), hueWindow(window, 20), hueWindow(window, 90)]).toEqual([
      1, 1, 0.5, 0,
    ]);
  });

  it('are set by what is dragged over, widened by more, and cut by what is kept out', () => {
    const tones = Array.from({ length: 100 }, (_, i) => 0.4 + i / 1000);
    const first = rangeOf(tones);
    expect(first.from).toBeCloseTo(0.403, 3);
    expect(first.to).toBeCloseTo(0.496, 3);
    const wider = rangeOf([0.8, 0.82], first);
    expect(wider.from).toBe(first.from);
    expect(wider.to).toBe(0.82);
    const without = rangeWithout(wider, [0.79, 0.8, 0.81]);
    for (const tone of [0.79, 0.8, 0.81]) expect(rangeWindow(without, tone)).toBeLessThan(0.05);
    expect(rangeWindow(without, 0.45)).toBe(1);
    expect(rangeWindow(rangeWithout({ ...WHOLE_RANGE }, [0.1, 0.12]), 0.12)).toBe(0);
  });

  it.each([0.02, 0.08, 0.15, 0.25])('are not thrown off by a share of strays: %s', (strays) => {
    const random = noise(7);
    const near = (middle: number, spread: number) => middle + spread * (random() + random() + random() - 1.5);
    // A sea, and a boat with all hues on it.
    const sea = Array.from({ length: 400 }, () => ({ l: near(0.42, 0.04), c: near(0.07, 0.02), h: near(232, 14) }));
    const boat = Array.from({ length: Math.round(400 * (strays / (1 - strays))) }, () => ({
      l: 0.7 + 0.25 * random(),
      c: 0.12 + 0.1 * random(),
      h: 360 * random(),
    }));
    const plain = colourRangesOf(sea);
    const ranges = colourRangesOf([...sea, ...boat]);
    expect(ranges.hue.width).toBeLessThan(plain.hue.width + 8);
    expect(ranges.lightness.to).toBeLessThan(plain.lightness.to + 0.04);
    expect(ranges.chroma.to).toBeLessThan(plain.chroma.to + 0.06);
    const share = sea.filter(({ h }) => hueWindow(ranges.hue, h) === 1).length / sea.length;
    expect(share).toBeGreaterThan(0.95);
    expect(rangeOf([...sea, ...boat].map(({ l }) => l)).to).toBeLessThan(plain.lightness.to + 0.04);
  });

  it('of tones that are spread evenly hold all of them', () => {
    const { from, to } = rangeOf(Array.from({ length: 200 }, (_, i) => i / 199));
    expect([from, to]).toEqual([0.03, 0.97]);
  });

  it('of colours hold those dragged over and keep others out, also across the start of the circle', () => {
    const colours = [355, 358, 2, 5, 8].map((h) => ({ l: 0.6, c: 0.15, h }));
    const ranges = colourRangesOf(colours);
    for (const { h } of colours) expect(hueWindow(ranges.hue, h)).toBe(1);
    expect(hueWindow(ranges.hue, 60)).toBe(0);
    const without = colourRangesWithout({ ...ranges, hue: { centre: 10, width: 40, shoulder: 10 } }, [
      { l: 0.6, c: 0.15, h: 45 },
    ]);
    expect(hueWindow(without.hue, 45)).toBe(0);
    expect(hueWindow(without.hue, 10)).toBe(1);
    const more = colourRangesOf([{ l: 0.6, c: 0.15, h: 45 }], ranges);
    expect([355, 45].map((h) => hueWindow(more.hue, h))).toEqual([1, 1]);
    const grey = colourRangesOf([{ l: 0.5, c: 0.004, h: 200 }]);
    expect(grey.hue.width).toBe(180);
  });
});

describe('channels', () => {
  // Mann and Whitney 1947: U counts the pairs in which one sample is above the other; worked by hand here.
  it('are told apart by the share of pairs that lie the right way round', () => {
    expect(probabilityAbove([2, 4, 6], [1, 3, 5])).toBeCloseTo(6 / 9, 12);
    expect(probabilityAbove([1, 2], [1, 2])).toBe(0.5);
    expect(probabilityAbove([], [1])).toBe(0.5);
  });

  const sketch = (grey: (x: number) => number) => {
    const [width, height] = [100, 40];
    return { width, height, step: 4, grey: Float32Array.from({ length: width * height }, (_, i) => grey(i % width)) };
  };
  const left = [{ x: 60, y: 80 }];
  const right = [{ x: 340, y: 80 }];

  it('know on which side they are light, and how wide a border is', () => {
    const ramp = rankChannel(
      sketch((x) => Math.min(1, Math.max(0, (x - 40) / 20))),
      left,
      right,
    );
    expect(ramp.separation).toBe(1);
    expect(ramp.thisIsDark).toBe(true);
    // From a quarter to three quarters of a ramp of 20 pixels, of 4 scene pixels each.
    expect(ramp.borderPx).toBeCloseTo(40, 0);
    const hard = rankChannel(
      sketch((x) => (x < 50 ? 0.8 : 0.2)),
      left,
      right,
    );
    expect(hard.thisIsDark).toBe(false);
    // A step lies half a pixel of the sketch wide, which is as little as that can tell.
    expect(hard.borderPx).toBeCloseTo(2, 6);
    expect(ramp.rank).toBeGreaterThan(hard.rank);
  });

  /** The area under a Gaussian up to x (Abramowitz and Stegun 1964, 26.2.17). */
  function normal(x: number): number {
    const t = 1 / (1 + 0.2316419 * Math.abs(x));
    const tail =
      (Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)) *
      t *
      (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
    return x >= 0 ? 1 - tail : tail;
  }

  it.each([0.4, 0.7, 1, 2, 5, 12])('know the width of a slanting edge blurred by a Gaussian of %s pixels', (sigma) => {
    const [width, height] = [160, 90];
    // A pixel holds the mean of its area, which is a blur of 1/12 more; the quartiles of a Gaussian lie 1.349 sigma apart.
    const all = Math.sqrt(sigma ** 2 + 1 / 12);
    const grey = Float32Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [(i % width) - width / 2, Math.floor(i / width) - height / 2];
      return 0.2 + 0.5 * normal((x * 0.8 + y * 0.6 + 0.3) / all);
    });
    const widths = borderWidths({ width, height, step: 1, grey }, 0.2, 0.7);
    const found = widths[widths.length >> 1];
    // Linear between pixels, the narrowest look a quarter wider than they are.
    expect(found / (1.349 * all)).toBeGreaterThan(0.9);
    expect(found / (1.349 * all)).toBeLessThan(sigma < 1 ? 1.3 : 1.1);
    if (sigma < 0.5) expect(found).toBeLessThan(1);
  });

  it('know borders that the sketch is too coarse for from pieces at full size', () => {
    const coarse = sketch((x) => (x < 50 ? 0.8 : 0.2));
    const pieces = piecesToRankBy(coarse, left, right, 64);
    expect(pieces.length).toBeGreaterThan(0);
    expect(pieces.every(({ x }) => x === 192)).toBe(true);
    const [width, height] = [64, 64];
    const piece = (soft: number) => ({
      width,
      height,
      step: 1,
      grey: Float32Array.from({ length: width * height }, (_, i) =>
        Math.min(0.8, Math.max(0.2, 0.5 - (0.6 * ((i % width) - 8)) / soft)),
      ),
    });
    expect(rankChannel(coarse, left, right, [piece(6)]).borderPx).toBeCloseTo(3, 1);
    expect(rankChannel(coarse, left, right, [piece(0.001)]).borderPx).toBeLessThan(1);
    // A wide one is known from the sketch alone.
    const wide = sketch((x) => Math.min(1, Math.max(0, (x - 40) / 20)));
    expect(piecesToRankBy(wide, left, right, 64)).toEqual([]);
  });

  it('that do not tell the areas apart come last', () => {
    const none = rankChannel(
      sketch(() => 0.5),
      left,
      right,
    );
    expect(none.separation).toBe(0);
    expect(none.borderPx).toBeNull();
  });
});
