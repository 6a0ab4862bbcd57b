import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { openPixels } from '../../tests/smallScene.ts';

const { arena, kernels } = openPixels(2 ** 21).resources;
const [width, height] = [92, 76];
const planes = Array.from({ length: 3 }, () => arena.floats(width * height));
const codes = (random: () => number) =>
  Float32Array.from({ length: width * height }, () => Math.floor(65536 * random()) / 65535);

/** Means of windows of codes, as the compiled kernel finds them. */
function meansOf(samples: Float32Array, radius: number, isExact: boolean): Float32Array {
  const [plane, out, spare] = planes;
  plane.set(samples);
  kernels.windowMean(plane, out, spare, width, height, radius, isExact);
  return out.slice();
}

describe('exact means of windows', () => {
  it.each([1, 3, 5, 8, 12])('are the same bits whatever lies outside the window: %i samples each way', (radius) => {
    const random = alea('means');
    const samples = codes(random);
    const before = meansOf(samples, radius, true);
    const loose = meansOf(samples, radius, false);
    let [changed, changedLoosely] = [0, 0];
    for (let run = 0; run < 20; run++) {
      const [x, y] = [Math.floor(width * random()), Math.floor(height * random())];
      const other = samples.slice();
      other[y * width + x] = random();
      const [exact, running] = [true, false].map((isExact) => meansOf(other, radius, isExact));
      for (let at = 0; at < exact.length; at++) {
        const isOutside = Math.abs((at % width) - x) > radius || Math.abs(Math.floor(at / width) - y) > radius;
        if (!isOutside) continue;
        if (exact[at] !== before[at]) changed++;
        if (running[at] !== loose[at]) changedLoosely++;
      }
    }
    expect(changed).toBe(0);
    // Running sums alone carry on what they have passed.
    expect(changedLoosely).toBeGreaterThan(100);
  });

  it('are means to two millionths, where windows are cut off too', () => {
    const samples = codes(alea('close'));
    for (const radius of [1, 5, 8]) {
      const found = meansOf(samples, radius, true);
      let worst = 0;
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          let [sum, count] = [0, 0];
          for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
            for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++, count++)
              sum += samples[v * width + u];
          worst = Math.max(worst, Math.abs(found[y * width + x] - sum / count));
        }
      expect(worst).toBeLessThan(2e-6);
    }
  });
});
