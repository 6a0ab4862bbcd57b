import { converter } from 'culori';
import { describe, expect, it } from 'vitest';
import { invert3, times3 } from '../raster/matrix3.ts';
import { BT2020_PRIMARIES, luminanceWeights, rgbToXyz, SRGB_PRIMARIES } from './primaries.ts';
import { toneWeights } from './workingSpace.ts';

describe('matrices from primaries', () => {
  it('gives the sRGB matrix of IEC 61966-2-1:1999, section 5.2, to its four decimals', () => {
    const standard = [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505];
    for (const [i, value] of rgbToXyz(SRGB_PRIMARIES).entries())
      expect(Math.abs(value - standard[i])).toBeLessThan(6e-5);
  });

  it('gives the luminance weights of ITU-R BT.709-6, item 3.2', () => {
    const [r, g, b] = luminanceWeights(SRGB_PRIMARIES);
    expect([r, g, b].map((weight) => Math.round(weight * 1e4) / 1e4)).toEqual([0.2126, 0.7152, 0.0722]);
  });

  it('gives the luminance weights of ITU-R BT.2020-2, table 4', () => {
    const [r, g, b] = luminanceWeights(BT2020_PRIMARIES);
    expect([r, g, b].map((weight) => Math.round(weight * 1e4) / 1e4)).toEqual([0.2627, 0.678, 0.0593]);
  });

  it('agrees with a general colour library on colours of sRGB', () => {
    const toXyz = converter('xyz65');
    for (const [r, g, b] of [
      [1, 0, 0],
      [0.2, 0.5, 0.9],
      [0.05, 0.9, 0.4],
    ] as const) {
      const library = toXyz({ mode: 'lrgb', r, g, b });
      const own = times3(rgbToXyz(SRGB_PRIMARIES), [r, g, b]);
      expect(own[0]).toBeCloseTo(library.x, 3);
      expect(own[1]).toBeCloseTo(library.y, 3);
      expect(own[2]).toBeCloseTo(library.z, 3);
    }
  });

  it('keeps white: the weights of each space add up to 1', () => {
    for (const space of ['srgb', 'bt2020'] as const)
      expect(toneWeights(space).reduce((sum, w) => sum + w)).toBeCloseTo(1, 12);
  });

  it('refuses to invert a matrix without inverse', () => {
    expect(() => invert3([1, 2, 3, 2, 4, 6, 0, 0, 1])).toThrow(RangeError);
  });
});
