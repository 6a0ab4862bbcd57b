import type { PlacedPicture } from './item.ts';

type Corners = PlacedPicture['corners'];
type Point = Corners[number];
interface Size {
  width: number;
  height: number;
}

/** How far from the scene's corner a picture's may lie, in pixels. */
const FARTHEST = 1e6;

/** Whether a picture can be seen where its corners lie: all of them point outwards, clockwise, and none is out of reach. */
export const canBeSeen = (corners: Corners): boolean =>
  corners.every((corner, i) => {
    const [next, after] = [corners[(i + 1) % 4], corners[(i + 2) % 4]];
    const turn = (next.x - corner.x) * (after.y - next.y) - (next.y - corner.y) * (after.x - next.x);
    return turn > 1 && Math.abs(corner.x) < FARTHEST && Math.abs(corner.y) < FARTHEST;
  });

/** Corners of a picture in the middle of a scene, as large as fits in, or as covers all of it. */
export function cornersIn(scene: Size, { width, height }: Size, how: 'within' | 'covering'): Corners {
  const shares = [scene.width / width, scene.height / height];
  const scale = how === 'within' ? Math.min(...shares) : Math.max(...shares);
  const [x, y] = [(scene.width - width * scale) / 2, (scene.height - height * scale) / 2];
  const at = (u: 0 | 1, v: 0 | 1) => ({ x: x + u * width * scale, y: y + v * height * scale });
  return [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
}

/** Corners turned clockwise about their middle, by degrees. */
export function turned(corners: Corners, degrees: number): Corners {
  const { x, y } = middleOfCorners(corners);
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return corners.map((at) => ({
    x: x + (at.x - x) * cos - (at.y - y) * sin,
    y: y + (at.x - x) * sin + (at.y - y) * cos,
  })) as Corners;
}

export const middleOfCorners = (corners: Corners): Point => ({
  x: corners.reduce((sum, { x }) => sum + x, 0) / 4,
  y: corners.reduce((sum, { y }) => sum + y, 0) / 4,
});

/** Corners of which some are moved by as much, clockwise from the upper left. */
export const movedBy = (corners: Corners, which: readonly number[], dx: number, dy: number): Corners =>
  corners.map((at, index) => (which.includes(index) ? { x: at.x + dx, y: at.y + dy } : at)) as Corners;
