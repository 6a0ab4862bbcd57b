import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { continueHighlights } from './rawHighlights.ts';

const size = { width: 64, height: 48 };
/** Green clips first, blue next. */
const CLIP = [65535, 30000, 50000] as const;

/** Light of a picture, cut where its colours clip. */
function cut(lightAt: (x: number, y: number) => readonly number[]): Uint16Array {
  const light = new Uint16Array(size.width * size.height * 3);
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) {
      const value = lightAt(x, y);
      for (const channel of [0, 1, 2])
        light[(y * size.width + x) * 3 + channel] = Math.min(CLIP[channel], value[channel]);
    }
  return light;
}
const continued = (light: Uint16Array): Uint16Array => {
  const made = light.slice();
  continueHighlights(made, size, CLIP);
  return made;
};

describe('highlights that a sensor cut', () => {
  it('are left as they are where nothing is cut', () => {
    const light = cut((x, y) => [300 * x, 200 * x, 100 * y]);
    expect(Buffer.compare(Buffer.from(continued(light).buffer), Buffer.from(light.buffer))).toBe(0);
  });

  it('are only ever raised, and colours that are not nearly full never change', () => {
    const random = alea('highlights');
    for (let picture = 0; picture < 20; picture++) {
      const hue = [0, 1, 2].map(() => 0.3 + random());
      const light = cut(() => {
        const bright = 80_000 * random();
        return hue.map((each) => each * bright * (0.9 + 0.2 * random()));
      });
      const made = continued(light);
      let changed = 0;
      for (let i = 0; i < light.length; i++) {
        const isFull = light[i] >= 0.92 * CLIP[i % 3];
        if (isFull ? made[i] < light[i] : made[i] !== light[i]) changed++;
      }
      expect(changed).toBe(0);
    }
  });

  it('are white where all colours are cut, and nothing leaps on the way there', () => {
    const step = 625;
    const light = cut((x) => [1, 0.9, 0.8].map((each) => (48_000 + step * x) * each));
    const made = continued(light);
    const row = 24 * size.width * 3;
    expect([...made.subarray(row + 63 * 3, row + 64 * 3)]).toEqual([65535, 65535, 65535]);
    for (let x = 1; x < size.width; x++)
      for (const channel of [0, 1, 2]) {
        const by = made[row + x * 3 + channel] - made[row + (x - 1) * 3 + channel];
        expect(by, `${channel} at ${x}`).toBeGreaterThanOrEqual(-step / 4);
        expect(by, `${channel} at ${x}`).toBeLessThan(7 * step);
      }
  });

  it('do not tint what stands thinly before white by what lies dark beside it', () => {
    // White above, a brown hill below, and branches of which blue alone is told.
    const isBranch = (x: number, y: number) => y < 30 && y % 6 === 3 && x > 20 && x < 44;
    const light = cut((x, y) =>
      isBranch(x, y) ? [80_000, 70_000, 40_000] : y < 30 ? [150_000, 140_000, 120_000] : [26_000, 17_000, 11_000],
    );
    const made = continued(light);
    const at = (27 * size.width + 32) * 3;
    const [red, green, blue] = made.subarray(at, at + 3);
    expect(blue).toBe(40_000);
    // Pink would be green as low as blue.
    expect(green / Math.sqrt(red * blue)).toBeGreaterThan(0.97);
    expect(green).toBeGreaterThan(1.2 * blue);
  });
});
