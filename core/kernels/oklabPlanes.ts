import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import { address, defineKernel } from './defineKernel.ts';
import type { RgbFloats } from './planes.ts';

/** From cube roots of Oklab's cones to lightness and two axes of colour: see `core/color/oklab.ts`. */
export const ROOTS_TO_LAB: Matrix3 = [
  0.210454268309314, 0.7936177747023054, -0.0040720430116193, 1.9779985324311684, -2.4285922420485799,
  0.450593709617411, 0.0259040424655478, 0.7827717124575296, -0.8086757549230774,
];
const LAB_TO_ROOTS = invert3(ROOTS_TO_LAB);

/** Three planes through a matrix, something done to each number, and another matrix, in place. */
function through(
  [first, second, third]: readonly [Float32Array, Float32Array, Float32Array],
  before: Matrix3,
  each: (value: number) => number,
  after: Matrix3,
): void {
  const [a, b, c, d, e, f, g, h, i] = before;
  const [j, k, l, m, n, o, p, q, r] = after;
  for (let at = 0; at < first.length; at++) {
    const x = first[at];
    const y = second[at];
    const z = third[at];
    const u = each(a * x + b * y + c * z);
    const v = each(d * x + e * y + f * z);
    const w = each(g * x + h * y + i * z);
    first[at] = j * u + k * v + l * w;
    second[at] = m * u + n * v + o * w;
    third[at] = p * u + q * v + r * w;
  }
}

/** Linear light becomes lightness and the two axes of colour of Oklab, in place.
 * @param toLms - See `lmsMatrix`. */
export function toOklab(red: Float32Array, green: Float32Array, blue: Float32Array, toLms: Matrix3): void {
  through([red, green, blue], toLms, Math.cbrt, ROOTS_TO_LAB);
}

/** Lightness of Oklab alone.
 * @param out - Overwritten; may be one of the planes. */
export function lightnessOfLight([red, green, blue]: RgbFloats, toLms: Matrix3, out: Float32Array): void {
  const [a, b, c, d, e, f, g, h, i] = toLms;
  const [l, m, s] = ROOTS_TO_LAB;
  for (let at = 0; at < out.length; at++) {
    const [r, t, u] = [red[at], green[at], blue[at]];
    const [first, second] = [Math.cbrt(a * r + b * t + c * u), Math.cbrt(d * r + e * t + f * u)];
    out[at] = l * first + m * second + s * Math.cbrt(g * r + h * t + i * u);
  }
}

/** The way back, in place.
 * @param toLight - The inverse of the matrix that led there. */
export function fromOklab(l: Float32Array, a: Float32Array, b: Float32Array, toLight: Matrix3): void {
  through([l, a, b], LAB_TO_ROOTS, (root) => root ** 3, toLight);
}

/** Of light whose cones see nearly the same, as sRGB's do. */
const SAMPLE_CONES: Matrix3 = [0.41, 0.54, 0.05, 0.21, 0.68, 0.11, 0.09, 0.28, 0.63];

export const toOklabKernel = defineKernel(toOklab)({
  compiled: ['toOklab'],
  bind:
    ({ wasm }) =>
    (red, green, blue, toLms) =>
      void wasm.toOklab(address(red), address(green), address(blue), red.length, ...toLms),
  samples: { 'to Oklab': (make) => [make.floats(), make.floats(), make.floats(), SAMPLE_CONES] },
  floats: 4e-6,
});

export const lightnessOfLightKernel = defineKernel(lightnessOfLight)({
  compiled: ['lightnessOfLight'],
  bind:
    ({ wasm }) =>
    ([red, green, blue], toLms, out) =>
      void wasm.lightnessOfLight(address(red), address(green), address(blue), address(out), out.length, ...toLms),
  samples: {
    'lightness of light': (make) => [[make.floats(), make.floats(), make.floats()], SAMPLE_CONES, make.floats()],
  },
  floats: 4e-6,
});

export const fromOklabKernel = defineKernel(fromOklab)({
  compiled: ['fromOklab'],
  bind:
    ({ wasm }) =>
    (l, a, b, toLight) =>
      void wasm.fromOklab(address(l), address(a), address(b), l.length, ...toLight),
  samples: { 'from Oklab': (make) => [make.floats(), make.floats(), make.floats(), SAMPLE_CONES] },
  floats: 4e-6,
});
