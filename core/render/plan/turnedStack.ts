import { looksAround } from '../../develop/list.ts';
import type { ItemId } from '../../ids.ts';
import { IDENTITY3, invert3 } from '../../raster/matrix3.ts';
import type { Frame } from '../../scene/frame.ts';
import { isUpright } from '../../scene/geometry.ts';
import { frameOfLayer, type Item } from '../../scene/item.ts';
import { type Scene, sceneSize } from '../../scene/scene.ts';
import { isWaiting, ownAdjustments } from '../../scene/tree.ts';
import { ColourRunNode } from '../nodes/colourNode.ts';
import { isUnmoved } from '../nodes/frameMap.ts';
import { intersectionOf } from '../nodes/maskNode.ts';
import { RoundedNode } from '../nodes/roundedNode.ts';
import { sceneExtent, type TileNode } from '../tiles/renderContext.ts';
import { geometryOf } from './frameGeometry.ts';
import { placedPicture } from './pictureNodes.ts';
import { PlacedFrames } from './placedFrames.ts';
import { StackBuilder } from './stackBuilder.ts';
import { overNothing, turnedPicture, turnedPlane, turnedScene } from './turnedNode.ts';

/** What a turned stack takes over from the scene. */
interface SceneMasks {
  /** As one stack, see `asOneStack`. */
  readonly scene: Scene;
  readonly blended: number;
  /** An item's mask as far as it counts. */
  covers(id: ItemId): TileNode | undefined;
  /** The mask of an item whose mask is a map. */
  map(id: ItemId): TileNode | undefined;
}

/** A picture of the whole stack, turned and cut, made of frames that are read between their pixels once: for how they are placed and for how the scene is
 * turned. Masks are made in the scene, and turned. Undefined where that makes no difference, or where something looks around itself, which
 * it does in the scene: then the picture of the scene is turned as a whole.
 * @param what - The blend is made so where the finished picture is: people compare the two. */
export function turnedStack(
  what: 'result' | 'blend',
  document: Scene,
  masks: SceneMasks,
  selected?: ItemId,
): TileNode | undefined {
  const { scene, blended } = masks;
  const base = scene.frames.find(({ id }) => id === scene.base);
  const size = sceneSize(scene);
  if (!base || !size) return undefined;
  const shown = shownOf(scene.stack, scene.base);
  const laid = shown.flatMap((item) => (item.item === 'layer' ? (frameOfLayer(item) ?? []) : []));
  const pictures = scene.frames.filter((frame) => frame === base || laid.includes(frame.id));
  if (!isWorthWhile(document, shown, pictures) || !isPointwise(document, shown, pictures)) return undefined;
  const turned = turnedScene(document.geometry, size, 'finished');
  const { extent, fromScene } = turned;
  const turning = { toScene: invert3(fromScene), scene: size };
  const frames = new PlacedFrames(scene, extent, turning);
  const turnedIfThere = (plane: TileNode | undefined) => plane && turnedPlane(plane, turned);
  const stack = new StackBuilder({
    scene,
    extent,
    blended,
    isRetouched: false,
    retouched: (blend) => blend,
    delivered: { fromScene: IDENTITY3, size: extent.size },
    turned: turning,
    base: () => frames.base,
    picture: (layer) => {
      if ('picture' in layer.content) return placedPicture(layer.content.picture, scene.workingSpace, extent, turning);
      const frame = frameOfLayer(layer);
      return frame === undefined ? undefined : frames.frame(frame);
    },
    colourRun: (run) => turnedPicture(new RoundedNode(new ColourRunNode(run, sceneExtent(size))), turned),
    map: (id) => turnedIfThere(masks.map(id)),
    shown: (id) => turnedIfThere(masks.covers(id)),
    intersection: (nodes) => intersectionOf(nodes, extent),
    remembered: (_, make) => make(),
    isLookedAt: () => false,
  });
  return overNothing(what === 'blend' ? stack.below(blended) : stack.result(selected, true), turned);
}

/** What shows of a stack, however deep it lies. */
const shownOf = (items: readonly Item[], base: Scene['base']): Item[] =>
  items.flatMap((item) => {
    if (!item.visible || isWaiting(item, base)) return [];
    return item.item === 'group' ? [item, ...shownOf(item.items, base)] : [item];
  });

/** Whether anything would be read twice: the scene is turned by more than quarters, and a picture in it lies otherwise than it was taken. */
const isWorthWhile = ({ geometry }: Scene, shown: readonly Item[], frames: readonly Frame[]): boolean =>
  !isUpright({ ...geometry, quarters: 0 }) &&
  (frames.some((frame) => !isUnmoved(geometryOf(frame))) ||
    shown.some((item) => item.item === 'layer' && 'picture' in item.content));

/** Whether each pixel follows from one of every picture, and from where that lies. */
function isPointwise({ retouch, workingSpace }: Scene, shown: readonly Item[], frames: readonly Frame[]): boolean {
  const adjustments = shown.flatMap((item) =>
    item.item === 'adjustment' ? [item] : ownAdjustments(item).filter(({ visible }) => visible),
  );
  const settings = [
    ...adjustments.map((each): [string, unknown] => [each.kind, each.settings]),
    ...frames.flatMap(({ develop }) => Object.entries(develop)),
  ];
  return !retouch.some(({ visible }) => visible) && !settings.some(([name, of]) => looksAround(name, of, workingSpace));
}
