import { placeByCorners } from '../../align/byHand.ts';
import { type LocalGrid, moveOfGrid } from '../../align/localFit.ts';
import { compose, cornersOf, fromLevel, isIdentity, mapPoint, type Point, shiftMatrix } from '../../align/placement.ts';
import { bendFactor, bentPlace, isBent, isPlainLens, type Lens, middleOf } from '../../raster/lens.ts';
import { IDENTITY3, invert3, type Matrix3 } from '../../raster/matrix3.ts';
import { levelCount, type Size, TILE } from '../../raster/size.ts';
import type { Spot } from '../tiles/renderContext.ts';
import { MAX_AREA_SIDE } from '../tiles/scratch.ts';

/** How a frame comes into the scene: straightened after it is placed, so that what the aligner found holds with any lens. */
export interface FrameGeometry {
  /** Frame pixels to scene pixels, counted from the centre of the first. */
  placement: Matrix3;
  /** How it is moved further from place to place of the scene. */
  local: LocalGrid | null;
  lens: Lens;
  /** How the scene is turned in the picture that the frame comes into; not at all, if it is not told. */
  turned?: Turning;
}

/** A picture of a scene that is turned and cut. */
export interface Turning {
  /** From the picture's pixels to those of the scene, counted from the centre of the first. */
  toScene: Matrix3;
  /** Size of the scene. */
  scene: Size;
}

/** Whether a frame's pixels are the scene's. */
export const isUnmoved = ({ placement, local, lens, turned }: FrameGeometry): boolean =>
  local === null && isIdentity(placement) && isPlainLens(lens) && turned === undefined;

/** Samples that kernels need beyond a place: two before, six after; one more for rounding. */
const BEFORE = 3;
const AFTER = 8;
/** And so many more for what a side bends between the places that are looked at. */
const BENDING = 1;
/** Places of a tile's side that are looked at where it may be bent. */
const SIDE_PLACES = 9;

/** From a tile's pixels to those of a source: through a homography alone, or through a lens and then a homography. */
export interface TileMap {
  matrix: Matrix3;
  /** Undefined: the matrix takes the tile's pixels. Otherwise it takes bent places, counted as `Lens` says. */
  bent:
    | {
        /** From the tile's pixels to straight places. */
        straight: Matrix3;
        bend: Lens['bend'];
      }
    | undefined;
}

const originOf = ({ level, tx, ty }: Spot): Matrix3 => compose(shiftMatrix(tx * TILE, ty * TILE), fromLevel(level));
const TILE_SIZE = { width: TILE, height: TILE };

/** Where a tile's pixels lie in the frame at full size. Places that are moved each by itself: each tile by the homography that takes
 * its corners where they belong. Neighbours share corners, and so the edges between them; within a tile the grid is nearly even.
 * @param size - Of the picture that the frame comes into: the scene, about whose middle the lens bends, if that is not turned. */
export function frameMap({ placement, local, lens, turned }: FrameGeometry, size: Size, spot: Spot): TileMap {
  const toFrame = invert3(placement);
  const scene = turned?.scene ?? size;
  const origin = turned ? compose(originOf(spot), turned.toScene) : originOf(spot);
  const corners = () =>
    cornersOf(TILE_SIZE).map((corner) => {
      const at = bentPlace(lens, scene, mapPoint(origin, corner));
      const move = local ? moveOfGrid(local, scene, at) : { x: 0, y: 0 };
      return { from: at, to: mapPoint(toFrame, { x: at.x - move.x, y: at.y - move.y }) };
    });
  const quad = (points: Point[]) => placeByCorners(points, TILE_SIZE);
  if (!isBent(lens))
    return {
      matrix: (local && quad(corners().map(({ to }) => to))) ?? compose(origin, toFrame),
      bent: undefined,
    };
  const { x, y, radius } = middleOf(scene);
  const toScene: Matrix3 = [radius, 0, x, 0, radius, y, 0, 0, 1];
  const bent = {
    straight: turned ? compose(origin, invert3(toScene)) : straightOf(origin, spot, scene),
    bend: lens.bend,
  };
  return { matrix: compose(toScene, (local && movedAtCorners(corners(), quad)) ?? toFrame), bent };
}

/** Of a scene that is not turned. The very steps that it has always been made in: scenes keep their bits. */
function straightOf(origin: Matrix3, { level }: Spot, scene: Size): Matrix3 {
  const { x, y, radius } = middleOf(scene);
  const first = mapPoint(origin, { x: 0, y: 0 });
  const step = 2 ** level / radius;
  return [step, 0, (first.x - x) / radius, 0, step, (first.y - y) / radius, 0, 0, 1];
}

function movedAtCorners(
  corners: readonly { from: Point; to: Point }[],
  quad: (points: Point[]) => Matrix3 | undefined,
): Matrix3 | undefined {
  const [from, to] = [quad(corners.map((corner) => corner.from)), quad(corners.map((corner) => corner.to))];
  return from && to && compose(invert3(from), to);
}

/** Where one of a tile's pixels lies. */
export function placeOf({ matrix, bent }: TileMap, at: Point): Point {
  if (!bent) return mapPoint(matrix, at);
  const { x, y } = mapPoint(bent.straight, at);
  const factor = bendFactor(bent.bend, x * x + y * y);
  return mapPoint(matrix, { x: x * factor, y: y * factor });
}

const STRAIGHT: NonNullable<TileMap['bent']> = { straight: IDENTITY3, bend: [0, 0, 0] };

/** Where a tile's pixels lie, as `placeOf` says, without a place made for each. */
function placesOf(
  { matrix, bent }: TileMap,
  use: (x: number, y: number) => void,
): (column: number, row: number) => void {
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = matrix;
  const {
    straight: [s0, s1, s2, s3, s4, s5, s6, s7, s8],
    bend,
  } = bent ?? STRAIGHT;
  return (column, row) => {
    const v = s6 * column + s7 * row + s8;
    const x = (s0 * column + s1 * row + s2) / v;
    const y = (s3 * column + s4 * row + s5) / v;
    const factor = bendFactor(bend, x * x + y * y);
    const [bx, by] = [x * factor, y * factor];
    const w = m6 * bx + m7 * by + m8;
    use((m0 * bx + m1 * by + m2) / w, (m3 * bx + m4 * by + m5) / w);
  };
}

/** Calls `use` with every sample of a tile, row by row, and where it lies. */
export function eachPlace(map: TileMap, use: (at: number, x: number, y: number) => void): void {
  let at = 0;
  const place = placesOf(map, (x, y) => use(at, x, y));
  for (let row = 0; row < TILE; row++) for (let column = 0; column < TILE; column++, at++) place(column, row);
}

/** Matrices that draw a picture larger about the middle of a frame at a level, one for red, one for green, one for blue. */
export interface ChannelScales {
  x: number;
  y: number;
  scales: readonly [red: number, green: number, blue: number];
}

/** Where a tile's pixels come from: the level of the source, the map from the tile's pixels to that level's, and what is read of it.
 * @param size - Of the frame. */
export function sourceOf(map: TileMap, lens: Lens, level: number, size: Size) {
  const last = levelCount(size) - 1;
  const middle = middleOf(size);
  const scales = [1 + lens.red, 1, 1 + lens.blue] as const;
  const isApart = lens.red !== 0 || lens.blue !== 0;
  const outline = outlineOf(map.bent ? SIDE_PLACES : 2).map((at) => placeOf(map, at));
  for (let from = level; ; from++) {
    const used = Math.min(from, last);
    const toLevel = invert3(fromLevel(used));
    const centre = mapPoint(toLevel, middle);
    const places = outline.map((place) => mapPoint(toLevel, place));
    const read = isApart
      ? scales.flatMap((scale) =>
          places.map(({ x, y }) => ({ x: centre.x + scale * (x - centre.x), y: centre.y + scale * (y - centre.y) })),
        )
      : places;
    const [xs, ys] = [read.map(({ x }) => x), read.map(({ y }) => y)];
    const more = map.bent ? BENDING : 0;
    const [left, top] = [xs, ys].map((values) => Math.floor(Math.min(...values)) - BEFORE - more);
    const side = Math.ceil(Math.max(Math.max(...xs) - left, Math.max(...ys) - top)) + AFTER + more;
    // A frame that is shrunk a lot is read from a coarser level.
    if (side > MAX_AREA_SIDE && from < last) continue;
    return {
      from: used,
      map: { matrix: compose(map.matrix, toLevel), bent: map.bent },
      channels: { ...centre, scales } satisfies ChannelScales,
      left,
      top,
      side,
      places,
    };
  }
}

/** Places along a tile's sides. */
function outlineOf(count: number): Point[] {
  const steps = Array.from({ length: count }, (_, i) => (i * (TILE - 1)) / (count - 1));
  return steps.flatMap((at) => [
    { x: at, y: 0 },
    { x: at, y: TILE - 1 },
    { x: 0, y: at },
    { x: TILE - 1, y: at },
  ]);
}

/** Where a frame's pixels came from. */
export interface FramePlace {
  /** What the places follow from. */
  readonly key: readonly unknown[];
  /** Squared distance of a tile's pixel from the middle of the frame as it was taken, its corners' being 1. */
  squaredRadii(spot: Spot): (x: number, y: number) => number;
}

/** Where the pixels of tiles of the scene were taken in a frame, see `FramePlace`.
 * @param size - Of the frame. */
export function framePlace(geometry: FrameGeometry, scene: Size, size: Size): FramePlace {
  const { placement, lens, turned } = geometry;
  const plain = { ...geometry, local: null };
  const { x: middleX, y: middleY, radius } = middleOf(size);
  return {
    key: [placement, lens.bend, size.width, size.height, ...(turned ? [turned] : [])],
    squaredRadii: (spot) => {
      let squared = 0;
      const place = placesOf(frameMap(plain, scene, spot), (x, y) => {
        squared = ((x - middleX) ** 2 + (y - middleY) ** 2) / radius ** 2;
      });
      return (column, row) => {
        place(column, row);
        return squared;
      };
    },
  };
}
