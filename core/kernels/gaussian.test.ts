import { describe, expect, it } from 'vitest';
import { gaussianTaps } from './gaussian.ts';

describe('weights of a Gaussian', () => {
  const both = (taps: Float32Array, of: (distance: number) => number) =>
    taps.reduce((sum, weight, distance) => sum + (distance === 0 ? 1 : 2) * weight * of(distance), 0);

  it('are modified Bessel functions, as handbooks table them', () => {
    // Abramowitz and Stegun, "Handbook of Mathematical Functions", table 9.8: e^-x I0(x) and e^-x I1(x), from memory.
    for (const [variance, first, second] of [
      [1, 0.4657596077, 0.2079104154],
      [4, 0.2070019212, 0.178750839],
    ]) {
      const taps = gaussianTaps(Math.sqrt(variance));
      expect(taps[0]).toBeCloseTo(first, 4);
      expect(taps[1]).toBeCloseTo(second, 4);
    }
  });

  it('have the variance asked for, however narrow, and are a Gaussian when they are wide', () => {
    for (const sigma of [0.2, 0.5, 1, 3.3, 6.25, 12, 30]) {
      const taps = gaussianTaps(sigma);
      expect(both(taps, () => 1)).toBeCloseTo(1, 6);
      expect(Math.sqrt(both(taps, (distance) => distance ** 2)) / sigma).toBeCloseTo(1, 2);
      if (sigma < 3) continue;
      for (const [distance, weight] of taps.entries()) {
        const density = Math.exp(-(distance ** 2) / (2 * sigma ** 2)) / (sigma * Math.sqrt(2 * Math.PI));
        expect(Math.abs(weight - density)).toBeLessThan(0.02 * taps[0]);
      }
    }
  });
});
