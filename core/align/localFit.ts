import type { Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import { AlignCancelled } from './cancelled.ts';
import { matchPatch, PATCH, type Pair } from './patchMatch.ts';
import { compose, mapPoint, type Point, shiftMatrix } from './placement.ts';
import type { PixelSource } from './tileSource.ts';
import { exposureStops, FLOOR, floorsFor, wholeSignal } from './toneSignal.ts';

/** How far a placed frame is moved from place to place: at the nodes of a grid over the base, its first on the first pixel and its
 * last on the last, in pixels; between nodes it is read between the four around. */
export interface LocalGrid {
  columns: number;
  rows: number;
  dx: readonly number[];
  dy: readonly number[];
}

export interface LocalFitOptions {
  /** Farthest that a place may be moved, in pixels. */
  limit: number;
  onProgress?: (share: number) => void;
  isCancelled?: () => boolean;
}

/** Nodes along the longer side. */
const NODES = 25;
/** What a patch reaches in pixels of its level; the coarsest level is the one whose patches reach the limit. */
const REACH = 3;
const COARSEST = 3;
/** A place is known well enough at this standard deviation, in pixels. */
const UNSURE = 0.35;
/** Places farther than this from what lies around them are moved by something else: a leaf, a bird, a wave. */
const OUTLIER = 2.5;
/** Standard deviation, in nodes, of the weights with which places around a node speak for it, and the weight of having stayed. */
const SPREAD = 0.7;
const STAYED = 0.04;

/** Finds how a placed frame still differs from the base from place to place: parallax, or wind. Patches around the nodes of a grid
 * are matched as for the placement; those that are sure and agree with their neighbours are smooth over the grid, and where
 * nothing is known the frame stays where it is.
 * @param placement - Frame pixels to base pixels.
 * @throws {AlignCancelled} */
export function fitLocally(
  base: PixelSource,
  frame: PixelSource,
  placement: Matrix3,
  { limit, onProgress = () => undefined, isCancelled = () => false }: LocalFitOptions,
): LocalGrid {
  const { width, height } = base.size;
  const spacing = Math.max(width, height) / (NODES - 1);
  const [columns, rows] = [width, height].map((length) => Math.max(2, Math.round(length / spacing) + 1));
  const coarse = Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / 160)));
  const stops = exposureStops(wholeSignal(base, coarse, FLOOR), wholeSignal(frame, coarse, FLOOR));
  const pair: Pair = { base, frame, floors: floorsFor(stops) };
  const from = Math.min(COARSEST, Math.max(0, Math.ceil(Math.log2(limit / REACH))));
  const found: (Point | undefined)[] = [];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      if (isCancelled()) throw new AlignCancelled();
      onProgress(found.length / (rows * columns));
      const at = nodeAt({ columns, rows }, base.size, column, row);
      found.push(moveAt(pair, at, placement, from, limit));
    }
  return smoothedOver(found, columns, rows);
}

/** Where a node lies, in pixels of the base. */
function nodeAt(
  { columns, rows }: Pick<LocalGrid, 'columns' | 'rows'>,
  { width, height }: Size,
  column: number,
  row: number,
): Point {
  return { x: (column / (columns - 1)) * (width - 1), y: (row / (rows - 1)) * (height - 1) };
}

/** How far the frame has to be moved at a place, from the coarsest level to the finest; undefined when it is not known. */
function moveAt(pair: Pair, at: Point, placement: Matrix3, coarsest: number, limit: number): Point | undefined {
  let move: Point = { x: 0, y: 0 };
  for (let level = coarsest; level >= 0; level--) {
    const step = 2 ** level;
    const inside = (value: number, length: number) =>
      Math.round(Math.min(length / step - PATCH / 2 - 2, Math.max(PATCH / 2 + 2, (value + 0.5) / step - 0.5)));
    const centre = { x: inside(at.x, pair.base.size.width), y: inside(at.y, pair.base.size.height) };
    const moved = compose(placement, shiftMatrix(move.x, move.y));
    const match = matchPatch(pair, level, centre, moved);
    if (typeof match === 'string') return undefined;
    const lies = mapPoint(placement, match.match.from);
    move = { x: match.match.to.x - lies.x, y: match.match.to.y - lies.y };
    if (Math.hypot(move.x, move.y) > limit) return undefined;
    if (level > 0) continue;
    const [xx, xy, yy] = match.match.sureness;
    const determinant = xx * yy - xy * xy;
    if (!(determinant > 0) || Math.sqrt((xx + yy) / determinant) > UNSURE) return undefined;
  }
  return move;
}

/** The middle one, the upper of two; puts them in order. */
export const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1];

function smoothedOver(found: readonly (Point | undefined)[], columns: number, rows: number): LocalGrid {
  const around = (index: number) => {
    const near: Point[] = [];
    const [column, row] = [index % columns, Math.floor(index / columns)];
    for (let y = Math.max(0, row - 1); y <= Math.min(rows - 1, row + 1); y++)
      for (let x = Math.max(0, column - 1); x <= Math.min(columns - 1, column + 1); x++) {
        const move = found[y * columns + x];
        if (move) near.push(move);
      }
    return near;
  };
  const kept = found.map((move, index) => {
    if (!move) return undefined;
    const near = around(index);
    const off = Math.hypot(move.x - median(near.map(({ x }) => x)), move.y - median(near.map(({ y }) => y)));
    return near.length >= 3 && off <= OUTLIER ? move : undefined;
  });
  const [dx, dy]: [number[], number[]] = [[], []];
  for (let index = 0; index < found.length; index++) {
    let [sum, x, y] = [STAYED, 0, 0];
    const [column, row] = [index % columns, Math.floor(index / columns)];
    for (let other = 0; other < kept.length; other++) {
      const move = kept[other];
      if (!move) continue;
      const away = ((other % columns) - column) ** 2 + (Math.floor(other / columns) - row) ** 2;
      const weight = Math.exp(-away / (2 * SPREAD * SPREAD));
      sum += weight;
      x += weight * move.x;
      y += weight * move.y;
    }
    dx.push(x / sum);
    dy.push(y / sum);
  }
  return { columns, rows, dx, dy };
}

/** How far a place is moved.
 * @param at - In pixels of the base; beyond the picture its edge repeats. */
export function moveOfGrid({ columns, rows, dx, dy }: LocalGrid, { width, height }: Size, at: Point): Point {
  const u = Math.min(columns - 1, Math.max(0, (at.x / (width - 1)) * (columns - 1)));
  const v = Math.min(rows - 1, Math.max(0, (at.y / (height - 1)) * (rows - 1)));
  const [left, top] = [Math.min(columns - 2, Math.floor(u)), Math.min(rows - 2, Math.floor(v))];
  const [s, t] = [u - left, v - top];
  const read = (values: readonly number[]) => {
    const i = top * columns + left;
    const upper = values[i] + (values[i + 1] - values[i]) * s;
    const lower = values[i + columns] + (values[i + columns + 1] - values[i + columns]) * s;
    return upper + (lower - upper) * t;
  };
  return { x: read(dx), y: read(dy) };
}

/** The farthest that a grid moves anything, in pixels. */
export const farthest = ({ dx, dy }: LocalGrid): number => Math.max(...dx.map((x, i) => Math.hypot(x, dy[i])));

/** The places of a grid's nodes, each with how far it moves there. */
export const arrowsOf = (grid: LocalGrid, size: Size): { at: Point; by: Point }[] =>
  grid.dx.map((x, i) => ({
    at: nodeAt(grid, size, i % grid.columns, Math.floor(i / grid.columns)),
    by: { x, y: grid.dy[i] },
  }));
