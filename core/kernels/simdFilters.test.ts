import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { openPixels } from '../../tests/smallScene.ts';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import { TILE, TILE_SAMPLES } from '../raster/size.ts';
import { PROFILE_STEPS } from './gradient.ts';
import { fitGuided, type GuidedArea } from './guidedFilter.ts';
import { twinKernels } from './kernels.ts';
import type { Rgb16 } from './planes.ts';
import { encodingKnots, linearTable } from './transferCurve.ts';
import { heldWeights, type Resampling } from './warpTile.ts';

const { kernels: here, arena } = openPixels(2 ** 20).resources;

const noise = (seed: number) => {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    return (state >>> 0) / 2 ** 32;
  };
};
const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  let worst = 0;
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs(a[i] - b[i]));
  return worst;
};

const pool = Array.from({ length: 7 }, () => arena.floats(TILE_SAMPLES));

/** An area with an edge in the guide and a soft, noisy mask over it. */
function guidedArea(width: number, height: number, planes: readonly Float32Array[]): GuidedArea {
  const [guide, mask, slope, offset, s0, s1, s2] = planes.map((plane) => plane.subarray(0, width * height));
  const next = noise(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      guide[y * width + x] = (x + 0.3 * y > width / 2 ? 0.7 : 0.2) + 0.05 * next();
      mask[y * width + x] = Math.min(1, Math.max(0, (x - width / 3) / 12)) * 0.9 + 0.1 * next();
    }
  }
  return { guide, mask, slope, offset, spare: [s0, s1, s2], width, height };
}

const ownPlanes = () => Array.from({ length: 7 }, () => new Float32Array(TILE_SAMPLES));

/** The guided filter written out as the paper has it: every window by itself (He, Sun and Tang 2010, eq. 5, 6 and 8). */
function guidedByHand(
  guide: Float32Array,
  mask: Float32Array,
  width: number,
  radius: number,
  epsilon: number,
): Float32Array {
  const height = guide.length / width;
  const over = (x: number, y: number, use: (at: number) => void) => {
    for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
      for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++) use(v * width + u);
  };
  const [a, b] = [new Float64Array(guide.length), new Float64Array(guide.length)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let [n, meanI, meanP, square, product] = [0, 0, 0, 0, 0];
      over(x, y, (at) => {
        n++;
        meanI += guide[at];
        meanP += mask[at];
        square += guide[at] ** 2;
        product += guide[at] * mask[at];
      });
      meanI /= n;
      meanP /= n;
      a[y * width + x] = (product / n - meanI * meanP) / (square / n - meanI ** 2 + epsilon);
      b[y * width + x] = meanP - a[y * width + x] * meanI;
    }
  return Float32Array.from(guide, (value, i) => {
    let [n, slope, offset] = [0, 0, 0];
    over(i % width, Math.floor(i / width), (at) => {
      n++;
      slope += a[at];
      offset += b[at];
    });
    return Math.min(1, Math.max(0, (slope / n) * value + offset / n));
  });
}

/** The mask that an area's lines make of its guide, cut to 0..1. */
const fitted = ({ slope, offset, guide }: GuidedArea) =>
  guide.map((tone, i) => Math.min(1, Math.max(0, slope[i] * tone + offset[i])));

describe('the guided filter', () => {
  it.each([
    [48, 40, 3, 0.01],
    [40, 52, 9, 0.002],
  ])('%i x %i, radius %i: is the paper written out, on random pictures', (width, height, radius, epsilon) => {
    const own = guidedArea(width, height, pool);
    const next = noise(radius);
    for (let i = 0; i < own.guide.length; i++) {
      own.guide[i] = next();
      own.mask[i] = next() ** 2;
    }
    const expected = guidedByHand(own.guide.slice(), own.mask.slice(), width, radius, epsilon);
    const planes = ownPlanes();
    const twin = { ...guidedArea(width, height, planes), guide: own.guide.slice(), mask: own.mask.slice() };
    here.fitGuided(own, radius, epsilon);
    expect(apart(fitted(own), expected)).toBeLessThan(2e-4);
    fitGuided(twin, radius, epsilon);
    expect(apart(fitted(twin), expected)).toBeLessThan(2e-4);
  });

  it.each([
    [128, 128, 8, 0.01],
    [60, 33, 5, 1e-4],
    [20, 90, 30, 0.1],
    [4, 4, 1, 0.01],
  ])('%i x %i, radius %i: the kernel fits as its twin', (width, height, radius, epsilon) => {
    const own = guidedArea(width, height, pool);
    const twin = guidedArea(width, height, ownPlanes());
    here.fitGuided(own, radius, epsilon);
    fitGuided(twin, radius, epsilon);
    // Slopes grow to 1 / epsilon times the rounding of a variance.
    expect(apart(own.slope, twin.slope)).toBeLessThan(2e-6 / epsilon + 1e-5);
    expect(apart(fitted(own), fitted(twin))).toBeLessThan(2e-6 / epsilon + 1e-5);
  });

  it.each([128, 144])('laying lines of rows of %i over tones and narrowing at once is its twin', (stride) => {
    const next = noise(stride);
    const planes = [arena.floats(TILE * stride), arena.floats(TILE * stride)];
    for (const plane of planes) for (let i = 0; i < plane.length; i++) plane[i] = 2 * next() - 0.5;
    const [guide, out] = [arena.samples(TILE_SAMPLES), arena.samples(TILE_SAMPLES)];
    for (let i = 0; i < guide.length; i++) guide[i] = next() * 65536;
    const twin = new Uint16Array(TILE_SAMPLES);
    for (const tones of [guide, 20000, 0]) {
      const same = here.applyGuided(planes[0], planes[1], stride, tones, out);
      expect(twinKernels.applyGuided(planes[0], planes[1], stride, tones, twin)).toBe(same);
      expect(apart(out, twin)).toBeLessThanOrEqual(1);
    }
    expect(here.applyGuided(planes[0].fill(0), planes[1].fill(0.5), stride, guide, out)).toBe(32768);
  });
});

describe('transfer curves', () => {
  const table = arena.floats(65536);
  table.set(linearTable(decodeSrgb));
  const made = encodingKnots(encodeSrgb);
  const knots = arena.floats(made.length);
  knots.set(made);
  const samples = arena.samples(TILE_SAMPLES);
  const back = arena.samples(TILE_SAMPLES);
  const linear = arena.floats(TILE_SAMPLES);

  it('sRGB (IEC 61966-2-1): all 65,536 values to linear light and back, exactly', () => {
    for (let from = 0; from < 65536; from += TILE_SAMPLES) {
      for (let i = 0; i < TILE_SAMPLES; i++) samples[i] = from + i;
      here.linearize(table, samples, linear);
      for (let i = 0; i < TILE_SAMPLES; i += 97) expect(linear[i]).toBeCloseTo(decodeSrgb((from + i) / 65535), 7);
      here.encodeLinear(knots, linear, back);
      expect(apart(back, samples)).toBe(0);
    }
  });

  it('any value within one step of the formula, and of the twin', () => {
    const next = noise(5);
    for (let i = 0; i < TILE_SAMPLES; i++) linear[i] = 1.1 * next() ** 4 - 0.01;
    const twin = new Uint16Array(TILE_SAMPLES);
    here.encodeLinear(knots, linear, back);
    twinKernels.encodeLinear(knots, linear, twin);
    expect(apart(back, twin)).toBeLessThanOrEqual(1);
    const exact = Array.from(linear, (value) => 65535 * encodeSrgb(Math.min(1, Math.max(0, value))));
    expect(apart(back, exact)).toBeLessThan(0.56);
  });
});

describe('light of encoded floats', () => {
  const from = arena.floats(TILE_SAMPLES);
  const light = arena.floats(TILE_SAMPLES);

  it('is that of sRGB within a fiftieth of a 16-bit step, from below black to far above white, and keeps its order', () => {
    const [lowest, highest] = [-4000, 120_000];
    const steps = 16;
    let before = Number.NEGATIVE_INFINITY;
    for (let code = lowest; code < highest; code += TILE_SAMPLES / steps) {
      for (let i = 0; i < TILE_SAMPLES; i++) from[i] = code + i / steps;
      here.linearizeFloats(from, light);
      let worst = 0;
      for (let i = 0; i < TILE_SAMPLES; i++) {
        worst = Math.max(worst, Math.abs(65535 * encodeSrgb(light[i]) - from[i]));
        // Steps of floats are coarser than these of light.
        if (light[i] < before * (1 - 4e-7)) throw new Error(`${light[i]} comes after ${before} at ${from[i]}`);
        before = light[i];
      }
      expect(worst).toBeLessThan(0.02 + 4e-7 * (code + TILE_SAMPLES / steps));
    }
  });
});

describe('gradients', () => {
  const falls = [
    [0.1, 0.004, 0.003],
    [-3, 0.05, -0.01],
    [1.4, -0.02, 0],
  ];

  it.each(['table', 'linear', 'smooth'] as const)('fall as their twin and the curve do: %s', (kind) => {
    const curve = (t: number) => 1 - (kind === 'smooth' ? t * t * (3 - 2 * t) : t);
    const table = arena.floats(PROFILE_STEPS + 1);
    for (let step = 0; step <= PROFILE_STEPS; step++) table[step] = curve(step / PROFILE_STEPS);
    const profile = kind === 'table' ? table : kind;
    for (const [start, across, down] of falls) {
      const twin = new Float32Array(TILE_SAMPLES);
      here.fillGradient(pool[0], start, across, down, profile);
      twinKernels.fillGradient(twin, start, across, down, profile);
      expect(apart(pool[0], twin)).toBeLessThan(1e-5);
      const wanted = twin.map((_, i) =>
        curve(Math.min(1, Math.max(0, start + across * (i % TILE) + down * Math.floor(i / TILE)))),
      );
      expect(apart(pool[0], wanted)).toBeLessThan(1e-5);
    }
  });
});

describe('warping', () => {
  const side = 150;
  const planes = (count: number, samples: number): Rgb16 => {
    const list = Array.from({ length: count }, () => arena.samples(samples));
    return [list[0], list[1], list[2]];
  };
  const area = planes(3, side * side + 16);
  const own = planes(3, TILE_SAMPLES);
  const twin: Rgb16 = [new Uint16Array(TILE_SAMPLES), new Uint16Array(TILE_SAMPLES), new Uint16Array(TILE_SAMPLES)];
  const weights = { bicubic: heldWeights('bicubic', arena), lanczos3: heldWeights('lanczos3', arena) };
  const fill = (at: (x: number, y: number, channel: number) => number) => {
    area.forEach((plane, channel) => {
      for (let i = 0; i < side * side; i++) plane[i] = at(i % side, Math.floor(i / side), channel);
    });
  };
  const random = noise(77);

  it.each<Resampling>(['bicubic', 'lanczos3'])('%s: the kernel as its twin, under any tilt', (name) => {
    fill(() => 65535 * random());
    for (const matrix of [
      [1, 0, 5.25, 0, 1, 7.75, 0, 0, 1],
      [0.97, 0.05, 6, -0.05, 0.97, 12, 2e-5, -1e-5, 1],
      [1.4, 0, -30, 0, 1.4, -30, 0, 0, 1],
    ]) {
      here.warpTile(area, side, matrix, weights[name], own);
      twinKernels.warpTile(area, side, matrix, weights[name], twin);
      // A place that lies between two phases may fall to either.
      const far = own[0].reduce((count, value, i) => count + (Math.abs(value - twin[0][i]) > 1 ? 1 : 0), 0);
      expect(far).toBeLessThan(TILE_SAMPLES / 100);
      for (const channel of [0, 1, 2] as const) expect(apart(own[channel], twin[channel])).toBeLessThan(260);
    }
  });

  it.each<Resampling>(['bicubic', 'lanczos3'])('%s: whole pixels are taken as they are', (name) => {
    here.warpTile(area, side, [1, 0, 9, 0, 1, 11, 0, 0, 1], weights[name], own);
    for (const channel of [0, 1, 2] as const)
      for (let i = 0; i < TILE_SAMPLES; i += 1)
        if (own[channel][i] !== area[channel][(Math.floor(i / TILE) + 11) * side + (i % TILE) + 9])
          expect.unreachable(`${channel} ${i}`);
  });

  it('a smooth picture moved by parts of a pixel is the picture there, within a thousandth', () => {
    const wave = (x: number, y: number) => 32768 + 20000 * Math.sin(x / 5) * Math.cos(y / 6);
    fill((x, y) => wave(x, y));
    here.warpTile(area, side, [1, 0, 6.37, 0, 1, 8.81, 0, 0, 1], weights.lanczos3, own);
    const exact = Array.from(own[0], (_, i) => wave((i % TILE) + 6.37, Math.floor(i / TILE) + 8.81));
    expect(apart(own[0], exact)).toBeLessThan(65.535);
  });

  it('bicubic as a general image library reads it', async () => {
    const wave = (x: number, y: number) => Math.round(30000 + 15000 * Math.sin(x / 4) + 10000 * Math.cos(y / 3));
    fill((x, y) => wave(x, y));
    const [dx, dy, turn] = [0.4, 0.7, 0.03];
    here.warpTile(area, side, [1, turn, 8 + dx, -turn, 1, 10 + dy, 0, 0, 1], weights.bicubic, own);
    const det = 1 + turn * turn;
    // sharp takes the matrix from its input to its output, and its own interpolator reads between samples.
    const inverse: [number, number, number, number] = [1 / det, -turn / det, turn / det, 1 / det];
    const input = sharp(area[0].slice(0, side * side), { raw: { width: side, height: side, channels: 1 } });
    const [ox, oy] = [8 + dx, 10 + dy];
    const { data, info } = await input
      .affine(inverse, { interpolator: 'bicubic', idx: -ox, idy: -oy, background: '#000' })
      .toColourspace('grey16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const theirs = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    // Its canvas is fitted around the turned picture: find the shift of whole pixels that lays the middles on each other.
    let best = Infinity;
    for (let sy = -40; sy <= 40; sy++) {
      for (let sx = -40; sx <= 40; sx++) {
        let worst = 0;
        for (let y = 40; y < 90 && worst < best; y += 7) {
          for (let x = 40; x < 90 && worst < best; x += 7) {
            const [u, v] = [x + sx, y + sy];
            const inside = u >= 0 && v >= 0 && u < info.width && v < info.height;
            const value = inside ? theirs[(v * info.width + u) * info.channels] : -65535;
            worst = Math.max(worst, Math.abs(value - own[0][y * TILE + x]));
          }
        }
        best = Math.min(best, worst);
      }
    }
    // Its interpolator tables fewer phases between samples.
    expect(best).toBeLessThan(400);
  });
});
