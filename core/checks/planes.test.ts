import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { PlanePool } from './planePool.ts';
import { boxMean, contrastAt, halved, meanAlong } from './planes.ts';

const random = alea('planes');
const [stride, rows] = [37, 29];
const plane = Float32Array.from({ length: stride * rows }, () => random());
const at = (x: number, y: number) => (x >= 0 && y >= 0 && x < stride && y < rows ? plane[y * stride + x] : undefined);
const mean = (values: (number | undefined)[]) => {
  const there = values.filter((value) => value !== undefined);
  return there.reduce((sum, value) => sum + value, 0) / there.length;
};
const range = (radius: number) => Array.from({ length: 2 * radius + 1 }, (_, i) => i - radius);

describe('means of planes', () => {
  it.each([1, 2, 3, 8, 20])('over squares, radius %i, are those of plain loops', (radius) => {
    const out = boxMean(plane, stride, radius, new PlanePool());
    for (let y = 0; y < rows; y += 3)
      for (let x = 0; x < stride; x++)
        expect(out[y * stride + x]).toBeCloseTo(
          mean(range(radius).flatMap((dy) => range(radius).map((dx) => at(x + dx, y + dy)))),
          4,
        );
  });

  it.each([
    [1, 0],
    [0, 1],
    [1, 1],
    [-1, 1],
  ] as const)('along lines %i, %i are those of plain loops, at every other place', (dx, dy) => {
    const radius = 4;
    const out = meanAlong(plane, stride, [dx, dy], radius, new PlanePool());
    let compared = 0;
    for (let y = 0; y < rows; y += 2)
      for (let x = 0; x < stride; x += 2) {
        const line = range(radius).map((i) => at(x + i * dx, y + i * dy));
        if (line.some((value) => value === undefined)) continue;
        expect(out[y * stride + x]).toBeCloseTo(mean(line), 4);
        compared++;
      }
    expect(compared).toBeGreaterThan(100);
  });

  it('of squares of four are those of plain loops', () => {
    const even = plane.subarray(0, 36 * 28);
    const out = halved(even, 36, new PlanePool());
    expect(out).toHaveLength(18 * 14);
    for (const [x, y] of [
      [0, 0],
      [17, 13],
      [5, 9],
    ]) {
      const first = 2 * y * 36 + 2 * x;
      expect(out[y * 18 + x]).toBeCloseTo((even[first] + even[first + 1] + even[first + 36] + even[first + 37]) / 4, 6);
    }
  });

  it('of contrast are nothing on a slope, and something at its end', () => {
    const slope = Float32Array.from({ length: stride * rows }, (_, i) => Math.min(20, i % stride) / 20);
    const out = contrastAt(slope, stride, 2, new PlanePool());
    expect(out[10 * stride + 10]).toBeCloseTo(0, 6);
    expect(out[10 * stride + 20]).toBeGreaterThan(0.005);
  });

  it('use their planes again', () => {
    const pool = new PlanePool();
    const first = pool.within(() => boxMean(plane, stride, 2, pool));
    const again = pool.within(() => boxMean(plane, stride, 2, pool));
    expect(again).toBe(first);
  });
});
