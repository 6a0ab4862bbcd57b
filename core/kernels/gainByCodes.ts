import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import type { RgbFloats } from './planes.ts';

/** Codes from one knot of a table of factors to the next, as bits. */
const SHIFT = 6;
/** Codes from one knot to the next. */
export const KNOT = 2 ** SHIFT;
/** Farthest that codes lie above others. */
export const MOST_AWAY = 16384;

/** Factors by 16-bit codes, tabled; between knots lie lines.
 * @param of - From a code, or from how far it lies above another.
 * @param first - The lowest, a multiple of 64.
 * @param last - The highest. */
export function codeTable(of: (code: number) => number, first = 0, last = 65536): Float32Array {
  const table = new Float32Array((last - first) / KNOT + 2);
  for (let knot = 0; knot < table.length; knot++) table[knot] = of(first + knot * KNOT);
  return table;
}

/** The factor of a code, counted from the table's first. */
export function factorAt(table: Float32Array, from: number): number {
  const knot = from >> SHIFT;
  return table[knot] + (table[knot + 1] - table[knot]) * ((from & (KNOT - 1)) / KNOT);
}

type Codes = Uint16Array | number;
const at = (codes: Codes, i: number): number => (typeof codes === 'number' ? codes : codes[i]);

/** Planes of light times factors by codes, in place. */
export function gainByCodes(table: Float32Array, codes: Codes, [red, green, blue]: RgbFloats): void {
  for (let i = 0; i < red.length; i++) {
    const gain = factorAt(table, at(codes, i));
    red[i] *= gain;
    green[i] *= gain;
    blue[i] *= gain;
  }
}

/** Planes of light times factors by how far codes lie above others, at most {@link MOST_AWAY} each way, in place.
 * @param table - From `-MOST_AWAY` to `MOST_AWAY`. */
export function gainByDetail(table: Float32Array, codes: Codes, base: Codes, [red, green, blue]: RgbFloats): void {
  for (let i = 0; i < red.length; i++) {
    const away = Math.min(MOST_AWAY, Math.max(-MOST_AWAY, at(codes, i) - at(base, i)));
    const gain = factorAt(table, away + MOST_AWAY);
    red[i] *= gain;
    green[i] *= gain;
    blue[i] *= gain;
  }
}

export const gainByCodesKernel = defineKernel(gainByCodes)({
  compiled: ['gainByCodes'],
  bind:
    ({ wasm }) =>
    (table, codes, [red, green, blue]) => {
      const [plane, value] = planeOrValue(codes);
      wasm.gainByCodes(address(table), plane, value, address(red), address(green), address(blue), red.length);
    },
  samples: {
    'gains by codes': (make) => [
      make.table(1026, (i) => 0.5 + i / 1026),
      make.samples(),
      [make.floats(), make.floats(), make.floats()],
    ],
  },
});

export const gainByDetailKernel = defineKernel(gainByDetail)({
  compiled: ['gainByDetail'],
  bind:
    ({ wasm }) =>
    (table, codes, base, [red, green, blue]) => {
      const [plane, value] = planeOrValue(codes);
      const [below, even] = planeOrValue(base);
      const gains = address(table);
      wasm.gainByDetail(gains, plane, value, below, even, address(red), address(green), address(blue), red.length);
    },
  samples: {
    'gains by detail': (make) => [
      make.table(514, (i) => 0.5 + i / 514),
      make.samples(),
      make.samples(),
      [make.floats(), make.floats(), make.floats()],
    ],
  },
});
