import { z } from 'zod';
import { mapLayer } from './edit.ts';
import { LayerId, RecipeId, type StrokeId } from './ids.ts';
import type { Mask, PaintedPart, Part, PicturePart, Recipe, Stencil } from './mask.ts';
import { type Frame, type Group, type Layer, PLAIN_READING, type Scene, sceneSize } from './scene.ts';

/** Where a mask is: a layer's own, the guard over it, the stencil that its brush paints through, or the mask of its group. */
export const MaskPlace = z.strictObject({
  layerId: LayerId,
  of: z.enum(['mask', 'guard', 'stencil', 'group']).default('mask'),
});
export type MaskPlace = z.infer<typeof MaskPlace>;

export const groupOf = (scene: Scene, layer: Layer): Group | undefined =>
  scene.groups.find(({ id }) => id === layer.group);

/** The mask at a place, or undefined when there is none. */
export function maskAt(scene: Scene, { layerId, of }: MaskPlace): Mask | undefined {
  const layer = scene.stack.find(({ id }) => id === layerId);
  if (!layer) return undefined;
  if (of === 'group') return groupOf(scene, layer)?.mask;
  return (of === 'stencil' ? layer.stencil?.mask : layer[of]) ?? undefined;
}

/** The scene with the mask at a place changed; the same scene when there is none or nothing changes. */
export function mapMask(scene: Scene, { layerId, of }: MaskPlace, change: (mask: Mask) => Mask): Scene {
  if (of === 'group') {
    const layer = scene.stack.find(({ id }) => id === layerId);
    const group = layer && groupOf(scene, layer);
    const mask = group && change(group.mask);
    if (!group || !mask || mask === group.mask) return scene;
    return { ...scene, groups: scene.groups.map((each) => (each === group ? { ...group, mask } : each)) };
  }
  return mapLayer(scene, layerId, (layer) => {
    const before = of === 'stencil' ? layer.stencil?.mask : layer[of];
    const mask = before && change(before);
    if (!mask || mask === before) return layer;
    if (of === 'stencil') return { ...layer, stencil: layer.stencil && { ...layer.stencil, mask } };
    return { ...layer, [of]: mask };
  });
}

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

/** All masks of a scene, frozen ones and saved stencils as well. */
export function allMasks(scene: Scene): Mask[] {
  return [
    ...scene.stack.flatMap(({ mask, guard, stencil }) => [mask, guard ?? [], stencil?.mask ?? []].flat()),
    ...scene.groups.map(({ mask }) => mask),
    ...scene.stencils.map(({ mask }) => mask),
    ...Object.values(scene.recipes).map(({ mask }) => mask),
  ];
}

/** A scene with all its masks changed, frozen ones and saved stencils as well. */
export function mapMasks(scene: Scene, change: (mask: Mask) => Mask): Scene {
  const recipes = Object.entries(scene.recipes).map(([id, recipe]) => [id, { ...recipe, mask: change(recipe.mask) }]);
  const stencilOf = (stencil: Stencil): Stencil => ({ ...stencil, mask: change(stencil.mask) });
  return {
    ...scene,
    stack: scene.stack.map((layer) => ({
      ...layer,
      mask: change(layer.mask),
      guard: layer.guard && change(layer.guard),
      stencil: layer.stencil && stencilOf(layer.stencil),
    })),
    groups: scene.groups.map((group) => ({ ...group, mask: change(group.mask) })),
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

/** All files that a scene is made of, and how each is read: those of its frames, and of pictures in its masks. */
export function filesOf(scene: Scene): Pick<Frame, 'file' | 'reading' | 'width' | 'height'>[] {
  const size = sceneSize(scene);
  const pictures = size ? picturesOf(scene) : [];
  return [
    ...scene.frames,
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

/** Pictures that a scene's masks hold. */
export const picturesOf = (scene: Scene): PicturePart[] =>
  allMasks(scene).flatMap(({ parts }) => parts.filter((part) => part.kind === 'picture'));
