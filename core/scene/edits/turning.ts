import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { canvasOf, cropFits, Geometry } from '../geometry.ts';
import { sceneSize } from '../scene.ts';

const { stretch, quarters } = Geometry.shape;
/** What is not told stays as it is: a default, which older scenes are read with, would take it back. */
const Change = z.strictObject({ ...Geometry.shape, stretch: stretch.unwrap(), quarters: quarters.unwrap() }).partial();

/** Straightens, tilts, stretches, turns or crops the picture. A crop that does not fit what is turned otherwise then is taken back. Steps of one drag
 * are one. */
export const setGeometry = defineEdit({
  kind: 'scene.setGeometry',
  label: 'Turn and crop',
  params: z.strictObject({ change: Change }),
  mergeKey: ({ change }) => Object.keys(change).sort().join(),
  apply: (scene, { change }) => {
    const size = sceneSize(scene);
    const next = { ...scene.geometry, ...change };
    const crop = next.crop && size && cropFits(next.crop, size, next) ? next.crop : null;
    const geometry = { ...next, crop };
    return JSON.stringify(geometry) === JSON.stringify(scene.geometry) ? scene : { ...scene, geometry };
  },
});

/** Turns the picture by a quarter, its crop with it. */
export const turnQuarter = defineEdit({
  kind: 'scene.turnQuarter',
  label: 'Quarter turn',
  params: z.strictObject({ by: z.union([z.literal(1), z.literal(-1)]) }),
  apply: (scene, { by }) => {
    const size = sceneSize(scene);
    if (!size) return scene;
    const { geometry } = scene;
    const canvas = canvasOf(size, geometry.quarters);
    const { crop } = geometry;
    const turned = crop && {
      x: by > 0 ? canvas.height - crop.y - crop.height : crop.y,
      y: by > 0 ? crop.x : canvas.width - crop.x - crop.width,
      width: crop.height,
      height: crop.width,
    };
    return { ...scene, geometry: { ...geometry, quarters: (geometry.quarters + by + 4) % 4, crop: turned } };
  },
});
