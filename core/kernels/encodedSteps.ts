import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import { codeTable, factorAt, KNOT, MOST_AWAY } from './gainByCodes.ts';
import { lightOf } from './lightSteps.ts';
import { logTable, tabledLight } from './logTable.ts';
import type { RgbFloats } from './planes.ts';

/** Coverage, 16 bits, or the one that it is throughout, and a factor on it, 0..1. Where all counts in full, what is made is what comes out. */
export interface Through {
  mask: Uint16Array | number;
  opacity: number;
}

/** Nothing of what lies below is left. */
export const ALONE: Through = { mask: 65535, opacity: 1 };

export const weightAt = ({ mask, opacity }: Through, i: number): number =>
  ((typeof mask === 'number' ? mask : mask[i]) / 65535) * opacity;

/** A mask's address, or 0, and what its samples are multiplied by, or the weight throughout. */
export function throughOf({ mask, opacity }: Through): [address: number, weight: number] {
  const [plane, value] = planeOrValue(mask);
  return [plane, plane === 0 ? (value / 65535) * opacity : opacity / 65535];
}

/** What a table makes of values, laid over others.
 * @param table - See `logTable`.
 * @param unit - Values are multiplied by it first; then what lies below `least` counts as that.
 * @param from - The first value that is read; as many as `out` holds are.
 * @param out - Overwritten; may be either of the planes. */
export function mixMapped(
  table: Float32Array,
  { unit, least }: { unit: number; least: number },
  values: Float32Array,
  below: Float32Array,
  through: Through,
  out: Float32Array,
  from = 0,
): void {
  for (let i = 0; i < out.length; i++) {
    const made = tabledLight(table, Math.max(least, unit * values[from + i]));
    out[i] = below[i] + (made - below[i]) * weightAt(through, i);
  }
}

/** Factors of light by codes, or by how far codes lie above others. */
export interface Gains {
  /** See {@link gainTable}. */
  table: Float32Array;
  codes: Uint16Array | number;
  /** Codes above which those lie as far as counts, at most {@link MOST_AWAY} each way. */
  base?: Uint16Array | number;
}

/** Factors that a table of them holds, by codes or by how far one lies above another: before as many factors lie their roots. */
const knotsOf = ({ base }: Gains): number => (base === undefined ? 65536 : 2 * MOST_AWAY) / KNOT + 2;

/** Roots of factors by codes, by which encoded values grow, and then the factors themselves.
 * @param stops - Of the factors, by code; or by how far a code lies above another, at most {@link MOST_AWAY} each way. */
export function gainTable(stops: (code: number) => number, isAway: boolean): Float32Array {
  const of = (power: number) => {
    const factor = (code: number) => 2 ** (power * stops(code));
    return isAway ? codeTable(factor, -MOST_AWAY, MOST_AWAY) : codeTable(factor);
  };
  const [roots, factors] = [of(1 / 2.4), of(1)];
  const table = new Float32Array(2 * roots.length);
  table.set(roots);
  table.set(factors, roots.length);
  return table;
}

/** Encoded values, 0..65535 and beyond, whose light by the curve of sRGB (IEC 61966-2-1) is multiplied by factors, laid over others.
 * @param encoding - From light to encoded values, see `logTable`.
 * @param out - Overwritten; may be either of the others. */
export function gainEncoded(
  gains: Gains,
  encoding: Float32Array,
  values: RgbFloats,
  below: RgbFloats,
  through: Through,
  out: RgbFloats,
): void {
  const { table, codes, base } = gains;
  const factors = table.subarray(knotsOf(gains));
  const codeAt = (of: Uint16Array | number, i: number) => (typeof of === 'number' ? of : of[i]);
  for (let i = 0; i < out[0].length; i++) {
    let place = codeAt(codes, i);
    if (base !== undefined) place = MOST_AWAY + Math.min(MOST_AWAY, Math.max(-MOST_AWAY, place - codeAt(base, i)));
    const factor = factorAt(factors, place);
    for (const channel of [0, 1, 2] as const) {
      const made = tabledLight(encoding, factor * lightOf(values[channel][i] / 65535));
      out[channel][i] = below[channel][i] + (made - below[channel][i]) * weightAt(through, i);
    }
  }
}

const SAMPLE_ENCODING = logTable((light) =>
  light <= 0.0031308 ? 65535 * 12.92 * light : 65535 * (1.055 * light ** (1 / 2.4) - 0.055),
);
export const encodingOf = (make: { table(count: number, value: (i: number) => number): Float32Array }) =>
  make.table(SAMPLE_ENCODING.length, (i) => SAMPLE_ENCODING[i]);

export const mixMappedKernel = defineKernel(mixMapped)({
  compiled: ['mixMapped'],
  bind:
    ({ wasm }) =>
    (table, { unit, least }, values, below, through, out, from = 0) => {
      const [mask, weight] = throughOf(through);
      const at = address(values) + 4 * from;
      wasm.mixMapped(address(table), unit, least, at, address(below), mask, weight, address(out), out.length);
    },
  samples: {
    'light encoded and laid': (make) => [
      encodingOf(make),
      { unit: 1, least: Number.NEGATIVE_INFINITY },
      make.floats(16384),
      make.table(8192, () => make.number(-3000, 100_000)),
      { mask: make.samples(8192), opacity: 0.7 },
      make.floats(8192),
      8192,
    ],
    'encoded values through a table': (make) => [
      encodingOf(make),
      { unit: 1 / 65535, least: 0 },
      make.table(16384, () => make.number(-3000, 100_000)),
      make.floats(),
      ALONE,
      make.floats(),
    ],
  },
  // Of 65,535.
  floats: 0.03,
});

export const gainEncodedKernel = defineKernel(gainEncoded)({
  compiled: ['gainEncoded'],
  bind:
    ({ wasm }) =>
    (gains, encoding, values, below, through, out) => {
      const { table, codes, base } = gains;
      const [plane, value] = planeOrValue(codes);
      const [under, even] = planeOrValue(base ?? 0);
      const [mask, weight] = throughOf(through);
      const most = base === undefined ? 0 : MOST_AWAY;
      const [red, green, blue] = values;
      const [r, g, b] = below;
      const by = [address(table), 4 * knotsOf(gains), address(encoding), plane, value, under, even, most] as const;
      const from = [address(red), address(green), address(blue), address(r), address(g), address(b)] as const;
      wasm.gainEncoded(
        ...by,
        ...from,
        ...[mask, weight, address(out[0]), address(out[1]), address(out[2]), out[0].length],
      );
    },
  samples: {
    'encoded gains by codes': (make) => {
      const made = gainTable((code) => -4 + code / 8192, false);
      const table = make.table(made.length, (i) => made[i]);
      const plane = () => make.table(16384, () => make.number(-600, 1) + make.number(0, 1) ** 4 * 100_000);
      return [
        { table, codes: make.samples() },
        encodingOf(make),
        [plane(), plane(), plane()],
        [plane(), plane(), plane()],
        { mask: make.samples(), opacity: 0.8 },
        [make.floats(), make.floats(), make.floats()],
      ];
    },
    'encoded gains by detail': (make) => {
      const made = gainTable((away) => away / 8192, true);
      const table = make.table(made.length, (i) => made[i]);
      const plane = () => make.table(8192, () => make.number(0, 70_000));
      return [
        { table, codes: make.samples(8192), base: make.samples(8192) },
        encodingOf(make),
        [plane(), plane(), plane()],
        [plane(), plane(), plane()],
        ALONE,
        [make.floats(8192), make.floats(8192), make.floats(8192)],
      ];
    },
  },
  // Of 65,535: roots and factors lie on lines of their own between knots.
  floats: 0.8,
});
