import { describe, expect, it } from 'vitest';
import { encodeSrgb } from '../color/srgb.ts';
import { findVeil } from './findVeil.ts';

const size = { width: 240, height: 160 };
/** Land of dark patches that goes away into a veil to the top, with a white boat that is none. */
function hazy(veil: readonly [number, number, number]): Uint8ClampedArray {
  const rgba = new Uint8ClampedArray(size.width * size.height * 4);
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) {
      const through = y / size.height;
      const isBoat = x > 100 && x < 103 && y > 120 && y < 123;
      for (let c = 0; c < 3; c++) {
        const land = (x * 7 + y * 13 + c * 5) % 11 < 4 ? 0.02 : 0.3;
        const light = isBoat ? 1 : land * through + veil[c] * (1 - through);
        rgba[4 * (y * size.width + x) + c] = Math.round(255 * encodeSrgb(light));
      }
    }
  return rgba;
}

describe('the light of a veil', () => {
  it.each([
    [0.6, 0.65, 0.8],
    [0.8, 0.6, 0.4],
  ] as const)('is found where it lies thickest: %s, %s, %s', (...veil) => {
    const found = findVeil(hazy(veil), size, 'srgb', 'srgb');
    for (const c of [0, 1, 2]) expect(Math.abs((found?.[c] ?? 0) - veil[c])).toBeLessThan(0.03);
  });

  it('is told in the working space, and there is none in a black picture', () => {
    const found = findVeil(hazy([0.7, 0.7, 0.7]), size, 'display-p3', 'bt2020');
    // Grey is grey in any of them.
    for (const c of [0, 1, 2]) expect(Math.abs((found?.[c] ?? 0) - 0.7)).toBeLessThan(0.03);
    expect(findVeil(new Uint8ClampedArray(size.width * size.height * 4), size, 'srgb', 'srgb')).toBeUndefined();
  });
});
