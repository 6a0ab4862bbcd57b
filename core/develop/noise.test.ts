import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { nodeOf } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { measureNoise } from '../checks/frameNoise.ts';
import { developFrames } from '../scene/edits/developing.ts';
import { applyEdit } from '../scene/edits/index.ts';

const size = { width: 290, height: 270 };
const SIGMA = 0.02;
const random = alea('noise');
const gaussian = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
const at = (x: number, y: number) => y * size.width + x;
const noisy = Array.from({ length: 3 }, () =>
  Float64Array.from({ length: size.width * size.height }, () => SIGMA * gaussian()),
);
/** A flat patch at the left, a fine pattern of stripes at the right, four pixels each, with colours. */
const STRIPE = 0.08;
const clean = (x: number): readonly [number, number, number] => {
  const wave = x < 150 ? 0 : STRIPE * Math.sign(Math.sin((x * Math.PI) / 4 + 0.01));
  return [0.45 + wave, 0.4 + wave, 0.35 + wave];
};
const code = (value: number) => Math.round(65535 * Math.min(1, Math.max(0, value)));
const picture: PixelSource = (x, y) =>
  clean(x).map((value, c) => code(value + noisy[c][at(x, y)])) as unknown as ReturnType<PixelSource>;

const made = smallScene(size, [picture]);
const [id] = made.frameIds;
function planesOf(noise: { brightness: number; colour: number }): Float64Array[] {
  const measured = { brightness: SIGMA * Math.sqrt(6 / 16), colour: SIGMA * Math.sqrt(0.5) };
  const scene = applyEdit(made.scene, developFrames({ frameIds: [id], change: { noise: { ...noise, measured } } }));
  const node = nodeOf(scene, { what: 'result' });
  return [0, 1, 2].map((plane) => Float64Array.from(planeOfNode(node, plane, 0, size, made.context), (v) => v / 65535));
}

const channels = ([r, g, b]: readonly Float64Array[]) => ({
  brightness: r.map((_, i) => (r[i] + 2 * g[i] + b[i]) / 4),
  colour: r.map((_, i) => (r[i] - g[i]) / 2),
});
function spread(plane: Float64Array, left: number, right: number): number {
  const values = Array.from(
    { length: (right - left) * 200 },
    (_, i) => plane[at(left + (i % (right - left)), 30 + Math.floor(i / (right - left)))],
  );
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length);
}
/** Half the height of the stripes, from means down the columns. */
function contrast(plane: Float64Array): number {
  const columns = Array.from({ length: 96 }, (_, i) => {
    let sum = 0;
    for (let y = 30; y < 230; y++) sum += plane[at(170 + i, y)];
    return { mean: sum / 200, sign: Math.sign(clean(170 + i)[0] - 0.45) };
  });
  return columns.reduce((sum, { mean, sign }) => sum + sign * mean, 0) / columns.length;
}

describe('noise', () => {
  const before = channels(planesOf({ brightness: 0, colour: 0 }));
  const [all, half] = [planesOf({ brightness: 1, colour: 1 }), planesOf({ brightness: 0.5, colour: 0.5 })].map(
    channels,
  );

  it('of a flat patch falls by 60 per cent and more at full strength, by less at half', () => {
    for (const channel of ['brightness', 'colour'] as const) {
      const [whole, part] = [all, half].map(
        (each) => spread(each[channel], 20, 130) / spread(before[channel], 20, 130),
      );
      expect(whole, channel).toBeLessThan(0.4);
      expect(part, channel).toBeGreaterThan(whole);
      expect(part, channel).toBeLessThan(0.9);
    }
  });

  it('is taken out of a fine pattern whose contrast keeps 85 per cent and more', () => {
    expect(contrast(all.brightness) / contrast(before.brightness)).toBeGreaterThan(0.85);
    expect(contrast(all.brightness)).toBeLessThan(1.02 * STRIPE);
  });

  it('of brightness and of colour is taken out apart', () => {
    const colour = channels(planesOf({ brightness: 0, colour: 1 }));
    expect(spread(colour.colour, 20, 130)).toBeLessThan(0.4 * spread(before.colour, 20, 130));
    expect(spread(colour.brightness, 20, 130)).toBeCloseTo(spread(before.brightness, 20, 130), 4);
  });

  it('is drawn to the means of windows as worked out plainly', () => {
    // Brightness: windows of seven pixels; noise counts 1.4 times.
    const limit = 1.4 * SIGMA ** 2 * (6 / 16);
    const own = channels(planesOf({ brightness: 1, colour: 0 })).brightness;
    for (const [px, py] of [
      [60, 90],
      [150, 140],
      [213, 77],
      [256, 256],
    ]) {
      let [slope, offset] = [0, 0];
      for (let wy = py - 3; wy <= py + 3; wy++)
        for (let wx = px - 3; wx <= px + 3; wx++) {
          let [sum, squares] = [0, 0];
          for (let y = wy - 3; y <= wy + 3; y++)
            for (let x = wx - 3; x <= wx + 3; x++) {
              const value = before.brightness[at(x, y)];
              sum += value;
              squares += value * value;
            }
          const mean = sum / 49;
          const variance = squares / 49 - mean * mean;
          const kept = Math.max(0, variance - limit) / variance;
          slope += kept / 49;
          offset += ((1 - kept) * mean) / 49;
        }
      expect(Math.abs(own[at(px, py)] - (slope * before.brightness[at(px, py)] + offset))).toBeLessThan(1e-4);
    }
  });

  it('is measured where the picture is smooth, also from bytes', () => {
    for (const sigma of [0.004, 0.01, 0.03]) {
      const rgba = new Uint8ClampedArray(256 * 256 * 4);
      for (let i = 0; i < 256 * 256; i++) {
        // Half of it is busy.
        const busy = i % 256 < 128 ? 0 : 0.2 * Math.sin(i) * Math.cos(i / 300);
        for (let c = 0; c < 3; c++)
          rgba[4 * i + c] = Math.round(255 * (0.4 + 0.001 * (i >> 8) + busy + sigma * gaussian()));
      }
      const found = measureNoise([{ rgba, width: 256, height: 256 }]);
      // Bytes add noise of their own: a step's deviation is its twelfth's root.
      const step = 1 / 255 / Math.sqrt(12);
      const real = Math.hypot(sigma, step);
      expect((found?.brightness ?? 0) / (real * Math.sqrt(6 / 16))).toBeGreaterThan(0.85);
      expect((found?.brightness ?? 0) / (real * Math.sqrt(6 / 16))).toBeLessThan(1.15);
      expect((found?.colour ?? 0) / (real * Math.sqrt(0.5))).toBeGreaterThan(0.85);
      expect((found?.colour ?? 0) / (real * Math.sqrt(0.5))).toBeLessThan(1.15);
    }
    expect(measureNoise([{ rgba: new Uint8ClampedArray(256 * 256 * 4), width: 256, height: 256 }])).toBeUndefined();
  });
});
