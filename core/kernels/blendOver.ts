import { FIRST_NON_SEPARABLE, MODES, modeNumber } from '../modes/list.ts';
import { KEEPS_LIGHT, NON_SEPARABLE, type NonSeparable } from '../modes/nonSeparable.ts';
import { SEPARABLE, type Separable } from '../modes/separable.ts';
import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import type { RgbFloats } from './planes.ts';

const cut = (value: number) => Math.min(1, Math.max(0, value));

/** What a mode makes of a colour below and one above it, encoded, 1 being white. Above counts as 0..1; below may lie beyond. */
function blended(mode: number, below: readonly [number, number, number], above: readonly [number, number, number]) {
  const name = MODES[mode];
  if (name in SEPARABLE) {
    const formula = SEPARABLE[name as keyof typeof SEPARABLE] as Separable;
    return below.map((value, i) => formula(value, above[i]));
  }
  const formula = NON_SEPARABLE[name as keyof typeof NON_SEPARABLE] as NonSeparable;
  const beyond = Math.max(1, ...below);
  const made = formula([cut(below[0] / beyond), cut(below[1] / beyond), cut(below[2] / beyond)], above);
  return KEEPS_LIGHT.has(name) ? made.map((value) => value * beyond) : made;
}

/** Lays one picture over another in a mode, through a mask: W3C Compositing and Blending Level 1, section 10: where nothing lies below the
 * picture counts as it is, elsewhere as its mode makes it. Plus-lighter adds instead (Level 2).
 * @param mode - Its number in `core/modes/list.ts`.
 * @param below - Encoded, 0..65535 and beyond.
 * @param above - Encoded likewise; counts as 0..65535 unless the mode is normal.
 * @param mask - Weight of `above`, 16 bits; or one value 0..65535 for all.
 * @param opacity - Factor on the mask, 0..1.
 * @param covered - How much of each place lies below at all, 0..1; null: all of it. Overwritten with what is covered then.
 * @param out - Overwritten; may be what lies below. */
export function blendOver(
  mode: number,
  below: RgbFloats,
  above: RgbFloats,
  mask: Uint16Array | number,
  opacity: number,
  covered: Float32Array | null,
  out: RgbFloats,
): void {
  for (let i = 0; i < below[0].length; i++) {
    const weight = ((typeof mask === 'number' ? mask : mask[i]) / 65535) * opacity;
    const before = covered ? covered[i] : 1;
    const under = [below[0][i] / 65535, below[1][i] / 65535, below[2][i] / 65535] as const;
    const over = [above[0][i] / 65535, above[1][i] / 65535, above[2][i] / 65535] as const;
    const adds = MODES[mode] === 'plus-lighter';
    const after = adds ? Math.min(1, before + weight) : before + weight - before * weight;
    if (covered) covered[i] = after;
    if (after === 0) {
      for (const channel of [0, 1, 2] as const) out[channel][i] = below[channel][i];
      continue;
    }
    const inside = [cut(over[0]), cut(over[1]), cut(over[2])] as const;
    const made = mode === 0 ? over : adds ? inside : blended(mode, under, inside);
    for (const channel of [0, 1, 2] as const) {
      const value = under[channel];
      if (adds) {
        out[channel][i] = 65535 * Math.min(Math.max(1, value), (before * value + weight * inside[channel]) / after);
        continue;
      }
      const own = mode === 0 ? over[channel] : inside[channel];
      const laid = own + (made[channel] - own) * before;
      out[channel][i] = 65535 * (value + (laid - value) * (weight / after));
    }
  }
}

type Make = {
  table(count: number, value: (i: number) => number): Float32Array;
  number(from: number, to: number): number;
  samples(count: number): Uint16Array;
};
const COUNT = 1024;
/** Some of it beyond white and black, and some just that. */
const picture = (make: Make): RgbFloats => {
  const plane = () => make.table(COUNT, (i) => (i % 16 < 2 ? 65535 * (i % 2) : make.number(-0.05, 1.2) * 65535));
  return [plane(), plane(), plane()];
};

export const blendOverKernel = defineKernel(blendOver)({
  compiled: ['blendOver'],
  bind:
    ({ wasm }) =>
    (mode, below, above, mask, opacity, covered, out) => {
      const [plane, value] = planeOrValue(mask);
      const weight = (opacity / 65535) * (plane === 0 ? value : 1);
      wasm.blendOver(
        mode,
        address(below[0]),
        address(below[1]),
        address(below[2]),
        address(above[0]),
        address(above[1]),
        address(above[2]),
        plane,
        weight,
        covered ? address(covered) : 0,
        address(out[0]),
        address(out[1]),
        address(out[2]),
        below[0].length,
      );
    },
  samples: Object.fromEntries(
    MODES.flatMap((name) => {
      const mode = modeNumber(name);
      const over = (make: Make): Parameters<typeof blendOver> => [
        mode,
        picture(make),
        picture(make),
        make.samples(COUNT),
        0.8,
        null,
        picture(make),
      ];
      const alone = (make: Make): Parameters<typeof blendOver> => [
        ...(over(make).slice(0, 5) as [number, RgbFloats, RgbFloats, Uint16Array, number]),
        make.table(COUNT, (i) => (i % 7 === 0 ? 0 : make.number(0, 1))),
        picture(make),
      ];
      return [
        [`blending, ${name}`, over],
        ...(mode % 5 === 0 || mode >= FIRST_NON_SEPARABLE ? [[`blending over some, ${name}`, alone] as const] : []),
      ];
    }),
  ),
  // Of codes: a millionth of white.
  floats: 0.065,
});
