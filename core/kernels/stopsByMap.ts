import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import type { RgbFloats } from './planes.ts';

/** Shares are tabled by lightness: so many knots for 1, as far as the lightest that there is, and one more. */
const KNOTS = 256;
const LIGHTEST = 4;
export const LIGHTNESS_KNOTS = LIGHTEST * KNOTS + 2;
/** Lightness of a knot. */
export const lightnessOfKnot = (knot: number): number => knot / KNOTS;

/** Powers of two: by codes of a map, and how much of those counts by lightness. */
export interface MappedPowers {
  /** 1,025 for codes from 0 to 65536. */
  byCode: Float32Array;
  /** Shares, see {@link lightnessOfKnot}. */
  byLightness: Float32Array;
}

/** The power that belongs to a code, as much of it as counts at a lightness. */
export function mappedPower({ byCode, byLightness }: MappedPowers, code: number, lightness: number): number {
  const left = Math.floor(code / 64);
  const power = byCode[left] + (byCode[left + 1] - byCode[left]) * (code / 64 - left);
  const at = Math.min(LIGHTEST, Math.max(0, lightness)) * KNOTS;
  const knot = Math.floor(at);
  return power * (byLightness[knot] + (byLightness[knot + 1] - byLightness[knot]) * (at - knot));
}

/** Lightness times a power of two that belongs to codes of a map, by as much as belongs to the lightness; colours likewise, by a share of
 * that power. In place.
 * @param map - A plane of codes, or the one that it is throughout. */
export function stopsByMap(
  map: Uint16Array | number,
  powers: MappedPowers,
  saturation: number,
  [l, a, b]: RgbFloats,
): void {
  for (let i = 0; i < l.length; i++) {
    const by = mappedPower(powers, typeof map === 'number' ? map : map[i], l[i]);
    if (by === 0) continue;
    const gain = 2 ** (by * saturation);
    l[i] *= 2 ** by;
    a[i] *= gain;
    b[i] *= gain;
  }
}

type Make = {
  table(count: number, value: (i: number) => number): Float32Array;
  number(from: number, to: number): number;
};
const colours = (make: Make) => make.table(16384, () => make.number(-0.2, 0.2));
export const samplePowers = (make: Make): MappedPowers => ({
  byCode: make.table(1025, (i) => (i - 512) / 700),
  byLightness: make.table(LIGHTNESS_KNOTS, (i) => Math.min(1, i / 300)),
});

export const stopsByMapKernel = defineKernel(stopsByMap)({
  compiled: ['stopsByMap'],
  bind:
    ({ wasm }) =>
    (map, { byCode, byLightness }, saturation, [l, a, b]) => {
      const [plane, value] = planeOrValue(map);
      const [codes, shares] = [address(byCode), address(byLightness)];
      wasm.stopsByMap(plane, value, codes, shares, saturation, address(l), address(a), address(b), l.length);
    },
  samples: {
    'stops by a map': (make) => [
      make.samples(),
      samplePowers(make),
      0.5,
      [make.floats(), colours(make), colours(make)],
    ],
    'the same stops everywhere': (make) => [
      50000,
      samplePowers(make),
      0.5,
      [make.floats(), colours(make), colours(make)],
    ],
  },
  floats: 4e-6,
});
