import { converter } from 'culori';
import { describe, expect, it } from 'vitest';
import { decodeSrgb, encodeSrgb } from './srgb.ts';

describe('the sRGB curve', () => {
  // IEC 61966-2-1:1999, section 5.2: the two pieces of the curve, worked by hand at and around the knee.
  it.each([
    [0, 0],
    [0.04045, 0.04045 / 12.92],
    [0.5, ((0.5 + 0.055) / 1.055) ** 2.4],
    [1, 1],
  ])('decodes %f to %f', (encoded, linear) => {
    expect(decodeSrgb(encoded)).toBeCloseTo(linear, 12);
  });

  it('agrees with a general colour library at every eighth-bit value', () => {
    const toLinear = converter('lrgb');
    for (let code = 0; code < 256; code++) {
      const library = toLinear({ mode: 'rgb', r: code / 255, g: 0, b: 0 }).r;
      expect(decodeSrgb(code / 255)).toBeCloseTo(library, 6);
    }
  });

  it('comes back to every 16-bit value exactly', () => {
    for (let code = 0; code < 65536; code++) {
      expect(Math.round(encodeSrgb(decodeSrgb(code / 65535)) * 65535)).toBe(code);
    }
  });
});
