import type Vips from 'wasm-vips';
import { srgbProfile } from '#core/color/assumedProfile.ts';
import type { Curve, IccProfile } from '#core/color/iccProfile.ts';
import { encodeFloats, spaceHolding } from '#core/color/toWorking.ts';
import type { WorkingSpace } from '#core/color/workingSpace.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import type { ReadingWish } from '#core/reading.ts';
import { headroomFor, planColours, planGrey, type SampleMap } from './colourPlan.ts';
import { DecodeError } from './decodeError.ts';
import { type Keep, profilePath, type VipsModule } from './vipsModule.ts';

/** How the rows of an opened picture are read and come into a working space. */
export interface RowPlan {
  /** Opens the picture for one pass from top to bottom, with three bands. */
  open: () => Vips.Image;
  /** Bytes of a pixel as the library hands it out. */
  pixelBytes: number;
  /** Bits of a sample after conversion. */
  bits: 8 | 16;
  headroom: number;
  space: WorkingSpace;
  /** Whole pixels to the space. The answer may be the array given, and is not to be kept. */
  convert: (pixels: Uint8Array) => Uint8Array;
}

/** Plans how a picture is read.
 * @throws {DecodeError} `unsupported` for samples and colours of kinds that frames cannot have. */
export function planRows(
  vips: VipsModule,
  image: Vips.Image,
  open: () => Vips.Image,
  embedded: IccProfile | undefined,
  reading: ReadingWish,
  keep: Keep,
): RowPlan {
  const { interpretation, format } = image;
  const managed = embedded?.kind === 'table' || embedded?.kind === 'other';
  const isGrey = image.bands < 3;
  if (interpretation === 'lab' || interpretation === 'labs' || (interpretation === 'cmyk' && !managed))
    throw new DecodeError('unsupported', `${interpretation} colours without a profile`);
  if (format === 'float' || format === 'double') return planFloats(open, embedded, reading, keep);
  if (format !== 'uchar' && format !== 'ushort') throw new DecodeError('unsupported', `samples of type ${format}`);
  const bits = format === 'uchar' ? 8 : 16;
  const plain = { pixelBytes: (3 * bits) / 8, bits, headroom: 0, convert: (pixels: Uint8Array) => pixels } as const;
  if (managed) {
    // Nobody knows how far tables reach before they have been looked up.
    const space = reading.space === 'fitting' ? (isGrey ? 'srgb' : 'bt2020') : reading.space;
    const output = profilePath(vips, space, writeProfile);
    const deep = space === 'bt2020' ? 16 : bits; // eight bits are too few for so many colours
    return {
      ...plain,
      space,
      bits: deep,
      pixelBytes: (3 * deep) / 8,
      // Tables are for a colour management library: relative to white, black to black, as printers and editors do.
      open: () =>
        threeBands(
          keep(
            open().iccTransform(output, {
              embedded: true,
              depth: deep,
              intent: 'relative',
              black_point_compensation: true,
            }),
          ),
          keep,
        ),
    };
  }
  const scale = sampleScale(image, bits);
  const highest = () => (threeBands(open(), keep).max() * (scale ?? 1)) / (bits === 8 ? 255 : 65535);
  const colours = isGrey ? planGrey(embedded, reading) : planColours(embedded, reading, highest);
  const { space, map, headroom } = colours;
  const rows = { ...plain, space, headroom, open: () => threeBands(open(), keep) };
  if (!map && !scale) return rows;
  return { ...rows, bits: 16, convert: (pixels) => bytesOf(mapSamples(samplesOf(pixels, bits), scale, map)) };
}

/** The factor that brings samples of 10 or 12 bits, which come shifted to the top of 16, to the full range. */
function sampleScale(image: Vips.Image, bits: 8 | 16): number | undefined {
  if (bits === 8 || image.getTypeof('bits-per-sample') === 0) return undefined;
  const fileBits = image.getInt('bits-per-sample');
  return fileBits > 8 && fileBits < 16 ? 65535 / (65536 - 2 ** (16 - fileBits)) : undefined;
}

function mapSamples(samples: Uint16Array, scale: number | undefined, map: SampleMap | undefined): Uint16Array {
  if (scale !== undefined) for (let i = 0; i < samples.length; i++) samples[i] = Math.round(samples[i] * scale);
  map?.(samples);
  return samples;
}

/** Samples of 16 bits. */
export function samplesOf(pixels: Uint8Array, bits: 8 | 16): Uint16Array {
  if (bits === 8) return Uint16Array.from(pixels, (value) => value * 257);
  return new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2);
}

export const bytesOf = (samples: Uint16Array) => new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);

/** Floats are linear light where no profile says otherwise. What is brighter than white is kept: the picture is darkened
 * by as many thirds of a stop as it takes, and the frame says so. */
function planFloats(open: () => Vips.Image, profile: IccProfile | undefined, wish: ReadingWish, keep: Keep): RowPlan {
  const floats = () => threeBands(keep(open().cast('float')), keep);
  const curves = profile?.kind === 'matrix' ? profile.curves : [identity, identity, identity];
  const brightest = floats().max();
  const light = Math.max(...curves.map((curve) => curve(brightest)));
  const headroom = headroomFor(light);
  const own = profile?.kind === 'matrix' ? profile : undefined;
  const space = wish.space === 'fitting' ? (own ? spaceHolding(own) : 'srgb') : wish.space;
  // Without a profile light is that of sRGB primaries, which needs no matrix as long as it stays there.
  const toXyz = own?.toXyz ?? (space === 'srgb' ? undefined : srgbProfile().toXyz);
  const isLinear = curves.every((curve) => Math.abs(curve(0.5) - 0.5) < 1e-4);
  return {
    open: floats,
    pixelBytes: 12,
    bits: 16,
    headroom,
    space,
    convert: (pixels) => {
      const from = new Float32Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 4);
      if (!isLinear) linearize(from, curves);
      const to = new Uint16Array(from.length);
      encodeFloats(space, from, to, toXyz, 2 ** -headroom);
      return bytesOf(to);
    },
  };
}

const identity: Curve = (x) => x;

function linearize(samples: Float32Array, curves: readonly Curve[]): void {
  for (let i = 0; i < samples.length; i++) samples[i] = curves[i % 3](samples[i]);
}

/** Alpha is dropped; grey becomes equal bands. */
function threeBands(image: Vips.Image, keep: Keep): Vips.Image {
  if (image.bands === 3) return image;
  if (image.bands > 3) return keep(image.extractBand(0, { n: 3 }));
  const grey = image.bands === 1 ? image : keep(image.extractBand(0));
  return keep(grey.bandjoin([grey, grey]));
}
