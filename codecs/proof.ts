import { readIccProfile } from '#core/color/iccProfile.ts';
import { labOfLms, lmsMatrix } from '#core/color/oklab.ts';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import { betweenSpaces, type OutputSpace } from '#core/color/workingSpace.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import { times3 } from '#core/raster/matrix3.ts';
import { DecodeError } from './decodeError.ts';
import { profilePath, type VipsModule, vipsMessage } from './vipsModule.ts';

/** What a picture is looked at as: through a space of ours, or an ICC profile of the user's. */
export type ProofTarget = { space: OutputSpace } | { profile: Uint8Array };

export interface ProofOptions {
  /** The space that the picture is in. */
  from: OutputSpace;
  target: ProofTarget;
  /** How colours that the target has not are brought in (ICC.1:2022, 0.3 and 6.2). */
  intent: 'relative' | 'perceptual';
  /** Black becomes the target's black. */
  blackPoint: boolean;
}

/** A picture as the target shows it, encoded in the space that it came in, and where that has not its colour. */
export interface Proof {
  /** Interleaved RGB, 16 bits. */
  image: Uint16Array;
  /** 1 where the target has not the colour. */
  outside: Uint8Array<ArrayBuffer>;
}

/** A proof for a canvas. */
export interface DrawnProof {
  /** Four bytes a pixel, in the space of the canvas. */
  rgba: Uint8ClampedArray<ArrayBuffer>;
  outside: Uint8Array<ArrayBuffer>;
}

/** Distance in Oklab from which on a colour is another: about two just noticeable differences (common practice, no source). */
const OTHER = 0.02;
/** Codes that a way there and back may round by: no visible difference, even in the darks. */
const ROUNDED = 4;

let lights: Float32Array | undefined;
/** Linear light of all codes of 16 bits. */
const lightOfCodes = (): Float32Array =>
  (lights ??= Float32Array.from({ length: 65536 }, (_, code) => decodeSrgb(code / 65535)));

/** Shows how a picture will look elsewhere.
 * @param image - Interleaved RGB, 16 bits, encoded with the sRGB curve.
 * @throws {DecodeError} `unsupported` for a profile that is none, or cannot be computed. */
export function proofImage(
  vips: VipsModule,
  image: Uint16Array,
  size: { width: number; height: number },
  options: ProofOptions,
): Proof {
  const { from, target } = options;
  if ('space' in target) return throughSpace(image, from, target.space);
  const shown = throughProfile(vips, image, size, target.profile, options);
  // What a target has is a matter of its colours, not of how others are brought in: judged by the relative intent, and without making
  // room for its black (common practice, no source).
  const plain = { ...options, intent: 'relative', blackPoint: false } as const;
  const isPlain = options.intent === plain.intent && options.blackPoint === plain.blackPoint;
  const held = isPlain ? shown : throughProfile(vips, image, size, target.profile, plain);
  const black = options.blackPoint
    ? throughProfile(vips, new Uint16Array(3), { width: 1, height: 1 }, target.profile, plain)
    : undefined;
  return { image: shown, outside: differing(image, held, from, black) };
}

/** There and back through a space: what it does not hold is cut off channel by channel. */
function throughSpace(image: Uint16Array, from: OutputSpace, to: OutputSpace): Proof {
  const [there, back] = [betweenSpaces(from, to), betweenSpaces(to, from)];
  const light = lightOfCodes();
  const out = image.slice();
  const [r, g, b] = [0, 3, 6].map((row) => there.slice(row, row + 3));
  // Rounding of the matrices.
  const isCut = (value: number) => value < -1e-6 || value > 1 + 1e-6;
  for (let i = 0; i < image.length; i += 3) {
    const [x, y, z] = [light[image[i]], light[image[i + 1]], light[image[i + 2]]];
    const red = r[0] * x + r[1] * y + r[2] * z;
    const green = g[0] * x + g[1] * y + g[2] * z;
    const blue = b[0] * x + b[1] * y + b[2] * z;
    if (!isCut(red) && !isCut(green) && !isCut(blue)) continue;
    const cut = [red, green, blue].map((value) => Math.min(1, Math.max(0, value)));
    for (const [channel, value] of times3(back, cut).entries())
      out[i + channel] = Math.round(65535 * Math.min(1, Math.max(0, encodeSrgb(value))));
  }
  return { image: out, outside: differing(image, out, from) };
}

const PROOF_PATH = '/proof.icc';

/** There and back through a profile, by Little CMS in the general library. */
function throughProfile(
  vips: VipsModule,
  image: Uint16Array,
  { width, height }: { width: number; height: number },
  profile: Uint8Array,
  { from, intent, blackPoint }: ProofOptions,
): Uint16Array {
  if (!readIccProfile(profile)) throw new DecodeError('unsupported', 'the file is no ICC profile');
  vips.FS.writeFile(PROOF_PATH, profile);
  const own = profilePath(vips, from, writeProfile);
  const kept: { delete(): void }[] = [];
  const keep = <T extends { delete(): void }>(object: T): T => {
    kept.push(object);
    return object;
  };
  try {
    const plain = keep(vips.Image.newFromMemory(image, width, height, 3, vips.BandFormat.ushort));
    const marked = keep(plain.copy({ interpretation: 'rgb16' }));
    const bpc = { black_point_compensation: blackPoint };
    const there = keep(marked.iccTransform(PROOF_PATH, { input_profile: own, intent, depth: 16, ...bpc }));
    const back = keep(there.iccTransform(own, { input_profile: PROOF_PATH, intent: 'relative', depth: 16, ...bpc }));
    const bytes = back.writeToMemory();
    return new Uint16Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  } catch (error) {
    throw new DecodeError('unsupported', vipsMessage(error));
  } finally {
    for (const object of kept.reverse()) object.delete();
  }
}

/** Where two pictures have other colours.
 * @param black - What a target makes of black, if darker tones are lifted to it: they are there, only lighter. */
function differing(a: Uint16Array, b: Uint16Array, space: OutputSpace, black?: Uint16Array): Uint8Array<ArrayBuffer> {
  const matrix = lmsMatrix(space);
  const light = lightOfCodes();
  const labAt = (image: Uint16Array, i: number) =>
    labOfLms(times3(matrix, [light[image[i]], light[image[i + 1]], light[image[i + 2]]]));
  const darkest = black ? labAt(black, 0)[0] + OTHER : 0;
  const out = new Uint8Array(a.length / 3);
  for (let pixel = 0, i = 0; pixel < out.length; pixel++, i += 3) {
    const isRounded =
      Math.abs(a[i] - b[i]) <= ROUNDED &&
      Math.abs(a[i + 1] - b[i + 1]) <= ROUNDED &&
      Math.abs(a[i + 2] - b[i + 2]) <= ROUNDED;
    if (isRounded) continue;
    const [p, q] = [labAt(a, i), labAt(b, i)];
    const lighter = p[0] < darkest ? 0 : p[0] - q[0];
    out[pixel] = Math.hypot(lighter, p[1] - q[1], p[2] - q[2]) > OTHER ? 1 : 0;
  }
  return out;
}

/** A picture as bytes for a canvas of a space: red, green, blue, and 255.
 * @param image - Interleaved RGB, 16 bits, encoded with the sRGB curve. */
export function canvasBytes(image: Uint16Array, from: OutputSpace, to: OutputSpace): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray((image.length / 3) * 4).fill(255);
  if (from === to) {
    for (let i = 0, o = 0; i < image.length; i += 3, o += 4)
      for (let channel = 0; channel < 3; channel++) out[o + channel] = image[i + channel] / 257;
    return out;
  }
  const light = lightOfCodes();
  const matrix = betweenSpaces(from, to);
  const bytes = Uint8ClampedArray.from({ length: 65536 }, (_, code) => 255 * encodeSrgb(code / 65535));
  for (let i = 0, o = 0; i < image.length; i += 3, o += 4) {
    const [x, y, z] = [light[image[i]], light[image[i + 1]], light[image[i + 2]]];
    for (let channel = 0; channel < 3; channel++) {
      const value = matrix[3 * channel] * x + matrix[3 * channel + 1] * y + matrix[3 * channel + 2] * z;
      out[o + channel] = bytes[Math.round(65535 * Math.min(1, Math.max(0, value)))];
    }
  }
  return out;
}
