import { invert3, type Matrix3, multiply3 } from '../raster/matrix3.ts';
import { toPcs } from './adaptation.ts';
import { OPRGB_POWER, OPRGB_PRIMARIES, P3_PRIMARIES } from './assumedProfile.ts';
import { BT2020_PRIMARIES, luminanceWeights, type Primaries, rgbToXyz, SRGB_PRIMARIES } from './primaries.ts';

/** Spaces in which a scene's pixels are kept, both encoded with the sRGB curve. */
export type WorkingSpace = 'srgb' | 'bt2020';

/** Spaces that pictures are shown and written in, likewise encoded with the sRGB curve until a file is written: see `FILE_CURVES`. */
export const OUTPUT_SPACES = ['srgb', 'display-p3', 'bt2020', 'oprgb'] as const;
export type OutputSpace = (typeof OUTPUT_SPACES)[number];

const PRIMARIES: Record<OutputSpace, Primaries> = {
  srgb: SRGB_PRIMARIES,
  'display-p3': P3_PRIMARIES,
  bt2020: BT2020_PRIMARIES,
  oprgb: OPRGB_PRIMARIES,
};

/** Curves that spaces have in files: that of sRGB, or a plain power. */
export const FILE_CURVES: Record<OutputSpace, 'srgb' | { power: number }> = {
  srgb: 'srgb',
  'display-p3': 'srgb',
  bt2020: 'srgb',
  oprgb: { power: OPRGB_POWER },
};

export const primariesOf = (space: OutputSpace): Primaries => PRIMARIES[space];

/** Weights with which a tone is read from encoded red, green and blue. */
export function toneWeights(space: WorkingSpace): [number, number, number] {
  return luminanceWeights(PRIMARIES[space]);
}

/** Matrix from linear RGB of one space to that of another; all have the same white. */
export function betweenSpaces(from: OutputSpace, to: OutputSpace): Matrix3 {
  return multiply3(invert3(rgbToXyz(PRIMARIES[to])), rgbToXyz(PRIMARIES[from]));
}

/** Matrix from linear RGB of a space to XYZ of the profile connection space of ICC profiles, D50. */
export function spaceToPcs(space: OutputSpace): Matrix3 {
  return multiply3(toPcs(PRIMARIES[space].white), rgbToXyz(PRIMARIES[space]));
}
