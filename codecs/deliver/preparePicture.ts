import type Vips from 'wasm-vips';
import { luminanceWeights } from '#core/color/primaries.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import { FILE_CURVES, type OutputSpace, primariesOf } from '#core/color/workingSpace.ts';
import type { Size } from '#core/raster/size.ts';
import type { Keep, VipsModule } from '../vipsModule.ts';
import type { SampleKind } from './defineFormat.ts';
import { noiseOver } from './dither.ts';
import type { RowKind } from './rowSource.ts';

/** A picture is sharpened after scaling by adding what its tone has beyond its own blur: `v + amount (Y - blur(Y))`, the same for
 * all channels, so that no colour changes, in encoded values (the usual unsharp mask; strengths: common practice, no source). */
export const SHARPENINGS = {
  screen: { sigma: 0.6, amounts: [0, 0.3, 0.6, 1] },
  print: { sigma: 1, amounts: [0, 0.5, 0.9, 1.4] },
} as const;

export interface Preparation {
  /** As it is written. */
  size: Size;
  sharpening: { for: keyof typeof SHARPENINGS; amount: number };
  /** The space that the picture comes in. */
  space: OutputSpace;
  /** A profile that it is converted to. */
  own?: { path: string; from: string; intent: 'relative' | 'perceptual'; blackPoint: boolean };
  samples: SampleKind;
  dither: boolean;
}

/** Readies a picture for a file: scaled in light, sharpened, in the curve or the profile of the file, in as many levels as that has.
 * What needs none of it goes through as it is.
 * @param image - Of 16 bits, encoded with the curve of sRGB, or of light in floats. */
export function preparePicture(
  vips: VipsModule,
  image: Vips.Image,
  kind: RowKind,
  preparation: Preparation,
  keep: Keep,
): Vips.Image {
  const { samples, size } = preparation;
  if (kind === 'light') return scaled(image, size, keep);
  const worked = shaped(vips, image, preparation, keep);
  const profiled = preparation.own ? through(worked, preparation.own, keep) : worked;
  if (samples === 16 || samples === 'light') return profiled.format === 'ushort' ? profiled : rounded(profiled, keep);
  return inLevels(vips, profiled, samples, preparation.dither, keep);
}

/** Scales, sharpens and encodes: codes of 0..65535, in floats where anything was done. */
function shaped(vips: VipsModule, image: Vips.Image, { size, sharpening, space }: Preparation, keep: Keep): Vips.Image {
  const isScaled = image.width !== size.width || image.height !== size.height;
  const curve = FILE_CURVES[space];
  const { sigma, amounts } = SHARPENINGS[sharpening.for];
  const amount = amounts[sharpening.amount];
  let codes = image;
  if (isScaled) codes = encode(scaled(keep(image.maplut(table(vips, DECODED, keep))), size, keep), curve, keep);
  else if (curve !== 'srgb') codes = keep(image.maplut(table(vips, recoded(curve.power), keep)));
  if (amount === 0) return codes;
  const weights = luminanceWeights(primariesOf(space));
  const tone = keep(codes.recomb(keep(vips.Image.newFromArray(weights))));
  const blurred = keep(tone.gaussblur(sigma, { min_ampl: 0.01, precision: 'float' }));
  const detail = keep(keep(tone.subtract(blurred)).linear(amount, 0));
  return keep(codes.add(detail));
}

/** Lanczos with three lobes, without a coarser step before it. */
function scaled(light: Vips.Image, { width, height }: Size, keep: Keep): Vips.Image {
  if (light.width === width && light.height === height) return light;
  const small = light.resize(width / light.width, { vscale: height / light.height, kernel: 'lanczos3', gap: 0 });
  return keep(small);
}

function encode(light: Vips.Image, curve: 'srgb' | { power: number }, keep: Keep): Vips.Image {
  if (curve !== 'srgb') {
    const positive = keep(keep(light.moreEq(0)).ifthenelse(light, 0));
    return keep(keep(positive.pow(1 / curve.power)).linear(65535, 0));
  }
  // Constants of the standard, see `encodeSrgb`.
  const low = keep(light.linear(12.92 * 65535, 0));
  const high = keep(keep(light.pow(1 / 2.4)).linear(1.055 * 65535, -0.055 * 65535));
  return keep(keep(light.lessEq(0.0031308)).ifthenelse(low, high));
}

const DECODED = Float32Array.from({ length: 65536 }, (_, code) => decodeSrgb(code / 65535));

/** Codes of another curve, in floats, of codes of the curve of sRGB. */
const recoded = (power: number): Float32Array => Float32Array.from(DECODED, (light) => 65535 * light ** (1 / power));

const table = (vips: VipsModule, values: Float32Array, keep: Keep): Vips.Image =>
  keep(vips.Image.newFromMemory(values, 65536, 1, 1, vips.BandFormat.float));

function through(codes: Vips.Image, { path, from, intent, blackPoint }: NonNullable<Preparation['own']>, keep: Keep) {
  const marked = codes.format === 'ushort' ? codes : rounded(codes, keep);
  return keep(
    marked.iccTransform(path, {
      input_profile: from,
      intent,
      depth: 16,
      black_point_compensation: blackPoint,
    }),
  );
}

const rounded = (codes: Vips.Image, keep: Keep): Vips.Image =>
  keep(keep(keep(codes.rint()).cast('ushort')).copy({ interpretation: 'rgb16' }));

/** Levels of a few bits: each at its own place among codes of 16 bits, but for eight. */
function inLevels(vips: VipsModule, codes: Vips.Image, bits: 8 | 10 | 12, dither: boolean, keep: Keep): Vips.Image {
  const most = 2 ** bits - 1;
  const exact = keep(codes.linear(most / 65535, 0));
  const noisy = dither && bits === 8 ? keep(exact.add(noiseOver(vips, codes, keep))) : exact;
  const whole = keep(noisy.rint());
  if (bits === 8) return keep(keep(whole.cast('uchar')).copy({ interpretation: 'srgb' }));
  // The writer takes the upper bits.
  const shift = 2 ** (16 - bits);
  return keep(keep(keep(whole.linear(shift, 0)).cast('ushort')).copy({ interpretation: 'rgb16' }));
}
