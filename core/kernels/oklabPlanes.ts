import { labFromLms, lmsFromLab } from '../color/oklab.ts';
import type { Matrix3 } from '../raster/matrix3.ts';
import { address, defineKernel } from './defineKernel.ts';

/** Linear light becomes lightness and the two axes of colour of Oklab, in place.
 * @param toLms - See `lmsMatrix`. */
export function toOklab(red: Float32Array, green: Float32Array, blue: Float32Array, toLms: Matrix3): void {
  const [a, b, c, d, e, f, g, h, i] = toLms;
  const lab = new Float64Array(3);
  for (let at = 0; at < red.length; at++) {
    const [r, s, t] = [red[at], green[at], blue[at]];
    lab[0] = a * r + b * s + c * t;
    lab[1] = d * r + e * s + f * t;
    lab[2] = g * r + h * s + i * t;
    labFromLms(lab);
    red[at] = lab[0];
    green[at] = lab[1];
    blue[at] = lab[2];
  }
}

/** The way back, in place.
 * @param toLight - The inverse of the matrix that led there. */
export function fromOklab(l: Float32Array, a: Float32Array, b: Float32Array, toLight: Matrix3): void {
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = toLight;
  const lab = new Float64Array(3);
  for (let at = 0; at < l.length; at++) {
    lab[0] = l[at];
    lab[1] = a[at];
    lab[2] = b[at];
    lmsFromLab(lab);
    const [x, y, z] = lab;
    l[at] = m0 * x + m1 * y + m2 * z;
    a[at] = m3 * x + m4 * y + m5 * z;
    b[at] = m6 * x + m7 * y + m8 * z;
  }
}

/** Of light whose cones see nearly the same, as sRGB's do. */
const SAMPLE: Matrix3 = [0.41, 0.54, 0.05, 0.21, 0.68, 0.11, 0.09, 0.28, 0.63];

export const toOklabKernel = defineKernel(toOklab)({
  compiled: ['toOklab'],
  bind:
    ({ wasm }) =>
    (red, green, blue, toLms) =>
      void wasm.toOklab(address(red), address(green), address(blue), red.length, ...toLms),
  samples: { 'to Oklab': (make) => [make.floats(), make.floats(), make.floats(), SAMPLE] },
  floats: 4e-6,
});

export const fromOklabKernel = defineKernel(fromOklab)({
  compiled: ['fromOklab'],
  bind:
    ({ wasm }) =>
    (l, a, b, toLight) =>
      void wasm.fromOklab(address(l), address(a), address(b), l.length, ...toLight),
  samples: { 'from Oklab': (make) => [make.floats(), make.floats(), make.floats(), SAMPLE] },
  floats: 4e-6,
});
