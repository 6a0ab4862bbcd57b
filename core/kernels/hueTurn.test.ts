import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { hueTurn } from './hueTurn.ts';

describe('the direction of two axes', () => {
  it('is that of Math.atan2 within two millionths of a turn, all round and along the axes', () => {
    const random = alea('hues');
    const pairs = Array.from({ length: 5000 }, (): [number, number] => [random() - 0.5, random() - 0.5]);
    pairs.push([1, 0], [0, 1], [-1, 0], [0, -1], [1, 1], [-1, 1], [-1, -1], [1, -1], [1e-9, 0.3], [0.3, -1e-9]);
    for (const [a, b] of pairs) {
      const turn = Math.atan2(b, a) / (2 * Math.PI);
      const away = Math.abs(hueTurn(a, b) - (turn < 0 ? turn + 1 : turn));
      expect(Math.min(away, 1 - away), `${a}, ${b}`).toBeLessThan(2e-6);
    }
    expect(hueTurn(0, 0)).toBe(0);
  });
});
