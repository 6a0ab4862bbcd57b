import type { Region, Size } from '../raster/size.ts';
import { isUpright } from '../scene/geometry.ts';
import { type Scene, sceneSize } from '../scene/scene.ts';
import { deliveredPart } from './turning.ts';

/** The picture that is delivered: of what request, how large that is, and the part of it that is wanted. */
export interface DeliveredPicture {
  of: { what: 'result'; turned?: 'finished' };
  size: Size;
  region: Region;
}

/** What a scene delivers; undefined while it has no frames. What is only cut is taken as it lies. */
export function deliveredPicture(scene: Scene): DeliveredPicture | undefined {
  const size = sceneSize(scene);
  if (!size) return undefined;
  const { geometry } = scene;
  const { x, y, width, height } = deliveredPart(geometry, size);
  if (isUpright(geometry)) return { of: { what: 'result' }, size, region: { x, y, width, height } };
  return { of: { what: 'result', turned: 'finished' }, size: { width, height }, region: { x: 0, y: 0, width, height } };
}
