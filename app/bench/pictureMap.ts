import { mapPoint } from '#core/align/placement.ts';
import { invert3, type Matrix3 } from '#core/raster/matrix3.ts';
import type { Region } from '#core/raster/size.ts';
import type { Point } from './viewTransform.ts';

/** Where places of the scene lie in the picture that a canvas shows; both counted from the upper left corner. */
export interface PictureMap {
  toScene: (at: Point) => Point;
  fromScene: (at: Point) => Point;
  /** Pixels of the picture for one of the scene, at a place of the scene. */
  scaleAt: (at: Point) => number;
  /** The part of the picture that a part of the scene lies in. */
  regionFrom: (region: Region) => Region;
}

/** A canvas that shows the scene as it lies. */
export const SCENE_ITSELF: PictureMap = {
  toScene: (at) => at,
  fromScene: (at) => at,
  scaleAt: () => 1,
  regionFrom: (region) => region,
};

/** Matrices count from the centre of the first pixel. */
const through = (matrix: Matrix3, { x, y }: Point): Point => {
  const at = mapPoint(matrix, { x: x - 0.5, y: y - 0.5 });
  return { x: at.x + 0.5, y: at.y + 0.5 };
};

/** A canvas that shows the picture turned.
 * @param fromScene - Scene pixels to the picture's. */
export function turnedMap(fromScene: Matrix3): PictureMap {
  const back = invert3(fromScene);
  const forth = (at: Point) => through(fromScene, at);
  return {
    toScene: (at) => through(back, at),
    fromScene: forth,
    scaleAt: ({ x, y }) => {
      const [at, right, below] = [forth({ x, y }), forth({ x: x + 1, y }), forth({ x, y: y + 1 })];
      return Math.sqrt(Math.abs((right.x - at.x) * (below.y - at.y) - (right.y - at.y) * (below.x - at.x)));
    },
    regionFrom: ({ x, y, width, height }) => {
      const corners = [
        forth({ x, y }),
        forth({ x: x + width, y }),
        forth({ x, y: y + height }),
        forth({ x: x + width, y: y + height }),
      ];
      const [xs, ys] = [corners.map((each) => each.x), corners.map((each) => each.y)];
      const [left, top] = [Math.min(...xs) - 2, Math.min(...ys) - 2];
      return { x: left, y: top, width: Math.max(...xs) + 2 - left, height: Math.max(...ys) + 2 - top };
    },
  };
}
