import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { HUES, hueKnot, hueOfKnot } from './hueKnots.ts';

describe('places of hues', () => {
  it('belong to the directions of Math.atan2, all round and along the axes', () => {
    const random = alea('hues');
    const pairs = Array.from({ length: 5000 }, (): [number, number] => [random() - 0.5, random() - 0.5]);
    pairs.push([1, 0], [0, 1], [-1, 0], [0, -1], [1, 1], [-1, 1], [-1, -1], [1, -1], [1e-9, 0.3], [0.3, -1e-9]);
    for (const [a, b] of pairs) {
      const away = hueOfKnot(hueKnot(a, b)) - (Math.atan2(b, a) * 180) / Math.PI;
      expect(Math.abs(Math.sin((away * Math.PI) / 180)), `${a}, ${b}`).toBeLessThan(1e-9);
      expect(Math.cos((away * Math.PI) / 180), `${a}, ${b}`).toBeGreaterThan(0);
    }
    expect(hueKnot(0, 0)).toBe(0);
  });

  it('come in order, all of them less than two thirds of a degree apart', () => {
    for (let knot = 1; knot < HUES; knot++) {
      const apart = hueOfKnot(knot) - hueOfKnot(knot - 1);
      expect(apart).toBeGreaterThan(0.3);
      expect(apart).toBeLessThan(2 / 3);
    }
    expect(hueOfKnot(HUES)).toBe(0);
  });
});
