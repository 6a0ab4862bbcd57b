import { kindOf, type Part } from '../parts/list.ts';
import type { Frame } from './frame.ts';
import { cropFits } from './geometry.ts';
import { frameOfLayer } from './item.ts';
import { MOST_DEPTH, MOST_STEPS, maskLoad } from './maskLoad.ts';
import { beyondThisProgram } from './notYet.ts';
import { isPlaceable } from './placeable.ts';
import { canBeSeen, cornersIn } from './placedPicture.ts';
import { allMasks, layerPicturesOf, mapMasks, maskOwners } from './places.ts';
import type { RepairCode, Repairs } from './repairs.ts';
import { boundsOf, isOnPicture } from './retouch.ts';
import { type Scene, sceneSize } from './scene.ts';
import { SceneError } from './sceneError.ts';
import { mapLayers } from './tree.ts';

/** Pixels that a picture may have, as for files. */
const MOST_PIXELS = 300e6;
/** Far more than anybody makes, little enough to be gone through at once. */
const MOST = { frames: 500, layers: 2000, parts: 20_000, strokes: 200_000, spots: 5000 };
/** Most pixels that a spot may reach over. */
const MOST_SPOT = 16e6;
/** How far from the picture's corner shapes may lie, in pixels. */
const FARTHEST = 1e6;
/** Recipes are kept in an object: these names mean something else there. */
const RESERVED = new Set(['__proto__', 'constructor', 'prototype']);

/** Sees to it that a scene that fits the schema also fits the program: that what it names is there, that it can be computed, and
 * within reasonable time. Small faults are mended and told of.
 * @throws {SceneError} when it cannot be mended. */
export function checkScene(scene: Scene): { scene: Scene; repairs: Repairs } {
  const repairs = new Map<RepairCode, number>();
  const mended = (code: RepairCode, count = 1) => repairs.set(code, (repairs.get(code) ?? 0) + count);
  checkAmount(scene);
  checkFrames(scene);
  checkIds(scene);
  checkWithin(scene);
  const stacked = withRecipes(withStack(withFrames(scene, mended), mended), mended);
  const checked = withSpots(withShapes(stacked, mended), mended);
  const { depth, steps } = maskLoad(checked);
  if (depth > MOST_DEPTH) throw new SceneError('too-deep', `${depth} of ${MOST_DEPTH}`);
  if (steps > MOST_STEPS) throw new SceneError('too-much', `${steps} of ${MOST_STEPS}`);
  return { scene: checked, repairs };
}

type Mended = (code: RepairCode, count?: number) => void;

function checkAmount(scene: Scene): void {
  const masks = allMasks(scene);
  const parts = masks.reduce((sum, mask) => sum + mask.parts.length, 0);
  const strokes = masks.reduce((sum, { parts }) => sum + parts.reduce((all, part) => all + strokesIn(part), 0), 0);
  const counts = {
    frames: scene.frames.length,
    layers: maskOwners(scene).length,
    parts,
    strokes,
    spots: scene.retouch.length,
  };
  for (const [what, most] of Object.entries(MOST)) {
    const count = counts[what as keyof typeof MOST];
    if (count > most) throw new SceneError('too-much', `${count} ${what} of ${most}`);
  }
}

const strokesIn = (part: Part): number => (part.kind === 'painted' ? part.strokes.length : 0);

function checkFrames(scene: Scene): void {
  const { frames } = scene;
  const [first] = frames;
  if (!first) return;
  if (first.width * first.height > MOST_PIXELS)
    throw new SceneError('too-large', `${first.width} x ${first.height} pixels`);
  const larger = layerPicturesOf(scene).find(({ width, height }) => width * height > MOST_PIXELS);
  if (larger) throw new SceneError('too-large', `${larger.width} x ${larger.height} pixels`);
  const other = frames.find(({ width, height }) => width !== first.width || height !== first.height);
  if (other)
    throw new SceneError('invalid', `frames of ${first.width} x ${first.height} and ${other.width} x ${other.height}`);
}

function checkIds(scene: Scene): void {
  const lists: [string, readonly { id: string }[]][] = [
    ['frames', scene.frames],
    ['items', maskOwners(scene)],
    ['stencils', scene.stencils],
    ['spots', scene.retouch],
    ...allMasks(scene).map(({ parts }): [string, Part[]] => ['parts of a mask', parts]),
  ];
  for (const [what, list] of lists)
    if (new Set(list.map(({ id }) => id)).size < list.length) throw new SceneError('invalid', `two ${what} of one id`);
}

/** Frames that can be placed as they say, a base that is there, a crop that lies in the scene. */
function withFrames(scene: Scene, mended: Mended): Scene {
  const frames = scene.frames.map((frame): Frame => {
    if (!frame.placement || isPlaceable(frame.placement.matrix, frame)) return frame;
    mended('placement');
    return { ...frame, placement: null, local: null };
  });
  const [first] = frames;
  const hasBase = frames.some(({ id }) => id === scene.base);
  if (first && !hasBase) mended('base-missing');
  const base = hasBase ? scene.base : (first?.id ?? null);
  const { crop } = scene.geometry;
  const fits = !crop || (first && cropFits(crop, first, scene.geometry));
  if (!fits) mended('crop');
  return { ...scene, frames, base, geometry: { ...scene.geometry, crop: fits ? crop : null } };
}

/** Layers whose frames are there, in groups that hold something. */
function withStack(scene: Scene, mended: Mended): Scene {
  const frames = new Set(scene.frames.map(({ id }) => id));
  const size = sceneSize(scene);
  return mapLayers(scene, (layer) => {
    if (size && 'picture' in layer.content && !canBeSeen(layer.content.picture.corners)) {
      mended('placement');
      const { picture } = layer.content;
      return { ...layer, content: { picture: { ...picture, corners: cornersIn(size, picture, 'within') } } };
    }
    const frame = frameOfLayer(layer);
    if (frame === undefined || frames.has(frame)) return layer;
    mended('layer-without-frame');
    return undefined;
  });
}

/** A document may already say what comes to be computed later: to leave it out would show another picture. */
function checkWithin(scene: Scene): void {
  const beyond = beyondThisProgram(scene);
  if (beyond) throw new SceneError('not-yet', beyond);
}

function withRecipes(scene: Scene, mended: Mended): Scene {
  const kept = Object.entries(scene.recipes).filter(([id]) => !RESERVED.has(id));
  const dropped = Object.keys(scene.recipes).length - kept.length;
  if (dropped === 0) return scene;
  mended('recipe', dropped);
  return { ...scene, recipes: Object.fromEntries(kept) };
}

/** Spots that lie on the picture, of frames that are there, none larger than can be covered at once. */
function withSpots(scene: Scene, mended: Mended): Scene {
  const size = sceneSize(scene);
  const frames = new Set<string>(scene.frames.map(({ id }) => id));
  const retouch = scene.retouch.filter((spot) => {
    const { width, height } = boundsOf(spot);
    const isSound =
      size && isOnPicture(spot, size) && width * height <= MOST_SPOT && (!spot.frame || frames.has(spot.frame));
    if (!isSound) mended('spot');
    return isSound;
  });
  return retouch.length === scene.retouch.length ? scene : { ...scene, retouch };
}

/** Shapes whose points lie where a picture may be. */
function withShapes(scene: Scene, mended: Mended): Scene {
  const near = (value: number): number => {
    if (Math.abs(value) <= FARTHEST) return value;
    mended('shape');
    return Math.sign(value) * FARTHEST;
  };
  const partOf = (part: Part): Part => kindOf(part).withNearPlaces?.(part, near) ?? part;
  return mapMasks(scene, (mask) => ({ ...mask, parts: mask.parts.map(partOf) }));
}
