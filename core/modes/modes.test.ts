import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { blendedPlainly, laidPlainly } from '../../tests/plainModes.ts';
import { openPixels } from '../../tests/smallScene.ts';
import type { RgbFloats } from '../kernels/planes.ts';
import { MODE_GROUPS, MODES, type ModeName, modeNumber } from './list.ts';
import { NON_SEPARABLE } from './nonSeparable.ts';
import { SEPARABLE } from './separable.ts';

type Rgb = readonly [number, number, number];

/** Worked by hand from the formulas of W3C Compositing and Blending Level 1, section 9; the last three from those of the trade (from memory). */
const WORKED: [keyof typeof SEPARABLE, below: number, above: number, result: number][] = [
  ['multiply', 0.6, 0.5, 0.3],
  ['screen', 0.6, 0.5, 0.8],
  ['overlay', 0.25, 0.8, 0.4],
  ['overlay', 0.75, 0.2, 0.6],
  ['darken', 0.3, 0.7, 0.3],
  ['lighten', 0.3, 0.7, 0.7],
  ['color-dodge', 0.25, 0.5, 0.5],
  ['color-dodge', 0.75, 0.5, 1],
  ['color-dodge', 0, 1, 0],
  ['color-dodge', 0.2, 1, 1],
  ['color-burn', 0.75, 0.5, 0.5],
  ['color-burn', 0.25, 0.5, 0],
  ['color-burn', 1, 0, 1],
  ['color-burn', 0.8, 0, 0],
  ['hard-light', 0.8, 0.25, 0.4],
  ['hard-light', 0.2, 0.75, 0.6],
  ['soft-light', 0.5, 0.25, 0.375],
  ['soft-light', 0.25, 0.75, 0.375],
  ['soft-light', 0.125, 1, 0.34375],
  ['soft-light', 0.64, 1, 0.8],
  ['difference', 0.3, 0.7, 0.4],
  ['exclusion', 0.3, 0.7, 0.58],
  ['linear-burn', 0.7, 0.5, 0.2],
  ['linear-light', 0.5, 0.7, 0.9],
  ['vivid-light', 0.75, 0.25, 0.5],
  ['vivid-light', 0.25, 0.75, 0.5],
];

const COLOURED: [keyof typeof NON_SEPARABLE, below: Rgb, above: Rgb, result: Rgb][] = [
  // Luminosity 0.3 x 0.5 = 0.15 of the red below, laid on a blue of 0.11: 0.04 more of each, drawn in from 1.04 to 1 towards 0.15.
  ['color', [0.5, 0, 0], [0, 0, 1], [0.15 - (0.11 * 0.85) / 0.89, 0.15 - (0.11 * 0.85) / 0.89, 1]],
  ['luminosity', [0.5, 0, 0], [0.2, 0.2, 0.2], [0.55, 0.05, 0.05]],
  ['saturation', [0.6, 0.4, 0.2], [0.5, 0.5, 0.5], [0.438, 0.438, 0.438]],
  ['hue', [0.5, 0.5, 0.5], [0.9, 0.1, 0.1], [0.5, 0.5, 0.5]],
];

describe('modes', () => {
  it.each(WORKED)('%s: %d below, %d above make %d', (mode, below, above, result) => {
    expect(SEPARABLE[mode](below, above)).toBeCloseTo(result, 12);
    expect(blendedPlainly(mode, [below, below, below], [above, above, above])[1]).toBeCloseTo(result, 12);
  });

  it.each(COLOURED)('%s of a colour', (mode, below, above, result) => {
    for (const made of [NON_SEPARABLE[mode](below, above), blendedPlainly(mode, below, above)])
      for (const channel of [0, 1, 2]) expect(made[channel]).toBeCloseTo(result[channel], 12);
  });

  const { arena, kernels } = openPixels(2 ** 20).resources;
  const COUNT = 2048;
  const planes = (): RgbFloats => [arena.floats(COUNT), arena.floats(COUNT), arena.floats(COUNT)];
  const [below, above, covered, mask] = [planes(), planes(), arena.floats(COUNT), arena.samples(COUNT)];
  const at = (from: RgbFloats, i: number): Rgb => [from[0][i] / 65535, from[1][i] / 65535, from[2][i] / 65535];

  it.each(MODES.flatMap((mode) => [[mode, false] as const, [mode, true] as const]))(
    'are computed within a millionth of white: %s, over a picture of which only some is covered: %s',
    (mode: ModeName, isPart: boolean) => {
      const random = alea(`${mode} ${isPart}`);
      const pick = () => {
        const kind = random();
        return kind < 0.1
          ? 0
          : kind < 0.2
            ? 65535
            : kind < 0.3
              ? 90000 * random() - 4000
              : Math.floor(65536 * random());
      };
      for (const plane of [...below, ...above]) for (let i = 0; i < COUNT; i++) plane[i] = pick();
      // Greys are colours as well.
      for (let i = 0; i < COUNT; i += 9) for (const channel of [1, 2]) below[channel][i] = below[0][i];
      for (let i = 0; i < COUNT; i++) {
        mask[i] = pick();
        covered[i] = i % 5 === 0 ? 0 : i % 7 === 0 ? 1 : random();
      }
      const expected = Array.from({ length: COUNT }, (_, i) => {
        const place = { colour: at(below, i), alpha: isPart ? covered[i] : 1 };
        return laidPlainly(mode, place, at(above, i), (0.9 * mask[i]) / 65535, false);
      });
      kernels.blendOver(modeNumber(mode), below, above, mask, 0.9, isPart ? covered : null, below);
      for (const [i, { colour, alpha }] of expected.entries()) {
        if (isPart) expect(Math.abs(covered[i] - alpha)).toBeLessThan(1e-6);
        for (const channel of [0, 1, 2] as const)
          expect(Math.abs(at(below, i)[channel] - colour[channel]), `pixel ${i}, channel ${channel}`).toBeLessThan(
            1e-6,
          );
      }
    },
  );

  it('that keep lightness keep it within 4 of 65,535', () => {
    const random = alea('lightness');
    const lum = (rgb: Rgb) => 0.3 * rgb[0] + 0.59 * rgb[1] + 0.11 * rgb[2];
    for (const mode of ['color', 'hue', 'saturation'] as const) {
      for (const plane of [...below, ...above]) for (let i = 0; i < COUNT; i++) plane[i] = Math.floor(65536 * random());
      const before = Array.from({ length: COUNT }, (_, i) => lum(at(below, i)));
      kernels.blendOver(modeNumber(mode), below, above, 65535, 1, null, below);
      for (const [i, light] of before.entries()) expect(Math.abs(lum(at(below, i)) - light)).toBeLessThan(4 / 65535);
    }
  });

  it('are each in one group, and each once', () => {
    const grouped = Object.values(MODE_GROUPS).flat();
    expect([...grouped].sort()).toEqual([...MODES].sort());
    expect(new Set(grouped).size).toBe(grouped.length);
  });
});
