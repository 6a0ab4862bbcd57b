import { address, defineKernel } from './defineKernel.ts';
import { HUE_KNOTS, HUES, hueKnot } from './hueKnots.ts';
import type { RgbFloats } from './planes.ts';
import { smoothstep } from './smoothstep.ts';

/** Colours turned, strengthened and lightened by their hue, in place.
 * @param table - Four numbers for each of {@link HUE_KNOTS}: what is added to an axis of colour, as shares of itself and of the other, to
 * lightness as a share of itself, and above 0 where anything is done from there to the next knot.
 * @param hueless - Chroma from which on a colour has a hue: changes come in over it.
 * @param lab - Lightness and two axes of colour. */
export function changeHues(table: Float32Array, hueless: number, [ls, as, bs]: RgbFloats): void {
  for (let i = 0; i < ls.length; i++) {
    const a = as[i];
    const b = bs[i];
    const at = hueKnot(a, b);
    const left = Math.min(HUES - 1, Math.floor(at));
    const from = 4 * left;
    if (table[from + 3] === 0) continue;
    const much = smoothstep(Math.sqrt(a * a + b * b) / hueless);
    const change = (of: number) => much * (table[from + of] + (table[from + 4 + of] - table[from + of]) * (at - left));
    const [along, across] = [change(0), change(1)];
    ls[i] += ls[i] * change(2);
    as[i] = a + a * along - b * across;
    bs[i] = b + a * across + b * along;
  }
}

/** Colours times `1 + amount`, in place; less of it is done to what is vivid.
 * @param spare - Share that is left alone of what is fully vivid.
 * @param full - Chroma of that. */
export function saturate(amount: number, spare: number, full: number, a: Float32Array, b: Float32Array): void {
  for (let i = 0; i < a.length; i++) {
    const vivid = Math.min(1, Math.sqrt(a[i] * a[i] + b[i] * b[i]) / full);
    const by = 1 + amount * (1 - spare * vivid);
    a[i] *= by;
    b[i] *= by;
  }
}

/** Tints are tabled by lightness: so many knots for 1, as far as to the brightest light that there is, and one more. */
const TINTS = 1000;
const LIGHTEST = 4;
export const TINT_KNOTS = LIGHTEST * TINTS + 2;
/** Lightness of a knot. */
export const tintLightness = (knot: number): number => knot / TINTS;

/** Colours moved by a table of lightness, in place.
 * @param table - {@link TINT_KNOTS} pairs: what is added to each axis.
 * @param lab - Lightness and two axes of colour. */
export function tintByLightness(table: Float32Array, [l, a, b]: RgbFloats): void {
  for (let i = 0; i < l.length; i++) {
    const at = Math.min(LIGHTEST, Math.max(0, l[i])) * TINTS;
    const knot = 2 * Math.floor(at);
    const share = at - Math.floor(at);
    a[i] += table[knot] + (table[knot + 2] - table[knot]) * share;
    b[i] += table[knot + 1] + (table[knot + 3] - table[knot + 1]) * share;
  }
}

type Make = {
  table(count: number, value: (i: number) => number): Float32Array;
  number(from: number, to: number): number;
};
const colours = (make: Make) => make.table(16384, () => make.number(-0.2, 0.2));

export const changeHuesKernel = defineKernel(changeHues)({
  compiled: ['changeHues'],
  bind:
    ({ wasm }) =>
    (table, hueless, [l, a, b]) =>
      void wasm.changeHues(address(table), 1 / hueless, address(l), address(a), address(b), l.length),
  samples: {
    'changing hues': (make) => [
      // Smooth where it sets in, since a hue at a border may fall to either side of it.
      make.table(4 * HUE_KNOTS, (i) => {
        const at = Math.floor(i / 4) / HUES;
        const much = Math.max(0, Math.sin(2 * Math.PI * at)) ** 2;
        return i % 4 < 3 ? 0.4 * much : at < 0.55 ? 1 : 0;
      }),
      0.04,
      [make.floats(), colours(make), colours(make)],
    ],
  },
  floats: 4e-6,
});

export const saturateKernel = defineKernel(saturate)({
  compiled: ['saturate'],
  bind:
    ({ wasm }) =>
    (amount, spare, full, a, b) =>
      void wasm.saturate(amount, spare, 1 / full, address(a), address(b), a.length),
  samples: { saturating: (make) => [0.4, 0.5, 0.4, colours(make), colours(make)] },
});

export const tintByLightnessKernel = defineKernel(tintByLightness)({
  compiled: ['tintByLightness'],
  bind:
    ({ wasm }) =>
    (table, [l, a, b]) =>
      void wasm.tintByLightness(address(table), address(l), address(a), address(b), l.length),
  samples: {
    'tinting by lightness': (make) => [
      make.table(2 * TINT_KNOTS, (i) => 0.05 * Math.sin(i / 300)),
      [make.floats(), colours(make), colours(make)],
    ],
  },
});
