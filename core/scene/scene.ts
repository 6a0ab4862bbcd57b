import { z } from 'zod';
import { FrameId } from '../ids.ts';
import { Frame } from './frame.ts';
import { Geometry, PLAIN_GEOMETRY } from './geometry.ts';
import { Adjustment, Item, Layer } from './item.ts';
import { Recipe, Stencil } from './mask.ts';
import { RetouchSpot } from './retouch.ts';

/** The newest version of the scene document that this program writes and reads. Versions 2 and 3 gave frames what they have a
 * default for, version 4 brought masks of many parts, version 5 the tree of items, version 6 what finishes the picture; see `openScene`. */
export const SCENE_VERSION = 6;

/** A step that finishes the picture: an adjustment, or a layer of colour or of the picture so far. */
export const Step = z.union([
  Adjustment,
  Layer.refine(({ content }) => !('frame' in content || 'picture' in content), 'a finishing step shows no frame'),
]);
export type Step = z.infer<typeof Step>;

/** Everything that determines the picture, as plain data. */
export const Scene = z.strictObject({
  version: z.literal(SCENE_VERSION),
  name: z.string(),
  workingSpace: z.enum(['srgb', 'bt2020']),
  /** What is mixed: encoded values, as photographers' eyes know it, or light. */
  blendSpace: z.enum(['encoded', 'linear']),
  base: FrameId.nullable(),
  frames: z.array(Frame),
  /** What lies above the base, from the base upwards. */
  stack: z.array(Item),
  /** What is repaired in the blend, first to last. */
  retouch: z.array(RetouchSpot),
  /** What is done to the blend as a whole, first to last. */
  finish: z.array(Step),
  geometry: Geometry,
  /** Stencils saved by name. */
  stencils: z.array(Stencil),
  /** Masks as they were when strokes were painted through them, or when they were copied, by id. */
  recipes: z.record(z.string(), Recipe),
  /** Names of the user's for what has no label of its own, by id. */
  names: z.record(z.string(), z.string().max(80)),
});
export type Scene = z.infer<typeof Scene>;

export function newScene(name: string): Scene {
  return {
    version: SCENE_VERSION,
    name,
    workingSpace: 'srgb',
    blendSpace: 'encoded',
    base: null,
    frames: [],
    stack: [],
    retouch: [],
    finish: [],
    geometry: PLAIN_GEOMETRY,
    stencils: [],
    recipes: {},
    names: {},
  };
}

/** The working space of a scene: sRGB when all its frames are, or the wide one. */
export const spaceOfFrames = (frames: readonly Frame[]): Scene['workingSpace'] =>
  frames.some(({ reading }) => reading.space === 'bt2020') ? 'bt2020' : 'srgb';

/** The size that all frames of a scene share, or undefined while it has none. */
export function sceneSize(scene: Scene): { width: number; height: number } | undefined {
  const first = scene.frames[0];
  return first && { width: first.width, height: first.height };
}
