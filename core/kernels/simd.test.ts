import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { openPixels } from '../../tests/smallScene.ts';
import { Arena } from '../raster/arena.ts';
import { TILE, TILE_SAMPLES } from '../raster/size.ts';
import type { Join } from './joinCoverage.ts';
import { twinKernels } from './kernels.ts';
import type { Rgb16 } from './planes.ts';

const { kernels: simd } = openPixels(2 ** 20).resources;
const shared = new WebAssembly.Memory({ initial: 256, maximum: 256, shared: true });
const { resources } = openPixels(2 ** 20);
const arena = resources.arena;
const here = resources.kernels;

/** A generator of numbers 0..1 that one seed determines. */
function random(seed: number): () => number {
  let state = seed | 1;
  return () => {
    state = Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) + 0x9e3779b9;
    return ((state ^ (state >>> 13)) >>> 0) / 4294967296;
  };
}

const samples = (seed: number): Uint16Array => {
  const next = random(seed);
  const plane = arenaSamples();
  for (let i = 0; i < plane.length; i++) plane[i] = next() < 0.05 ? (next() < 0.5 ? 0 : 65535) : next() * 65536;
  return plane;
};
const floats = (seed: number): Float32Array => {
  const next = random(seed);
  const plane = arenaFloats();
  for (let i = 0; i < plane.length; i++) plane[i] = next() < 0.05 ? Math.round(next()) : next();
  return plane;
};

// A few planes, handed out in turn: a test never uses more at once.
const pool16 = Array.from({ length: 16 }, () => arena.samples(TILE_SAMPLES));
const poolFloat = Array.from({ length: 10 }, () => arena.floats(TILE_SAMPLES));
const blockBytes = arena.bytes(TILE_SAMPLES * 2);
let turn16 = 0;
let turnFloat = 0;
const arenaSamples = () => pool16[turn16++ % pool16.length];
const arenaFloats = () => poolFloat[turnFloat++ % poolFloat.length];
const seeds = fc.integer({ min: 1, max: 1e9 });
const unit = fc.double({ min: 0, max: 1, noNaN: true });
const runs = { numRuns: 20 };

/** The largest difference of two planes. */
function apart(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let worst = 0;
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs(a[i] - b[i]));
  return worst;
}

describe('SIMD kernels and their twins', () => {
  it('composite: within one step of 65,535, from no layer to seven', () => {
    fc.assert(
      fc.property(
        seeds,
        fc.array(fc.record({ opacity: unit, constant: fc.option(fc.integer({ min: 0, max: 65535 })) }), {
          maxLength: 7,
        }),
        fc.boolean(),
        (seed, list, isMasked) => {
          const rgb = (from: number): Rgb16 => [samples(from), samples(from + 1), samples(from + 2)];
          const base = rgb(seed);
          const [upper, mask] = [rgb(seed + 3), samples(seed + 6)];
          mask.fill(0, 500, 900);
          const layers = list.map(({ opacity, constant }) => ({
            upper,
            mask: (isMasked ? null : constant) ?? mask,
            opacity,
          }));
          const planes = (): Rgb16 => [arenaSamples(), arenaSamples(), arenaSamples()];
          const [own, twin] = [planes(), planes()];
          here.composite(base, layers, own);
          twinKernels.composite(base, layers, twin);
          for (const channel of [0, 1, 2] as const) {
            expect(apart(own[channel], twin[channel])).toBeLessThanOrEqual(1);
            if (list.length === 0) expect(apart(own[channel], base[channel])).toBe(0);
          }
        },
      ),
      runs,
    );
  });

  it('widen, invert and narrow: back to every sample', () => {
    const plane = samples(7);
    const [wide, twin] = [arenaFloats(), arenaFloats()];
    here.widen(plane, wide);
    twinKernels.widen(plane, twin);
    expect(apart(wide, twin)).toBeLessThan(1e-7);
    const back = arenaSamples();
    expect(here.narrow(wide, back)).toBe(-1);
    expect(apart(back, plane)).toBe(0);
    here.invert(wide);
    twinKernels.invert(twin);
    expect(apart(wide, twin)).toBeLessThan(1e-7);
  });

  it('widening a block: of any size, from any place to any place, and nothing besides', () => {
    const plane = samples(8);
    const side = fc.integer({ min: 0, max: 60 });
    fc.assert(
      fc.property(side, side, side, side, (width, rows, from, to) => {
        const block = { from, stride: TILE, to, outStride: 100, width, rows };
        const [own, twin] = [arenaFloats().fill(7), arenaFloats().fill(7)];
        here.widenRows(plane, own, block);
        twinKernels.widenRows(plane, twin, block);
        expect(apart(own, twin)).toBeLessThan(1e-7);
      }),
      runs,
    );
  });

  it('the core of an area: of any means, also of none', () => {
    const next = random(5);
    const [mean, square, twin] = [arenaFloats(), arenaFloats(), arenaFloats()];
    for (let i = 0; i < mean.length; i++) {
      mean[i] = i % 50 === 0 ? 0 : next();
      square[i] = i % 70 === 0 ? 0 : mean[i] ** 2 * (1 + next());
    }
    twin.set(mean);
    here.findCore(mean, square, 0.8, 0.25);
    twinKernels.findCore(twin, square, 0.8, 0.25);
    expect(apart(mean, twin)).toBeLessThan(1e-5);
    expect(Math.max(...mean)).toBeGreaterThan(0.7);
  });

  it('narrow cuts, and knows one value from many', () => {
    const plane = arenaFloats().fill(1.7);
    expect(here.narrow(plane, arenaSamples())).toBe(65535);
    plane.fill(-3);
    expect(here.narrow(plane, arenaSamples())).toBe(0);
    plane[TILE_SAMPLES - 1] = 0.5;
    expect(here.narrow(plane, arenaSamples())).toBe(-1);
    const even = arenaSamples().fill(123);
    expect(here.uniformValue(even)).toBe(123);
    even[TILE_SAMPLES - 1]++;
    expect(here.uniformValue(even)).toBe(-1);
  });

  it.each<Join>(['add', 'subtract', 'intersect', 'exclude'])('join by %s', (join) => {
    const [part, alpha] = [floats(3), floats(4)];
    const own = floats(5);
    const twin = arenaFloats();
    twin.set(own);
    here.joinCoverage(join, own, part, join === 'add' ? alpha : undefined);
    twinKernels.joinCoverage(join, twin, part, join === 'add' ? alpha : undefined);
    expect(apart(own, twin)).toBeLessThan(2e-7);
    const mask = samples(6);
    const [narrow, twinNarrow] = [arenaSamples(), arenaSamples()];
    const decides = join === 'add' ? alpha : part;
    expect(here.joinSamples(join, mask, part, decides, narrow)).toBe(-1);
    twinKernels.joinSamples(join, mask, part, decides, twinNarrow);
    expect(apart(narrow, twinNarrow)).toBeLessThanOrEqual(1);
    const [wide, twinWide] = [floats(7), floats(7)];
    here.joinFromSamples(join, wide, mask);
    twinKernels.joinFromSamples(join, twinWide, mask);
    expect(apart(wide, twinWide)).toBeLessThan(2e-7);
    part.fill(1);
    if (join === 'add') expect(here.joinSamples(join, mask, part, part, mask)).toBe(65535);
  });

  it('layDab: at any place, size and softness, also outside the tile', () => {
    const place = fc.double({ min: -150, max: 300, noNaN: true });
    const lab: Rgb16 = [samples(11), samples(12), samples(13)];
    fc.assert(
      fc.property(
        place,
        place,
        fc.double({ min: 0.3, max: 200, noNaN: true }),
        unit,
        unit,
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        (x, y, radius, hardness, share, flow) => {
          const [own, twin] = [floats(9), arenaFloats()];
          twin.set(own);
          here.layDab(own, x, y, radius, hardness, share, flow);
          twinKernels.layDab(twin, x, y, radius, hardness, share, flow);
          // Floats of 32 bits tell places on a steep edge apart by a few millionths of the radius.
          expect(apart(own, twin)).toBeLessThan(2e-4);
          const near = { lab, centre: [30000, 32000, 33000], tolerance: 0.05 + share };
          here.layDab(own, x, y, radius, hardness, 1, flow, near);
          twinKernels.layDab(twin, x, y, radius, hardness, 1, flow, near);
          expect(apart(own, twin)).toBeLessThan(3e-4);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('paintOver: with a stencil, with one value, and where the stroke is nothing', () => {
    fc.assert(
      fc.property(
        seeds,
        unit,
        unit,
        fc.option(fc.integer({ min: 0, max: 65535 })),
        fc.boolean(),
        (seed, target, strength, constant, fresh) => {
          const coverage = floats(seed);
          coverage.fill(0, 100, 5000);
          const stencil = constant ?? samples(seed);
          const [value, alpha, twinValue, twinHold] = [
            floats(seed + 1),
            floats(seed + 2),
            arenaFloats(),
            arenaFloats(),
          ];
          twinValue.set(value);
          twinHold.set(alpha);
          here.paintOver(value, alpha, coverage, target, strength, stencil, fresh);
          twinKernels.paintOver(twinValue, twinHold, coverage, target, strength, stencil, fresh);
          expect(apart(value, twinValue)).toBeLessThan(3e-7);
          expect(apart(alpha, twinHold)).toBeLessThan(3e-7);
        },
      ),
      runs,
    );
  });

  it('paintEnlarged: as enlarging and painting one after the other', () => {
    for (const [through, fresh, step] of [
      [true, false, 4],
      [false, true, 4],
      [true, true, 8],
      [false, false, 16],
    ] as const) {
      const side = TILE / step + 4;
      const area = floats(71).subarray(0, side * side);
      area.fill(0, 0, area.length / 3);
      const coarse = { area, side, offset: 2, step };
      const stencil = through ? samples(72) : 40000;
      const [value, alpha, twinValue, twinHold] = [floats(73), floats(74), arenaFloats(), arenaFloats()];
      twinValue.set(value);
      twinHold.set(alpha);
      here.paintEnlarged(value, alpha, coarse, 0.8, 0.6, stencil, fresh);
      twinKernels.paintEnlarged(twinValue, twinHold, coarse, 0.8, 0.6, stencil, fresh);
      expect(apart(value, twinValue)).toBeLessThan(1e-5);
      expect(apart(alpha, twinHold)).toBeLessThan(1e-5);
    }
  });

  it('joinEnlarged: as painting and joining one after the other', () => {
    for (const step of [4, 8, 16]) {
      const side = TILE / step + 4;
      const area = floats(75).subarray(0, side * side);
      area.fill(0, 0, area.length / 3);
      const coarse = { area, side, offset: 2, step };
      for (const stencil of [samples(76), 40000]) {
        const [mask, own, twin] = [samples(77), arenaSamples(), arenaSamples()];
        expect(here.joinEnlarged(mask, coarse, 0.8, 0.6, stencil, own)).toBe(-1);
        twinKernels.joinEnlarged(mask, coarse, 0.8, 0.6, stencil, twin);
        expect(apart(own, twin)).toBeLessThanOrEqual(1);
      }
    }
  });

  it('luminance within one step, look-up exactly', () => {
    const [red, green, blue] = [samples(11), samples(12), samples(13)];
    const [own, twin] = [arenaSamples(), arenaSamples()];
    here.luminance(red, green, blue, [0.2126, 0.7152, 0.0722], own);
    twinKernels.luminance(red, green, blue, [0.2126, 0.7152, 0.0722], twin);
    expect(apart(own, twin)).toBeLessThanOrEqual(1);
    const table = arena.samples(65536);
    for (let i = 0; i < 65536; i++) table[i] = (i * 31) ^ 0x5a5a;
    here.lookUp(table, red, own);
    twinKernels.lookUp(table, red, twin);
    expect(apart(own, twin)).toBe(0);
    expect(() => here.lookUp(red, red, own)).toThrow(RangeError);
  });

  it('halving and spreading rows exactly, of any width', () => {
    const fine = samples(21);
    for (const [x, y] of [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
    ]) {
      const [own, twin] = [arenaSamples().fill(7), arenaSamples().fill(7)];
      here.halveTile(fine, own, x, y);
      twinKernels.halveTile(fine, twin, x, y);
      expect(apart(own, twin)).toBe(0);
    }
    const block = new Uint8Array(blockBytes.buffer, blockBytes.byteOffset, blockBytes.length);
    block.set(new Uint8Array(fine.buffer, fine.byteOffset, fine.byteLength));
    for (const bits of [8, 16] as const) {
      for (const [width, rows] of [
        [1, 1],
        [2, 5],
        [7, 3],
        [127, 20],
        [128, 33],
      ]) {
        const planes = Array.from({ length: 6 }, () => arenaSamples().fill(9));
        const stride = width * 3 * (bits / 8) + 4;
        here.spreadRows(block, stride, bits, [planes[0], planes[1], planes[2]], width, rows);
        twinKernels.spreadRows(block, stride, bits, [planes[3], planes[4], planes[5]], width, rows);
        for (let channel = 0; channel < 3; channel++) expect(apart(planes[channel], planes[channel + 3])).toBe(0);
      }
    }
  });

  it.each([
    [1, 2],
    [1, 46],
    [2, 4],
    [2, 52],
  ])('blocks halved %i times, exactly, and nothing beside them: %i wide', (halvings, width) => {
    const own = samples(60);
    const block = { from: 131, stride: 128, to: 77, outStride: 64, width, rows: 8 * halvings, halvings };
    const [made, twin] = [arena.floats(TILE_SAMPLES).fill(9), new Float32Array(TILE_SAMPLES).fill(9)];
    here.shrinkRows(own, made, block);
    twinKernels.shrinkRows(own, twin, block);
    expect(apart(made, twin)).toBe(0);
  });

  it('interleaving exactly', () => {
    const [red, green, blue] = [samples(61), samples(62), samples(63)];
    const [own, twin] = [arena.samples(TILE_SAMPLES * 3), new Uint16Array(TILE_SAMPLES * 3)];
    here.interleave(red, green, blue, own);
    twinKernels.interleave(red, green, blue, twin);
    expect(apart(own, twin)).toBe(0);
  });

  it('drawing: all 65,536 values rounded to 8 bits, and the tint within one', () => {
    const every = arenaSamples();
    const [own, twin] = [arena.bytes(TILE_SAMPLES * 4), new Uint8ClampedArray(TILE_SAMPLES * 4)];
    for (let from = 0; from < 65536; from += TILE_SAMPLES) {
      for (let i = 0; i < TILE_SAMPLES; i++) every[i] = from + i;
      here.drawGrey(every, own);
      for (let i = 0; i < TILE_SAMPLES; i++)
        if (own[4 * i] !== Math.round((from + i) / 257)) expect.unreachable(`${from + i}`);
    }
    const [red, green, blue, mask] = [samples(31), samples(32), samples(33), samples(34)];
    here.drawRgba(red, green, blue, own);
    twinKernels.drawRgba(red, green, blue, twin);
    expect(apart(own, twin)).toBe(0);
    for (const coverage of [mask, 40000]) {
      here.tint(own, coverage, [94, 196, 178], 0.7);
      twinKernels.tint(twin, coverage, [94, 196, 178], 0.7);
      expect(apart(own, twin)).toBeLessThanOrEqual(1);
      twin.set(own);
    }
  });

  it('counting exactly, in a part of a tile', () => {
    const plane = samples(41);
    const [own, twin] = [arena.words(256), new Uint32Array(256)];
    here.countLevels(plane, 77, 33, own);
    twinKernels.countLevels(plane, 77, 33, twin);
    expect(apart(own, twin)).toBe(0);
  });

  it('blurring: any width, narrow and wide', () => {
    for (const [width, height, sigma] of [
      [128, 128, 3],
      [64, 90, 0.7],
      [200, 40, 11.3],
      [92, 90, 1.9],
      [20, 30, 8],
      [12, 8, 30],
    ]) {
      const next = random(width);
      const [own, spare] = [arenaFloats().subarray(0, width * height), arenaFloats().subarray(0, width * height)];
      for (let i = 0; i < own.length; i++) own[i] = next();
      const twin = Float32Array.from(own);
      here.blurPlane(own, spare, width, height, sigma);
      twinKernels.blurPlane(twin, new Float32Array(twin.length), width, height, sigma);
      expect(apart(own, twin)).toBeLessThan(1e-4);
    }
  });

  it('enlarging: out of any place of an area', () => {
    const side = 76;
    const area = floats(51).subarray(0, side * side);
    const [own, twin] = [arenaFloats(), arenaFloats()];
    for (const [step, x, y] of [
      [2, 2, 2],
      [4, 11, 3],
      [8, 5, 20],
      [8, 6.5, 2],
      [16, 7.5, 40],
      [16, 30, 4],
    ]) {
      here.enlarge(area, side, x, y, step, own);
      twinKernels.enlarge(area, side, x, y, step, twin);
      expect(apart(own, twin)).toBeLessThan(1e-4);
    }
  });

  it('refuse planes that they cannot reach', () => {
    expect(() => simd.uniformValue(new Uint16Array(TILE_SAMPLES))).toThrow(RangeError);
    expect(() => new Arena(shared.buffer, 0, 100).floats(TILE * TILE)).toThrow(RangeError);
  });
});
