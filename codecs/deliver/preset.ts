import { z } from 'zod';
import { OUTPUT_SPACES } from '#core/color/workingSpace.ts';
import { FileSettings, formatOf, restOf } from './formats/list.ts';
import { FULL_SIZE, OutputSize } from './outputSize.ts';

/** What a preset writes: the picture; its layers in one file; masks, or frames, a file each. */
export const DELIVERIES = ['picture', 'layers', 'masks', 'frames'] as const;
export type Delivery = (typeof DELIVERIES)[number];

/** A profile of the user's. */
export const OwnProfile = z.strictObject({ name: z.string().max(200), base64: z.string().max(8e6) });
export type OwnProfile = z.infer<typeof OwnProfile>;

/** How pictures are written, by a name of the user's. */
export const Preset = z.strictObject({
  version: z.literal(1),
  id: z.string().min(1).max(80),
  name: z.string().min(1).max(80),
  what: z.enum(DELIVERIES),
  file: FileSettings,
  /** How layers are kept: OpenRaster, or pages of a TIFF. */
  layersAs: z.enum(['ora', 'tiff']),
  size: OutputSize,
  /** For what it is sharpened after scaling, and how much: none, or three steps. */
  sharpening: z.strictObject({ for: z.enum(['screen', 'print']), amount: z.number().int().min(0).max(3) }),
  /** `scene`: that of the scene; `own`: that of `profile`. */
  space: z.enum([...OUTPUT_SPACES, 'scene', 'own']),
  profile: OwnProfile.nullable(),
  intent: z.enum(['relative', 'perceptual']),
  blackPoint: z.boolean(),
  /** Levels of eight bits are dithered. */
  dither: z.boolean(),
  shotData: z.strictObject({
    camera: z.boolean(),
    /** Where it was taken. */
    place: z.boolean(),
    texts: z.boolean(),
    /** The texts are written to a file of their own beside it as well. */
    sidecar: z.boolean(),
  }),
  /** Frames as developed, or as they were taken. */
  frames: z.enum(['developed', 'taken']),
  /** Name of the file, with words in braces, see `fileNameOf`. */
  pattern: z.string().min(1).max(200),
});
export type Preset = z.infer<typeof Preset>;

const PLAIN: Preset = {
  version: 1,
  id: 'plain',
  name: 'Picture',
  what: 'picture',
  file: restOf('tiff'),
  layersAs: 'ora',
  size: FULL_SIZE,
  sharpening: { for: 'screen', amount: 0 },
  space: 'srgb',
  profile: null,
  intent: 'relative',
  blackPoint: true,
  dither: true,
  shotData: { camera: true, place: false, texts: true, sidecar: false },
  frames: 'developed',
  pattern: '{scene}',
};

/** A preset that differs from a plain one. */
export const presetWith = (change: Partial<Preset>): Preset => ({ ...PLAIN, ...change });

/** Presets that are there before anybody made one. */
export const FIRST_PRESETS: readonly Preset[] = [
  presetWith({ id: 'print', name: 'Print', space: 'oprgb', pattern: '{scene} print' }),
  presetWith({
    id: 'screen',
    name: 'Screen',
    file: restOf('jpeg'),
    size: { by: 'long', value: 2048, enlarge: false },
    sharpening: { for: 'screen', amount: 1 },
    pattern: '{scene} {width}',
  }),
  presetWith({ id: 'layers', name: 'Layers', what: 'layers', pattern: '{scene} layers' }),
];

/** A preset from what a file or a browser's storage holds.
 * @throws {z.ZodError} when it is none. */
export const readPreset = (stored: unknown): Preset => Preset.parse(stored);

/** What is wrong with something that could not be read, as words for who wrote it. */
export const faultOf = (error: unknown): string =>
  error instanceof z.ZodError
    ? error.issues.map(({ path, message }) => `${path.join('.') || 'it'}: ${message}`).join('; ')
    : (error as Error).message;

/** The ending of what a preset writes. */
export function endingOf({ what, file, layersAs }: Preset): string {
  if (what === 'layers') return layersAs === 'ora' ? 'ora' : 'tif';
  return formatOf(file.format).ending;
}
