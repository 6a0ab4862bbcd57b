import { invert3, type Matrix3, multiply3, times3 } from '../raster/matrix3.ts';
import type { Curve, IccProfile } from './iccProfile.ts';
import { encodeSrgb } from './srgb.ts';
import { spaceToPcs, type WorkingSpace } from './workingSpace.ts';

const LEVELS = 65536;

/** Encoded values of linear light in steps of 1/65536, for straight lines between them: within 0.01/65535 of the curve. */
const ENCODED = Float32Array.from({ length: LEVELS + 1 }, (_, i) => encodeSrgb(i / LEVELS) * 65535);

/** The 16-bit value of linear light, by the curve of sRGB; what lies outside 0..1 is clipped. */
function encode16(linear: number): number {
  // A number that is none counts as black.
  const place = linear > 0 ? Math.min(1, linear) * LEVELS : 0;
  const left = Math.min(LEVELS - 1, Math.floor(place));
  return ENCODED[left] + (ENCODED[left + 1] - ENCODED[left]) * (place - left) + 0.5;
}

/** Turns interleaved 16-bit RGB into a working space, pixel by pixel. */
export type ToWorking = (from: Uint16Array, to: Uint16Array) => void;

/** Matrix from linear RGB of a profile to that of a working space, through the profile connection space. */
const matrixTo = (space: WorkingSpace, toXyz: Matrix3): Matrix3 => multiply3(invert3(spaceToPcs(space)), toXyz);

/** The colours of a matrix profile, relative to its white, in a working space (ICC.1:2022, annex F.3). */
export function profileTo(space: WorkingSpace, profile: IccProfile & { kind: 'matrix' }): ToWorking {
  return curvesTo(profile.curves, matrixTo(space, profile.toXyz));
}

/** The narrowest working space that holds nearly all colours of a profile. */
export function spaceHolding({ toXyz }: IccProfile & { kind: 'matrix' }): WorkingSpace {
  const matrix = matrixTo('srgb', toXyz);
  const reaches = [1, 2, 4].every((bits) =>
    times3(matrix, [bits & 1, (bits >> 1) & 1, bits >> 2]).every(
      (light) => light >= -SAME_LIGHT && light <= 1 + SAME_LIGHT,
    ),
  );
  return reaches ? 'srgb' : 'bt2020';
}

/** Linear light of a working space's primaries. */
export const encodeLight: ToWorking = (from, to) => {
  for (let i = 0; i < from.length; i++) to[i] = encode16(from[i] / 65535);
};

/** Linear light of a sensor's colours to the primaries of a working space.
 * @param matrix - From the ones to the others, row by row. */
export function sensorTo(matrix: Matrix3): ToWorking {
  const light: Curve = (value) => value;
  return curvesTo([light, light, light], matrix);
}

function curvesTo(curves: readonly [Curve, Curve, Curve], matrix: Matrix3): ToWorking {
  const [red, green, blue] = curves.map((curve) => Float32Array.from({ length: LEVELS }, (_, i) => curve(i / 65535)));
  const [a, b, c, d, e, f, g, h, i] = matrix;
  return (from, to) => {
    for (let at = 0; at < from.length; at += 3) {
      const [r, s, t] = [red[from[at]], green[from[at + 1]], blue[from[at + 2]]];
      to[at] = encode16(a * r + b * s + c * t);
      to[at + 1] = encode16(d * r + e * s + f * t);
      to[at + 2] = encode16(g * r + h * s + i * t);
    }
  };
}

/** One channel of a grey profile as grey of a working space. */
export function greyLevels(curve: Curve): Uint16Array {
  return Uint16Array.from({ length: LEVELS }, (_, i) => encode16(curve(i / 65535)));
}

/** Linear light in floats, 1 for white, to 16 bits of a working space.
 * @param toXyz - Matrix to the profile connection space; undefined for the primaries of the space itself.
 * @param gain - Factor on the light. */
export function encodeFloats(
  space: WorkingSpace,
  from: Float32Array,
  to: Uint16Array,
  toXyz: Matrix3 | undefined,
  gain: number,
): void {
  const matrix = toXyz ? matrixTo(space, toXyz) : [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const [a, b, c, d, e, f, g, h, i] = matrix.map((value) => value * gain);
  for (let at = 0; at < from.length; at += 3) {
    const [r, s, t] = [from[at], from[at + 1], from[at + 2]];
    to[at] = encode16(a * r + b * s + c * t);
    to[at + 1] = encode16(d * r + e * s + f * t);
    to[at + 2] = encode16(g * r + h * s + i * t);
  }
}

/** Largest differences that a profile may have to sRGB to count as sRGB itself, since makers of such profiles rounded their
 * numbers differently: of encoded greys two levels of 255, and of the light of a full colour, of full scale. */
const SAME_GREY = 2 / 255;
const SAME_LIGHT = 0.004;

/** Whether a profile says sRGB, whatever its name: greys and full colours come out as they went in. */
export function isSrgb({ curves, toXyz }: IccProfile & { kind: 'matrix' }): boolean {
  const greys = Array.from({ length: 33 }, (_, i) => i / 32);
  const full = [1, 2, 3, 4, 5, 6, 7].map((bits) => [bits & 1, (bits >> 1) & 1, bits >> 2]);
  const matrix = matrixTo('srgb', toXyz);
  return (
    curves.every((curve) => greys.every((grey) => Math.abs(encodeSrgb(curve(grey)) - grey) <= SAME_GREY)) &&
    full.every((color) => times3(matrix, color).every((light, i) => Math.abs(light - color[i]) <= SAME_LIGHT))
  );
}
