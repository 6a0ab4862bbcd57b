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

/** A picture as the target shows it, encoded in the space that it came in, and where that is another colour. */
export interface Proof {
  /** Interleaved RGB, 16 bits. */
  image: Uint16Array;
  /** 1 where the target has not the colour. */
  outside: Uint8Array;
}

/** Distance in Oklab from which on a colour is another: about two just noticeable differences (common practice, no source). */
const OTHER = 0.02;

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
  const shown =
    'space' in target
      ? throughSpace(image, from, target.space)
      : throughProfile(vips, image, size, target.profile, options);
  return { image: shown, outside: differing(image, shown, from) };
}

/** There and back through a space: what it does not hold is cut off channel by channel. */
function throughSpace(image: Uint16Array, from: OutputSpace, to: OutputSpace): Uint16Array {
  const [there, back] = [betweenSpaces(from, to), betweenSpaces(to, from)];
  const out = new Uint16Array(image.length);
  for (let i = 0; i < image.length; i += 3) {
    const light = [0, 1, 2].map((channel) => decodeSrgb(image[i + channel] / 65535));
    const cut = times3(there, light).map((value) => Math.min(1, Math.max(0, value)));
    for (const [channel, value] of times3(back, cut).entries())
      out[i + channel] = Math.round(65535 * Math.min(1, Math.max(0, encodeSrgb(value))));
  }
  return out;
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

function differing(a: Uint16Array, b: Uint16Array, space: OutputSpace): Uint8Array {
  const matrix = lmsMatrix(space);
  const labAt = (image: Uint16Array, i: number) =>
    labOfLms(
      times3(
        matrix,
        [0, 1, 2].map((channel) => decodeSrgb(image[i + channel] / 65535)),
      ),
    );
  const out = new Uint8Array(a.length / 3);
  for (let pixel = 0; pixel < out.length; pixel++) {
    const i = 3 * pixel;
    if (a[i] === b[i] && a[i + 1] === b[i + 1] && a[i + 2] === b[i + 2]) continue;
    const [p, q] = [labAt(a, i), labAt(b, i)];
    out[pixel] = Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) > OTHER ? 1 : 0;
  }
  return out;
}
