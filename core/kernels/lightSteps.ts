import type { Matrix3 } from '../raster/matrix3.ts';
import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import { logTable, tabledLight } from './logTable.ts';
import type { RgbFloats } from './planes.ts';

type Weights = readonly [number, number, number];

/** A plane times a factor.
 * @param out - Overwritten; may be the plane itself. */
export function scaleFloats(plane: Float32Array, by: number, out: Float32Array): void {
  for (let at = 0; at < plane.length; at++) out[at] = plane[at] * by;
}

/** Planes of light through a matrix, row by row, in place. */
export function mixChannels([red, green, blue]: RgbFloats, matrix: Matrix3): void {
  const [a, b, c, d, e, f, g, h, i] = matrix;
  for (let at = 0; at < red.length; at++) {
    const r = red[at];
    const s = green[at];
    const t = blue[at];
    red[at] = a * r + b * s + c * t;
    green[at] = d * r + e * s + f * t;
    blue[at] = g * r + h * s + i * t;
  }
}

/** A plane of light through a table.
 * @param table - See `logTable`.
 * @param out - Overwritten; may be the plane itself.
 * @param least - Light below it counts as that.
 * @param from - The first sample that is read; as many as `out` holds are. */
export function mapLight(table: Float32Array, plane: Float32Array, out: Float32Array, least: number, from = 0): void {
  for (let at = 0; at < out.length; at++) out[at] = tabledLight(table, Math.max(least, plane[from + at]));
}

/** Planes of light times what a table makes of their weighed sum, in place. */
export function gainByLight(table: Float32Array, [wr, wg, wb]: Weights, [red, green, blue]: RgbFloats): void {
  for (let at = 0; at < red.length; at++) {
    const by = tabledLight(table, wr * red[at] + wg * green[at] + wb * blue[at]);
    red[at] *= by;
    green[at] *= by;
    blue[at] *= by;
  }
}

/** What a table makes of the weighed sum of planes of light, cut and rounded to 16 bits. */
export function codesOfLight(
  table: Float32Array,
  [wr, wg, wb]: Weights,
  [red, green, blue]: RgbFloats,
  out: Uint16Array,
): void {
  for (let at = 0; at < out.length; at++) {
    const code = tabledLight(table, wr * red[at] + wg * green[at] + wb * blue[at]);
    out[at] = Math.min(65535, Math.max(0, code + 0.5));
  }
}

/** The least of three planes of light, each times a factor, cut and rounded to 16 bits. */
export function leastOfLight([red, green, blue]: RgbFloats, [fr, fg, fb]: Weights, out: Uint16Array): void {
  for (let at = 0; at < out.length; at++) {
    const least = Math.min(fr * red[at], fg * green[at], fb * blue[at]);
    out[at] = Math.min(65535, Math.max(0, least + 0.5));
  }
}

/** How a veil changes light: by `1 - amount x (near + thick x thickness)`, which comes through it. */
export interface VeilShares {
  /** Above 0 the veil goes: light is divided by what comes through, at least `least`. Below 0 it is laid, and less comes through. */
  amount: number;
  thick: number;
  near: number;
  least: number;
  /** Light of the veil. */
  veil: Weights;
}

/** Light through a veil whose thickness is told by codes, in place.
 * @param codes - A plane, or the one that it is throughout. */
export function lightThroughVeil(
  codes: Uint16Array | number,
  { amount, thick, near, least, veil }: VeilShares,
  light: RgbFloats,
): void {
  for (let at = 0; at < light[0].length; at++) {
    const thickness = (typeof codes === 'number' ? codes : codes[at]) / 65535;
    const change = amount * (near + thick * thickness);
    const gain = amount >= 0 ? 1 / Math.max(least, 1 - change) : 1 + change;
    for (const channel of [0, 1, 2] as const)
      light[channel][at] = light[channel][at] * gain + veil[channel] * (1 - gain);
  }
}

/** Light of an encoded value, by the curve of sRGB (IEC 61966-2-1); below black the line that it is there. */
export const lightOf = (encoded: number): number =>
  encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;

/** Encoded floats, 0..65535 and beyond, to light: by the curve of sRGB (IEC 61966-2-1), which goes on below black as the line that it is
 * there, and above white as it is.
 * @param out - Overwritten from sample `to` on; not the values themselves. */
export function linearizeFloats(values: Float32Array, out: Float32Array, to = 0): void {
  for (let at = 0; at < values.length; at++) out[to + at] = lightOf(values[at] / 65535);
}

const SAMPLE_TABLE = logTable((light) => Math.sqrt(light) + 0.1);
const tableOf = (make: { table(count: number, value: (i: number) => number): Float32Array }) =>
  make.table(SAMPLE_TABLE.length, (i) => SAMPLE_TABLE[i]);

export const scaleFloatsKernel = defineKernel(scaleFloats)({
  compiled: ['scaleFloats'],
  bind:
    ({ wasm }) =>
    (plane, by, out) =>
      void wasm.scaleFloats(address(plane), by, address(out), plane.length),
  samples: { 'floats times a factor': (make) => [make.floats(), 0.3, make.floats()] },
});

export const mixChannelsKernel = defineKernel(mixChannels)({
  compiled: ['mixChannels'],
  bind:
    ({ wasm }) =>
    ([red, green, blue], matrix) =>
      void wasm.mixChannels(address(red), address(green), address(blue), red.length, ...matrix),
  samples: {
    'mixing channels': (make) => [
      [make.floats(), make.floats(), make.floats()],
      [0.8, 0.1, -0.05, 0.2, 0.7, 0.1, 0, -0.1, 1.2],
    ],
  },
});

export const mapLightKernel = defineKernel(mapLight)({
  compiled: ['mapLight'],
  bind:
    ({ wasm }) =>
    (table, plane, out, least, from = 0) =>
      void wasm.mapLight(address(table), least, address(plane) + 4 * from, address(out), out.length),
  samples: {
    'light through a table': (make) => [tableOf(make), make.floats(), make.floats(), 0],
    'half of light through a table': (make) => [tableOf(make), make.floats(16384), make.floats(8192), 0, 8192],
  },
});

export const gainByLightKernel = defineKernel(gainByLight)({
  compiled: ['gainByLight'],
  bind:
    ({ wasm }) =>
    (table, [wr, wg, wb], [red, green, blue]) =>
      void wasm.gainByLight(address(table), wr, wg, wb, address(red), address(green), address(blue), red.length),
  samples: {
    'gains by light': (make) => [tableOf(make), [0.2, 0.7, 0.1], [make.floats(), make.floats(), make.floats()]],
  },
});

export const codesOfLightKernel = defineKernel(codesOfLight)({
  compiled: ['codesOfLight'],
  bind:
    ({ wasm }) =>
    (table, [wr, wg, wb], [red, green, blue], out) => {
      const codes = address(out);
      wasm.codesOfLight(address(table), wr, wg, wb, address(red), address(green), address(blue), codes, out.length);
    },
  samples: {
    'codes of light': (make) => [
      make.table(SAMPLE_TABLE.length, (i) => 60000 * SAMPLE_TABLE[i]),
      [0.2, 0.7, 0.1],
      [make.floats(), make.floats(), make.floats()],
      make.samples(),
    ],
  },
  steps: 1,
});

export const leastOfLightKernel = defineKernel(leastOfLight)({
  compiled: ['leastOfLight'],
  bind:
    ({ wasm }) =>
    ([red, green, blue], [fr, fg, fb], out) =>
      void wasm.leastOfLight(address(red), address(green), address(blue), fr, fg, fb, address(out), out.length),
  samples: {
    'least of light': (make) => [[make.floats(), make.floats(), make.floats()], [70000, 80000, 90000], make.samples()],
  },
  steps: 1,
});

export const lightThroughVeilKernel = defineKernel(lightThroughVeil)({
  compiled: ['lightThroughVeil'],
  bind:
    ({ wasm }) =>
    (codes, { amount, thick, near, least, veil }, [red, green, blue]) => {
      const [plane, value] = planeOrValue(codes);
      wasm.lightThroughVeil(
        plane,
        value,
        amount,
        thick,
        near,
        least,
        veil[0],
        veil[1],
        veil[2],
        address(red),
        address(green),
        address(blue),
        red.length,
      );
    },
  samples: {
    'light through a veil': (make) => [
      make.samples(),
      { amount: 0.6, thick: 0.95, near: 0, least: 0.1, veil: [0.7, 0.75, 0.8] },
      [make.floats(), make.floats(), make.floats()],
    ],
    'a veil laid': (make) => [
      make.samples(),
      { amount: -0.5, thick: 0.7, near: 0.3, least: 0.1, veil: [0.7, 0.75, 0.8] },
      [make.floats(), make.floats(), make.floats()],
    ],
  },
});

export const linearizeFloatsKernel = defineKernel(linearizeFloats)({
  compiled: ['linearizeFloats'],
  bind:
    ({ wasm }) =>
    (values, out, to = 0) =>
      void wasm.linearizeFloats(address(values), address(out) + 4 * to, values.length),
  samples: {
    'floats to half of linear light': (make) => [make.table(8192, () => make.number(0, 80_000)), make.floats(), 8192],
    'floats to linear light': (make) => [make.table(16384, () => make.number(-3000, 100_000)), make.floats()],
  },
  // Of light up to 2.7 of white.
  floats: 2e-6,
});
