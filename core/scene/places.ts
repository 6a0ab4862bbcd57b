import { z } from 'zod';
import { ItemId, RecipeId, type StrokeId } from '../ids.ts';
import type { Part } from '../parts/list.ts';
import type { PaintedPart } from '../parts/painted.ts';
import type { PicturePart } from '../parts/picture.ts';
import { PLAIN_READING } from '../reading.ts';
import type { Frame } from './frame.ts';
import type { Item, PlacedPicture } from './item.ts';
import type { Mask, Recipe, Stencil } from './mask.ts';
import { type Scene, sceneSize } from './scene.ts';
import { everyItem, findItem, isWaiting, mapAllItems, mapItem } from './tree.ts';

/** Where a mask is: whose it is, and whether it is its own, the guard over it, or the stencil that its brush paints through. */
export const MaskPlace = z.strictObject({
  owner: ItemId,
  of: z.enum(['mask', 'guard', 'stencil']).default('mask'),
});
export type MaskPlace = z.infer<typeof MaskPlace>;

/** A mask of an item; undefined when it has none. */
export function maskOfItem(item: Item, of: MaskPlace['of']): Mask | undefined {
  if (of !== 'stencil') return item[of] ?? undefined;
  return item.item === 'group' ? undefined : item.stencil?.mask;
}

/** Everything of a scene that has a mask, and its guards. */
export function everyMask(scene: Scene): { id: ItemId; of: 'mask' | 'guard' }[] {
  const { base } = scene;
  return [...everyItem(scene.stack), ...scene.finish]
    .filter((item) => !isWaiting(item, base))
    .flatMap(({ id, guard }) => [{ id, of: 'mask' as const }, ...(guard ? [{ id, of: 'guard' as const }] : [])]);
}

/** The mask at a place, or undefined when there is none. */
export function maskAt(scene: Scene, { owner, of }: MaskPlace): Mask | undefined {
  const item = findItem(scene, owner);
  return item && maskOfItem(item, of);
}

/** The scene with the mask at a place changed; the same scene when there is none or nothing changes. */
export const mapMask = (scene: Scene, { owner, of }: MaskPlace, change: (mask: Mask) => Mask): Scene =>
  mapItem(scene, owner, (item) => {
    const before = maskOfItem(item, of);
    const mask = before && change(before);
    if (!mask || mask === before) return item;
    if (of !== 'stencil') return { ...item, [of]: mask };
    return item.item !== 'group' && item.stencil ? { ...item, stencil: { ...item.stencil, mask } } : item;
  });

/** A mask with some parts changed; the same mask when none is. */
export function mapParts(mask: Mask, change: (part: Part) => Part): Mask {
  const parts = mask.parts.map(change);
  return parts.every((part, index) => part === mask.parts[index]) ? mask : { ...mask, parts };
}

/** The part that the brush paints on: the last painted one that is on, or the last. */
export function paintedPartOf({ parts }: Mask): PaintedPart | undefined {
  const painted = parts.filter((part) => part.kind === 'painted');
  return painted.findLast(({ enabled }) => enabled) ?? painted.at(-1);
}

/** Keeps a mask as it is now; one that is kept already is not kept twice.
 * @returns The scene with it, and its id. */
export function freeze(scene: Scene, recipe: Recipe): { scene: Scene; id: RecipeId } {
  const text = JSON.stringify(recipe);
  const known = Object.entries(scene.recipes).find(([, each]) => each === recipe || JSON.stringify(each) === text);
  if (known) return { scene, id: RecipeId.parse(known[0]) };
  let number = Object.keys(scene.recipes).length + 1;
  while (`recipe-${number}` in scene.recipes) number++;
  const id = RecipeId.parse(`recipe-${number}`);
  return { scene: { ...scene, recipes: { ...scene.recipes, [id]: recipe } }, id };
}

/** Whatever owns masks: items of the stack, adjustments within them, and finishing steps. */
export const maskOwners = (scene: Scene): Item[] => [...everyItem(scene.stack), ...everyItem(scene.finish)];

const MASKS = ['mask', 'guard', 'stencil'] as const;

/** All masks of a scene, frozen ones and saved stencils as well. */
export function allMasks(scene: Scene): Mask[] {
  return [
    ...maskOwners(scene).flatMap((owner) => MASKS.flatMap((of) => maskOfItem(owner, of) ?? [])),
    ...scene.stencils.map(({ mask }) => mask),
    ...Object.values(scene.recipes).map(({ mask }) => mask),
  ];
}

/** An item with its masks changed; those of what it holds stay. */
export function withMasks(item: Item, change: (mask: Mask) => Mask): Item {
  const both = { mask: change(item.mask), guard: item.guard && change(item.guard) };
  if (item.item === 'group') return { ...item, ...both };
  return { ...item, ...both, stencil: item.stencil && { ...item.stencil, mask: change(item.stencil.mask) } };
}

/** A scene with all its masks changed, frozen ones and saved stencils as well. */
export function mapMasks(scene: Scene, change: (mask: Mask) => Mask): Scene {
  const recipes = Object.entries(scene.recipes).map(([id, recipe]) => [id, { ...recipe, mask: change(recipe.mask) }]);
  const stencilOf = (stencil: Stencil): Stencil => ({ ...stencil, mask: change(stencil.mask) });
  const itemOf = (item: Item): Item => withMasks(item, change);
  return {
    ...mapAllItems(scene, itemOf),
    stencils: scene.stencils.map(stencilOf),
    recipes: Object.fromEntries(recipes),
  };
}

/** A scene whose strokes have other ids. */
export const withStrokeIds = (scene: Scene, ids: ReadonlyMap<StrokeId, StrokeId>): Scene =>
  mapMasks(scene, (mask) =>
    mapParts(mask, (part) =>
      part.kind === 'painted' && part.strokes.some(({ id }) => ids.has(id))
        ? { ...part, strokes: part.strokes.map((touch) => ({ ...touch, id: ids.get(touch.id) ?? touch.id })) }
        : part,
    ),
  );

/** Ids of all strokes that a scene's masks hold, each once. */
export function strokesOf(scene: Scene): StrokeId[] {
  const painted = allMasks(scene).flatMap(({ parts }) => parts.filter((part) => part.kind === 'painted'));
  return [...new Set(painted.flatMap(({ strokes }) => strokes.map(({ id }) => id)))];
}

/** All files that a scene is made of, and how each is read: those of its frames, of pictures in its masks, and of those that layers show. */
export function filesOf(scene: Scene): Pick<Frame, 'file' | 'reading' | 'width' | 'height'>[] {
  const size = sceneSize(scene);
  const pictures = size ? picturesOf(scene) : [];
  return [
    ...scene.frames,
    ...layerPicturesOf(scene),
    ...pictures.map(({ file, scaleTo }) => ({
      file,
      reading: { ...PLAIN_READING, scaleTo },
      width: 0,
      height: 0,
      ...size,
    })),
  ];
}

/** The files that a scene is made of, each once, however often and however it is read. */
export const distinctFiles = (scene: Scene): Frame['file'][] => [
  ...new Map(filesOf(scene).map(({ file }) => [file.sha256, file])).values(),
];

/** Files of a scene that somebody does not have, each once: those of frames, and of pictures in masks.
 * @param has - Whether a file is there, by its SHA-256. */
export function missingFiles(scene: Scene, has: (sha256: string) => boolean): Frame['file'][] {
  return distinctFiles(scene).filter(({ sha256 }) => !has(sha256));
}

/** Pictures of their own that layers show. */
export const layerPicturesOf = ({ stack }: Pick<Scene, 'stack'>): PlacedPicture[] =>
  [...everyItem(stack)].flatMap((item) =>
    item.item === 'layer' && 'picture' in item.content ? [item.content.picture] : [],
  );

/** Pictures that a scene's masks hold. */
export const picturesOf = (scene: Scene): PicturePart[] =>
  allMasks(scene).flatMap(({ parts }) => parts.filter((part) => part.kind === 'picture'));
