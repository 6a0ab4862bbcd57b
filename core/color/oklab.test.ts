import { converter } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { times3 } from '../raster/matrix3.ts';
import { lmsMatrix, oklchOf } from './oklab.ts';
import { decodeSrgb } from './srgb.ts';
import { betweenSpaces } from './workingSpace.ts';

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const toOklch = converter('oklch');

describe('Oklab', () => {
  // The colour library culori, which follows CSS Color Module Level 4.
  it('is that of a colour library, for any sRGB colour', () => {
    fc.assert(
      fc.property(unit, unit, unit, (r, g, b) => {
        const theirs = toOklch({ mode: 'rgb', r, g, b });
        const ours = oklchOf(lmsMatrix('srgb'), [r, g, b].map(decodeSrgb) as [number, number, number]);
        expect(ours.l).toBeCloseTo(theirs.l, 4);
        expect(ours.c).toBeCloseTo(theirs.c, 4);
        if (theirs.c > 0.005)
          expect(Math.abs(((((ours.h - (theirs.h ?? 0)) % 360) + 540) % 360) - 180)).toBeLessThan(0.3);
      }),
    );
  });

  it('is the same for one colour in either working space', () => {
    fc.assert(
      fc.property(unit, unit, unit, (r, g, b) => {
        const wide = times3(betweenSpaces('srgb', 'bt2020'), [r, g, b]);
        const a = oklchOf(lmsMatrix('srgb'), [r, g, b]);
        const c = oklchOf(lmsMatrix('bt2020'), wide);
        expect(c.l).toBeCloseTo(a.l, 6);
        expect(c.c).toBeCloseTo(a.c, 6);
      }),
    );
  });

  // Ottosson 2020, table of test pairs: XYZ (0.950, 1.000, 1.089) is Lab (1.000, 0.000, 0.000), from memory.
  it('has white at lightness 1 without chroma', () => {
    const white = oklchOf(lmsMatrix('srgb'), [1, 1, 1]);
    expect(white.l).toBeCloseTo(1, 4);
    expect(white.c).toBeLessThan(1e-4);
  });
});
