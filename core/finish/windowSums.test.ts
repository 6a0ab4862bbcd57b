import alea from 'alea';
import { expect, it } from 'vitest';
import { WindowSums } from './windowSums.ts';

it('sums any square as adding it up does', () => {
  const random = alea('windows');
  const [width, height] = [37, 23];
  const plane = Float64Array.from({ length: width * height }, () => random());
  const sums = new WindowSums(width, height, (i) => plane[i]);
  for (const [x, y, reach] of [
    [0, 0, 0],
    [5, 5, 5],
    [36, 22, 0],
    [18, 11, 11],
    [30, 16, 6],
  ]) {
    const plain = { sum: 0, squares: 0, across: 0, down: 0 };
    for (let row = y - reach; row <= y + reach; row++)
      for (let column = x - reach; column <= x + reach; column++) {
        const value = plane[row * width + column];
        plain.sum += value;
        plain.squares += value * value;
        plain.across += value * column;
        plain.down += value * row;
      }
    for (const of of ['sum', 'squares', 'across', 'down'] as const)
      expect(sums[of](x, y, reach)).toBeCloseTo(plain[of], 8);
  }
});
