import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { TILE, TILE_SAMPLES } from '../raster/size.ts';
import { blurPlane, extendedBox } from './boxBlur.ts';
import { mixThroughMask } from './composite.ts';
import { narrow, uniformValue, widen } from './convert.ts';
import { layDab } from './dab.ts';
import { halveTile, repeatEdge } from './halve.ts';
import { countLevels } from './histogram.ts';
import { joinCoverage } from './joinCoverage.ts';
import { lookUp } from './lookUp.ts';
import { luminance } from './luminance.ts';
import { paintOver } from './paintOver.ts';

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const code = fc.integer({ min: 0, max: 65535 });

/** A tile plane of a made picture without symmetry. */
function madePlane(): Uint16Array {
  return Uint16Array.from({ length: TILE_SAMPLES }, (_, i) => (i * 2654435761) >>> 16);
}

describe('conversion', () => {
  it('keeps all 16-bit values through floats and back', () => {
    const all = Uint16Array.from({ length: 65536 }, (_, i) => i);
    const floats = new Float32Array(65536);
    const back = new Uint16Array(65536);
    widen(all, floats);
    narrow(floats, back);
    expect(back).toEqual(all);
  });

  it('cuts what lies outside 0..1', () => {
    const out = new Uint16Array(3);
    narrow(Float32Array.of(-0.5, 0.5, 7), out);
    expect([...out]).toEqual([0, 32768, 65535]);
  });

  it('knows a plane of one value', () => {
    expect(uniformValue(new Uint16Array(100).fill(9))).toBe(9);
    expect(uniformValue(Uint16Array.of(9, 9, 8))).toBe(-1);
  });
});

describe('mixThroughMask', () => {
  it('is source-over: co = cs x αs + cb x (1 - αs), W3C Compositing Level 1, section 9.1.4', () => {
    fc.assert(
      fc.property(unit, code, code, unit, (below, above, mask, opacity) => {
        const lower = Float32Array.of(below);
        mixThroughMask(lower, Uint16Array.of(above), Uint16Array.of(mask), opacity);
        const weight = (mask / 65535) * opacity;
        expect(lower[0]).toBeCloseTo((above / 65535) * weight + below * (1 - weight), 5);
      }),
    );
  });

  it('does the same with one value for the whole mask', () => {
    const [a, b] = [Float32Array.of(0.2, 1.4), Float32Array.of(0.2, 1.4)];
    mixThroughMask(a, Uint16Array.of(100, 60000), Uint16Array.of(4000, 4000), 0.7);
    mixThroughMask(b, Uint16Array.of(100, 60000), 4000, 0.7);
    expect(a).toEqual(b);
  });

  it('refuses planes that do not fit', () => {
    expect(() => mixThroughMask(new Float32Array(4), new Uint16Array(3), 0, 1)).toThrow(RangeError);
    expect(() => mixThroughMask(new Float32Array(4), new Uint16Array(4), new Uint16Array(5), 1)).toThrow(RangeError);
  });
});

describe('joinCoverage', () => {
  // CSS Masking Level 1, section 7.8, through the Porter-Duff operators it names: source-over, source-out, source-in, xor.
  const formulas = {
    add: (m: number, p: number) => p + m * (1 - p),
    subtract: (m: number, p: number) => m * (1 - p),
    intersect: (m: number, p: number) => m * p,
    exclude: (m: number, p: number) => m * (1 - p) + p * (1 - m),
  };

  it.each(Object.keys(formulas) as (keyof typeof formulas)[])('%s follows mask-composite', (join) => {
    fc.assert(
      fc.property(unit, unit, (m, p) => {
        const mask = Float32Array.of(m);
        joinCoverage(join, mask, Float32Array.of(p));
        expect(mask[0]).toBeCloseTo(formulas[join](m, p), 5);
      }),
    );
  });

  it('lets a hidden place win over the mask below it', () => {
    const mask = Float32Array.of(0.8);
    joinCoverage('add', mask, Float32Array.of(0), Float32Array.of(1));
    expect(mask[0]).toBe(0);
  });
});

describe('luminance, look-up and counts', () => {
  it('weighs the channels', () => {
    const out = new Uint16Array(2);
    luminance(
      Uint16Array.of(65535, 10000),
      Uint16Array.of(65535, 20000),
      Uint16Array.of(65535, 30000),
      [0.2126, 0.7152, 0.0722],
      out,
    );
    expect([...out]).toEqual([65535, Math.round(10000 * 0.2126 + 20000 * 0.7152 + 30000 * 0.0722)]);
  });

  it('maps samples through a table of the full length only', () => {
    const out = new Uint16Array(2);
    lookUp(
      Uint16Array.from({ length: 65536 }, (_, i) => 65535 - i),
      Uint16Array.of(0, 1000),
      out,
    );
    expect([...out]).toEqual([65535, 64535]);
    expect(() => lookUp(new Uint16Array(256), out, out)).toThrow(RangeError);
  });

  it('counts only the valid part of a tile', () => {
    const bins = new Uint32Array(256);
    countLevels(new Uint16Array(TILE_SAMPLES).fill(0x4000), 10, 3, bins);
    expect(bins[0x40]).toBe(30);
    expect(bins.reduce((sum, count) => sum + count)).toBe(30);
  });
});

describe('halveTile', () => {
  it('is the mean of 2 x 2, as a general image library computes it', async () => {
    const fine = madePlane();
    const own = new Uint16Array(TILE_SAMPLES);
    halveTile(fine, own, 0, 0);
    // sharp's 2 x 2 convolution lays its window up and to the left, so the pixel at (2x+1, 2y+1) is our (x, y).
    const { data } = await sharp(fine, { raw: { width: TILE, height: TILE, channels: 1 } })
      .toColourspace('grey16')
      .convolve({ width: 3, height: 3, kernel: [1, 1, 0, 1, 1, 0, 0, 0, 0], scale: 4 })
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const theirs = new Uint16Array(data.buffer, data.byteOffset, TILE_SAMPLES);
    for (let y = 0; y < TILE / 2; y++) {
      for (let x = 0; x < TILE / 2; x++) {
        expect(Math.abs(own[y * TILE + x] - theirs[(2 * y + 1) * TILE + 2 * x + 1])).toBeLessThanOrEqual(1);
      }
    }
  });

  it('writes only the quarter that it is told', () => {
    const out = new Uint16Array(TILE_SAMPLES).fill(7);
    halveTile(new Uint16Array(TILE_SAMPLES).fill(100), out, 1, 0);
    expect(out[0]).toBe(7);
    expect(out[TILE / 2]).toBe(100);
    expect(out[(TILE / 2) * TILE + TILE / 2]).toBe(7);
  });

  it('repeats the last column and row', () => {
    const plane = madePlane();
    const corner = plane[4 * TILE + 9];
    repeatEdge(plane, 10, 5);
    expect(plane[4 * TILE + 100]).toBe(corner);
    expect(plane[TILE_SAMPLES - 1]).toBe(corner);
  });
});

describe('blurPlane', () => {
  it.each([1, 2, 6, 12])(
    'is the Gaussian of a general image library within half a per cent, sigma %f',
    async (sigma) => {
      const side = 128;
      const bar = Uint16Array.from({ length: side * side }, (_, i) => (i % side > 60 && i % side < 90 ? 65535 : 0));
      const plane = Float32Array.from(bar, (value) => value / 65535);
      blurPlane(plane, new Float32Array(side * side), side, side, sigma);
      const { data } = await sharp(bar, { raw: { width: side, height: side, channels: 1 } })
        .toColourspace('grey16')
        .blur({ sigma, precision: 'float', minAmplitude: 0.001 })
        .raw({ depth: 'ushort' })
        .toBuffer({ resolveWithObject: true });
      const theirs = new Uint16Array(data.buffer, data.byteOffset, side * side);
      let worst = 0;
      for (let x = 30; x < 110; x++)
        worst = Math.max(worst, Math.abs(plane[64 * side + x] - theirs[64 * side + x] / 65535));
      expect(worst).toBeLessThan(0.005);
    },
  );

  it('has the variance that it is asked for', () => {
    for (const sigma of [0.4, 1, 2.5, 7, 20]) {
      const { radius, edge } = extendedBox(sigma);
      let second = 2 * edge * (radius + 1) ** 2;
      for (let i = -radius; i <= radius; i++) second += i * i;
      expect(Math.sqrt((3 * second) / (2 * radius + 1 + 2 * edge))).toBeCloseTo(sigma, 10);
    }
  });

  it('leaves an even plane even, up to its edges', () => {
    const plane = new Float32Array(40 * 30).fill(0.25);
    blurPlane(plane, new Float32Array(40 * 30), 40, 30, 12);
    for (const value of plane) expect(value).toBeCloseTo(0.25, 5);
  });
});

describe('layDab', () => {
  it('is full inside its hardness, half at the middle of its fall, nothing outside', () => {
    const plane = new Float32Array(TILE_SAMPLES);
    layDab(plane, 64.5, 64.5, 40, 0.5, 1, 1);
    const at = (dx: number) => plane[64 * TILE + 64 + dx];
    expect(at(0)).toBe(1);
    expect(at(19)).toBe(1);
    expect(at(30)).toBeCloseTo(0.5, 5);
    expect(at(41)).toBe(0);
  });

  it('never lessens, and with little flow comes near its own coverage by repetition', () => {
    const plane = new Float32Array(TILE_SAMPLES);
    let last = 0;
    for (let i = 1; i <= 30; i++) {
      layDab(plane, 64.5, 64.5, 20, 1, 0.6, 0.2);
      const now = plane[64 * TILE + 64];
      expect(now).toBeCloseTo(0.6 * (1 - 0.8 ** i), 5);
      expect(now).toBeGreaterThan(last);
      last = now;
    }
  });

  it('softens a hard edge over one pixel', () => {
    const plane = new Float32Array(TILE_SAMPLES);
    layDab(plane, 64, 64, 20, 1, 1, 1);
    const row = plane.subarray(64 * TILE, 65 * TILE);
    expect([...row].filter((value) => value > 0 && value < 1).length).toBeLessThanOrEqual(4);
    expect([...row].reduce((sum, value) => sum + value)).toBeCloseTo(40, 0);
  });
});

describe('paintOver', () => {
  it('covers 1 - 0.9^n after n strokes of 10 % (closed form)', () => {
    const value = new Float32Array(1);
    const alpha = new Float32Array(1);
    for (let n = 1; n <= 40; n++) {
      paintOver(value, alpha, Float32Array.of(1), 1, 0.1, 65535, false);
      expect(Math.abs(value[0] - (1 - 0.9 ** n)) * 65535).toBeLessThan(0.05);
    }
    expect(alpha[0]).toBeCloseTo(value[0], 6);
  });

  it('pulls towards any grey, and decides what it pulls', () => {
    const value = Float32Array.of(1);
    const alpha = Float32Array.of(1);
    paintOver(value, alpha, Float32Array.of(1), 0.25, 1, 65535, false);
    expect(value[0]).toBe(0.25);
    expect(alpha[0]).toBe(1);
  });
});
