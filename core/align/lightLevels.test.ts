import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import { levelCount, levelSize, type Region, type Size } from '../raster/size.ts';
import { halveLight, lightAt, tonesOf } from './lightLevels.ts';
import type { PixelSource, Planes } from './tileSource.ts';

/** A grey picture of codes, of which only full size is read. */
const sourceOf = (size: Size, codeAt: (x: number, y: number) => number): PixelSource => ({
  size,
  levels: levelCount(size),
  area: (level, { x, y, width, height }: Region): Planes => {
    expect(level).toBe(0);
    const plane = Uint16Array.from({ length: width * height }, (_, i) =>
      codeAt(x + (i % width), y + Math.floor(i / width)),
    );
    return [plane, plane, plane];
  },
});
const codeOf = (light: number) => Math.round(65535 * encodeSrgb(Math.min(1, Math.max(0, light))));
const quiet = () => undefined;

describe('light of a level', () => {
  it('is the mean of the light below, whatever noise there is', () => {
    const random = alea('light');
    const size = { width: 256, height: 300 };
    // Signal to noise of about three.
    const noisy = sourceOf(size, () => codeOf(0.02 + 0.012 * (random() - random())));
    const { light } = lightAt(noisy, 2, quiet);
    const mean = light.reduce((sum, each) => sum + each, 0) / light.length;
    expect(Math.abs(Math.log2(mean / 0.02))).toBeLessThan(0.005);
    const { value } = tonesOf(lightAt(noisy, 2, quiet), 0.002);
    const tone = value.reduce((sum, each) => sum + each, 0) / value.length;
    expect(Math.abs(tone - Math.log2(0.022))).toBeLessThan(0.005);
  });

  it('of odd sizes equals sums written down pixel by pixel, and halves to the next level', () => {
    const size = { width: 37, height: 261 };
    const codeAt = (x: number, y: number) => 12000 + ((x * 7919 + y * 104729) % 23456);
    const source = sourceOf(size, codeAt);
    for (const level of [1, 2]) {
      const found = lightAt(source, level, quiet);
      expect({ width: found.width, height: found.height }).toEqual(levelSize(size, level));
      const side = 2 ** level;
      for (const [x, y] of [
        [0, 0],
        [found.width - 1, found.height - 1],
        [4, 30],
      ]) {
        const codes: number[] = [];
        for (let v = y * side; v < Math.min(size.height, (y + 1) * side); v++)
          for (let u = x * side; u < Math.min(size.width, (x + 1) * side); u++) codes.push(codeAt(u, v));
        const mean = codes.reduce((sum, code) => sum + decodeSrgb(code / 65535), 0) / codes.length;
        expect(found.light[y * found.width + x]).toBeCloseTo(mean, 6);
      }
    }
    const [half, own] = [halveLight(lightAt(source, 1, quiet)), lightAt(source, 2, quiet)];
    expect({ width: half.width, height: half.height }).toEqual({ width: own.width, height: own.height });
    for (let y = 0; y < 65; y++)
      for (let x = 0; x < 9; x++) expect(half.light[y * 10 + x]).toBeCloseTo(own.light[y * 10 + x], 6);
  });

  it('is not trusted where a tenth of it is clipped, nor beside', () => {
    const size = { width: 64, height: 64 };
    const source = sourceOf(size, (x, y) => (x % 16 < 6 && y < 6 && x < 16 ? 65535 : 30000));
    const { weight, width } = lightAt(source, 4, quiet);
    expect(weight[0]).toBe(0);
    expect(weight[1]).toBe(1);
    const tones = tonesOf(lightAt(source, 3, quiet), 0.002);
    expect(tones.weight[0]).toBe(0);
    expect(tones.weight[2]).toBe(0);
    expect(tones.weight[3]).toBe(1);
    expect(width).toBe(4);
  });
});
