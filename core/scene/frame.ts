import { z } from 'zod';
import { FrameId } from '../ids.ts';
import { PLAIN_READING, Reading } from '../reading.ts';

/** What a camera wrote about a shot; null where it wrote nothing. */
export const Shot = z.strictObject({
  /** Seconds. */
  exposureTime: z.number().positive().nullable(),
  fNumber: z.number().positive().nullable(),
  iso: z.number().positive().nullable(),
  /** Local time as the camera wrote it, `2025-10-12T06:41:07.25`, fractions of a second where it knew them. */
  takenAt: z.string().nullable(),
  /** Brightness of the picture in stops against 1 s, f/1, ISO 100; higher is brighter. */
  ev: z.number().nullable(),
  /** The brightness was estimated from the pictures, since the camera wrote none. */
  estimated: z.boolean().default(false),
});
export type Shot = z.infer<typeof Shot>;

/** EXIF values that a frame hands on to what is made from it, under their names in the standard (Exif 2.32, CIPA DC-008,
 * tables 4 to 8). */
export const ExifValues = z.strictObject({
  Make: z.string().optional(),
  Model: z.string().optional(),
  LensModel: z.string().optional(),
  ExposureTime: z.number().positive().optional(),
  FNumber: z.number().positive().optional(),
  ISO: z.number().positive().optional(),
  DateTimeOriginal: z.string().optional(),
  ExposureBiasValue: z.number().optional(),
  FocalLength: z.number().positive().optional(),
  /** Degrees, north and east positive. */
  GPSLatitude: z.number().min(-90).max(90).optional(),
  GPSLongitude: z.number().min(-180).max(180).optional(),
  /** Metres above the sea. */
  GPSAltitude: z.number().optional(),
});
export type ExifValues = z.infer<typeof ExifValues>;

/** What a verdict on a placement goes by, with the figures that belong to it; see `core/align/alignment.ts`. */
export const VerdictReason = z.strictObject({
  code: z.enum([
    'nothing-found',
    'places-agree',
    'few-of-compared',
    'few-places',
    'low-agreement',
    'rival-motion',
    'corners-uncertain',
    'part-compared',
    'parts-disagree',
    'places-off',
    'halves-disagree',
    'former-base',
  ]),
  count: z.number().int().nonnegative().optional(),
  of: z.number().int().nonnegative().optional(),
  share: z.number().min(0).max(1).optional(),
  px: z.number().nonnegative().optional(),
  isChained: z.boolean().optional(),
});
export type VerdictReason = z.infer<typeof VerdictReason>;

/** How a frame lies in scene space. */
export const Placement = z.strictObject({
  /** Frame pixel to scene pixel, counted from the centre of the first, row by row. */
  matrix: z.array(z.number()).length(9),
  /** What kind of motion it is: found, or made by hand. */
  model: z.enum(['none', 'shift', 'similarity', 'perspective', 'hand']),
  /** What the search said of it; null for one made by hand. */
  verdict: z.enum(['good', 'look', 'failed']).nullable(),
  /** What the verdict goes by; null where nothing was said. */
  reason: VerdictReason.nullable(),
  residualPx: z.number().nonnegative().nullable(),
  agreement: z.number().min(0).max(1).nullable(),
  /** How sure the search was. */
  confidence: z.number().min(0).max(1).optional(),
  /** Stops by which it is brighter than the frame that it was placed on. */
  stops: z.number().nullable(),
});
export type Placement = z.infer<typeof Placement>;

/** How a placed frame is moved further from place to place: at the nodes of a grid over the scene, in pixels. */
export const LocalFit = z
  .strictObject({
    columns: z.number().int().min(2).max(100),
    rows: z.number().int().min(2).max(100),
    dx: z.array(z.number().min(-200).max(200)),
    dy: z.array(z.number().min(-200).max(200)),
  })
  .refine(
    ({ columns, rows, dx, dy }) => dx.length === columns * rows && dy.length === dx.length,
    'a grid of another size',
  );
export type LocalFit = z.infer<typeof LocalFit>;

export const Frame = z.strictObject({
  id: FrameId,
  file: z.strictObject({ sha256: z.string().length(64), name: z.string(), bytes: z.number().int().nonnegative() }),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  /** What the file's samples are; 32 are floats. */
  bits: z.union([z.literal(8), z.literal(16), z.literal(32)]),
  format: z.string().default(''),
  /** Name of the colour profile in the file, null for one without. */
  profile: z.string().nullable().default(null),
  reading: Reading.default(PLAIN_READING),
  /** Stops by which the picture was darkened on reading, to keep what is brighter than white. */
  headroom: z.number().nonnegative().default(0),
  shot: Shot,
  exif: ExifValues,
  /** Name of the moment that it belongs to; empty before frames are grouped. */
  moment: z.string().max(80).default(''),
  /** Whether it is wanted in the blend. */
  choice: z.enum(['pick', 'maybe', 'out']).default('pick'),
  /** A short name of the user's, empty for the frame's brightness or time. */
  label: z.string().max(40).default(''),
  /** Null: its pixels are the scene's. */
  placement: Placement.nullable().default(null),
  /** Whether the search leaves its placement alone. */
  locked: z.boolean().default(false),
  /** What is left where things stand at several distances, or moved in the wind; null: nothing is. */
  local: LocalFit.nullable().default(null),
  /** How it is developed: settings by kind of adjustment, in an order of their own. */
  develop: z.record(z.string().min(1).max(40), z.record(z.string(), z.json())).default({}),
  /** Whether its lens, noise and fringes are its own: those of all others are alike. */
  apart: z.boolean().default(false),
});
export type Frame = z.infer<typeof Frame>;

/** What a frame has a default for: as it comes from a plain file, wanted, in no moment yet, without a name of the user's. */
type Defaulted =
  | 'format'
  | 'profile'
  | 'reading'
  | 'headroom'
  | 'moment'
  | 'choice'
  | 'label'
  | 'placement'
  | 'locked'
  | 'local'
  | 'develop'
  | 'apart';

/** A frame as it comes from its file. */
export function newFrame(facts: Omit<Frame, Defaulted> & Partial<Frame>): Frame {
  return {
    format: '',
    profile: null,
    reading: PLAIN_READING,
    headroom: 0,
    moment: '',
    choice: 'pick',
    label: '',
    placement: null,
    locked: false,
    local: null,
    develop: {},
    apart: false,
    ...facts,
  };
}

/** Brightness of each frame in stops against the middle one; null for a frame without exposure data. */
export function relativeEvs(frames: readonly Frame[]): (number | null)[] {
  const known = frames
    .map((frame) => frame.shot.ev)
    .filter((ev) => ev !== null)
    .sort((a, b) => a - b);
  const middle = known[Math.floor((known.length - 1) / 2)] ?? 0;
  return frames.map(({ shot }) => (shot.ev === null ? null : shot.ev - middle));
}

/** Frames from dark to bright; those without exposure data keep their order at the end. */
export function byExposure(frames: readonly Frame[]): Frame[] {
  return [...frames].sort((a, b) => (a.shot.ev ?? Infinity) - (b.shot.ev ?? Infinity) || 0);
}

/** Brightness in stops from exposure settings: log2 of time x ISO / 100 / aperture squared; the negative of the exposure
 * value at ISO 100 of the APEX relations (Exif 2.32, CIPA DC-008, annex C). */
export function brightnessEv(exposureTime: number, fNumber: number, iso: number): number {
  return Math.log2((exposureTime * iso) / (100 * fNumber * fNumber));
}
