import { multiply3 } from '../raster/matrix3.ts';
import { toPcs } from './adaptation.ts';
import { hlgLight, pqLight } from './hdrCurves.ts';
import type { Curve, IccProfile } from './iccProfile.ts';
import { BT2020_PRIMARIES, type Primaries, rgbToXyz, SRGB_PRIMARIES } from './primaries.ts';
import { decodeSrgb } from './srgb.ts';

/** Colour spaces that a file without a profile may be taken to be in. */
export const ASSUMED_SPACES = ['srgb', 'display-p3', 'adobe-rgb', 'prophoto'] as const;
export type AssumedSpace = (typeof ASSUMED_SPACES)[number];

const D65 = SRGB_PRIMARIES.white;

/** SMPTE EG 432-1:2010, primaries of digital cinema with the white of televisions. */
export const P3_PRIMARIES: Primaries = {
  red: { x: 0.68, y: 0.32 },
  green: { x: 0.265, y: 0.69 },
  blue: { x: 0.15, y: 0.06 },
  white: D65,
};

/** IEC 61966-2-5:2007, opRGB: the wide primaries of 1998. */
export const OPRGB_PRIMARIES: Primaries = {
  red: { x: 0.64, y: 0.33 },
  green: { x: 0.21, y: 0.71 },
  blue: { x: 0.15, y: 0.06 },
  white: D65,
};

/** ISO 22028-2:2013, ROMM RGB, whose white is that of the profile connection space. */
const ROMM: Primaries = {
  red: { x: 0.7347, y: 0.2653 },
  green: { x: 0.1596, y: 0.8404 },
  blue: { x: 0.0366, y: 0.0001 },
  white: { x: 0.3457, y: 0.3585 },
};

/** 563/256, the number that profiles of the space carry. */
export const OPRGB_POWER = 2.19921875;
const ROMM_GAMMA = 1.8;
const ROMM_KNEE = 16 / 512;

const rommCurve: Curve = (x) => (x < ROMM_KNEE ? x / 16 : x ** ROMM_GAMMA);

/** What a file without a profile is read with; undefined for sRGB, which needs no conversion. */
export function assumedProfile(space: AssumedSpace): (IccProfile & { kind: 'matrix' }) | undefined {
  switch (space) {
    case 'display-p3':
      return profileFrom('Display P3', P3_PRIMARIES, decodeSrgb);
    case 'adobe-rgb':
      return profileFrom('Adobe RGB (1998)', OPRGB_PRIMARIES, (x) => x ** OPRGB_POWER);
    case 'prophoto':
      return profileFrom('ProPhoto RGB', ROMM, rommCurve);
    default:
      return undefined;
  }
}

/** Primaries by their code points (ITU-T H.273, table 2). */
const CODED_PRIMARIES: Record<number, [string, Primaries]> = {
  1: ['BT.709', SRGB_PRIMARIES],
  9: ['BT.2020', BT2020_PRIMARIES],
  12: ['P3', P3_PRIMARIES],
};

/** Transfer characteristics by their code points (ITU-T H.273, table 3). Those of television are shown like sRGB by all that
 * show pictures (common practice, no source), and are not listed. */
const CODED_CURVES: Record<number, Curve> = {
  4: (x) => x ** 2.2,
  5: (x) => x ** 2.8,
  8: (x) => x,
  16: pqLight,
  18: hlgLight,
};

/** Those that tell of light above white come with these primaries, unless a file says otherwise (ITU-R BT.2100-2, table 2). */
const BRIGHT_CURVES = [16, 18];
const BRIGHT_PRIMARIES = 9;

/** sRGB itself, for what is to become something else. */
export const srgbProfile = (): IccProfile & { kind: 'matrix' } => profileFrom('sRGB', SRGB_PRIMARIES, decodeSrgb);

/** The profile that code points in a file stand for; undefined for primaries that are not known, or not said. */
export function codedProfile(primaries: number, transfer: number): (IccProfile & { kind: 'matrix' }) | undefined {
  const code = BRIGHT_CURVES.includes(transfer) && !(primaries in CODED_PRIMARIES) ? BRIGHT_PRIMARIES : primaries;
  const [name, found] = CODED_PRIMARIES[code] ?? [];
  return name && found ? profileFrom(name, found, CODED_CURVES[transfer] ?? decodeSrgb) : undefined;
}

function profileFrom(name: string, primaries: Primaries, curve: Curve): IccProfile & { kind: 'matrix' } {
  const toXyz = multiply3(toPcs(primaries.white), rgbToXyz(primaries));
  return { name, kind: 'matrix', curves: [curve, curve, curve], toXyz };
}
