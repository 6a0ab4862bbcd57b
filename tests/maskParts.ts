import type { LayerId } from '#core/ids.ts';
import { WHOLE_RANGE } from '#core/masks/range.ts';
import type { ColourPart } from '#core/parts/colour.ts';
import type { Part } from '#core/parts/list.ts';
import { plainPart } from '#core/parts/partBase.ts';
import type { RadialPart } from '#core/parts/radial.ts';
import { addPart } from '#core/scene/edits/masks.ts';
import type { Scene } from '#core/scene/scene.ts';
import { edit, maskOf, setUp, size } from './renderScene.ts';

export const colour: ColourPart = {
  kind: 'colour',
  ...plainPart('colour'),
  source: 'base',
  hue: { centre: 60, width: 10, shoulder: 40 },
  chroma: { from: 0.1, to: 0.3, fromShoulder: 0.1, toShoulder: 0.1 },
  lightness: { ...WHOLE_RANGE, from: 0.4, fromShoulder: 0.3 },
};
export const radial: RadialPart = {
  kind: 'radial',
  ...plainPart('radial'),
  centre: { x: 150, y: 100 },
  radiusX: 120,
  radiusY: 60,
  turn: 30,
  feather: 0.5,
};
export const box: Part = {
  kind: 'outline',
  ...plainPart('outline'),
  corners: [40, 40, 200, 40, 200, 160, 40, 160],
  feather: 0,
};

/** A context for masks of the darker and the brighter layer, and places to look at. */
export function setUpMasks() {
  const { made, dark, bright, whole } = setUp();
  return {
    made,
    dark,
    bright,
    whole,
    add: (scene: Scene, layerId: LayerId, part: Part) => edit(scene, addPart({ owner: layerId, part })),
    maskIn: (scene: Scene, layerId: LayerId = dark) => whole(maskOf(scene, layerId)),
    places: Array.from({ length: 60 }, (_, i) => ({ x: (i * 47) % size.width, y: (i * 31) % size.height })),
    at: (plane: Uint16Array, { x, y }: { x: number; y: number }) => plane[y * size.width + x] / 65535,
  };
}
