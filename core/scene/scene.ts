import { z } from 'zod';
import { FrameId, LayerId } from './ids.ts';
import { Mask, Stencil } from './mask.ts';

/** The newest version of the scene document that this program writes and reads. */
export const SCENE_VERSION = 1;

/** What a camera wrote about a shot; null where it wrote nothing. */
export const Shot = z.strictObject({
  /** Seconds. */
  exposureTime: z.number().positive().nullable(),
  fNumber: z.number().positive().nullable(),
  iso: z.number().positive().nullable(),
  /** Local time as the camera wrote it, `2025-10-12T06:41:07`. */
  takenAt: z.string().nullable(),
  /** Brightness of the picture in stops against 1 s, f/1, ISO 100; higher is brighter. */
  ev: z.number().nullable(),
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
});
export type ExifValues = z.infer<typeof ExifValues>;

export const Frame = z.strictObject({
  id: FrameId,
  file: z.strictObject({ sha256: z.string().length(64), name: z.string(), bytes: z.number().int().nonnegative() }),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  bits: z.union([z.literal(8), z.literal(16)]),
  shot: Shot,
  exif: ExifValues,
});
export type Frame = z.infer<typeof Frame>;

/** A frame laid over the stack, showing where its mask reveals it. */
export const Layer = z.strictObject({
  id: LayerId,
  frame: FrameId,
  mask: Mask,
  /** The tones that the brush is held to on this layer, and whether it is at the moment. */
  stencil: Stencil.nullable(),
  stencilOn: z.boolean(),
  opacity: z.number().min(0).max(1),
  visible: z.boolean(),
});
export type Layer = z.infer<typeof Layer>;

/** Everything that determines the picture, as plain data. */
export const Scene = z.strictObject({
  version: z.literal(SCENE_VERSION),
  name: z.string(),
  workingSpace: z.enum(['srgb', 'bt2020']),
  base: FrameId.nullable(),
  frames: z.array(Frame),
  /** Layers above the base, from the base upwards: every frame but the base has one. */
  stack: z.array(Layer),
});
export type Scene = z.infer<typeof Scene>;

export function newScene(name: string): Scene {
  return { version: SCENE_VERSION, name, workingSpace: 'srgb', base: null, frames: [], stack: [] };
}

/** The size that all frames of a scene share, or undefined while it has none. */
export function sceneSize(scene: Scene): { width: number; height: number } | undefined {
  const first = scene.frames[0];
  return first && { width: first.width, height: first.height };
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
