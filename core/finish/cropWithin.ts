import type { Point } from '../align/placement.ts';
import { invert3, times3 } from '../raster/matrix3.ts';
import type { Region } from '../raster/size.ts';

/** A side of an area: places inside are those with `x nx + y ny <= d`. */
interface Side {
  nx: number;
  ny: number;
  d: number;
}

/** Sides of a convex area whose corners run clockwise on screen. */
function sidesOf(corners: readonly Point[]): Side[] {
  return corners.map((from, i) => {
    const to = corners[(i + 1) % corners.length];
    const length = Math.hypot(to.x - from.x, to.y - from.y) || 1;
    const [nx, ny] = [(to.y - from.y) / length, -(to.x - from.x) / length];
    return { nx, ny, d: nx * from.x + ny * from.y };
  });
}

/** By how much of its half width a rectangle of a ratio reaches towards a side. */
const reachOf = ({ nx, ny }: Side, ratio: number): number => Math.abs(nx) + Math.abs(ny) / ratio;

/** Rounding that whole pixels forgive. */
const SLACK = 1e-6;

/** The largest upright rectangle of a ratio within a convex area: its middle and half width are found where three sides hold it, as corners of a linear
 * program (Dantzig).
 * @param ratio - Width against height.
 * @returns In whole pixels, undefined when there is none. */
export function largestWithin(corners: readonly Point[], ratio: number): Region | undefined {
  const sides = sidesOf(corners);
  let best: [number, number, number] | undefined;
  for (const rows of triplesOf(sides)) {
    const matrix = rows.flatMap((side) => [side.nx, side.ny, reachOf(side, ratio)]);
    const found = solved(
      matrix,
      rows.map(({ d }) => d),
    );
    if (!found || found[2] <= (best?.[2] ?? 0)) continue;
    const [x, y, half] = found;
    if (sides.every((side) => x * side.nx + y * side.ny + half * reachOf(side, ratio) <= side.d + SLACK)) best = found;
  }
  return best && wholePixels(towardsMiddle(best, corners, sides, ratio), ratio);
}

/** Where there is room to and fro, it is taken in equal parts: as near to the middle of the area as it can be. */
function towardsMiddle(
  [x, y, half]: [number, number, number],
  corners: readonly Point[],
  sides: readonly Side[],
  ratio: number,
): [number, number, number] {
  const middle = { x: meanOf(corners.map((at) => at.x)), y: meanOf(corners.map((at) => at.y)) };
  const fits = (share: number) => {
    const [cx, cy] = [x + share * (middle.x - x), y + share * (middle.y - y)];
    return sides.every((side) => cx * side.nx + cy * side.ny + half * reachOf(side, ratio) <= side.d + SLACK);
  };
  let [inside, outside] = [0, 1];
  if (fits(1)) inside = 1;
  else
    for (let round = 0; round < 30; round++) {
      const between = (inside + outside) / 2;
      if (fits(between)) inside = between;
      else outside = between;
    }
  return [x + inside * (middle.x - x), y + inside * (middle.y - y), half];
}

const meanOf = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

function wholePixels([x, y, half]: [number, number, number], ratio: number): Region | undefined {
  const [width, height] = [Math.floor(2 * half + SLACK), Math.floor((2 * half) / ratio + SLACK)];
  // Not the zero below zero.
  const [left, top] = [Math.round(x - width / 2 - SLACK) || 0, Math.round(y - height / 2 - SLACK) || 0];
  return width > 0 && height > 0 ? { x: left, y: top, width, height } : undefined;
}

function solved(matrix: readonly number[], d: readonly number[]): [number, number, number] | undefined {
  try {
    const found = times3(invert3(matrix), d);
    return found.every(Number.isFinite) ? found : undefined;
  } catch {
    return undefined; // sides that run alike hold it nowhere
  }
}

function* triplesOf<T>(list: readonly T[]): Generator<[T, T, T]> {
  for (let i = 0; i < list.length; i++)
    for (let j = i + 1; j < list.length; j++)
      for (let k = j + 1; k < list.length; k++) yield [list[i], list[j], list[k]];
}

/** Whether a part lies within a convex area, but for rounding. */
export function liesWithin({ x, y, width, height }: Region, corners: readonly Point[]): boolean {
  const own = [
    { x, y },
    { x: x + width, y },
    { x: x + width, y: y + height },
    { x, y: y + height },
  ];
  const sides = sidesOf(corners);
  return own.every((at) => sides.every(({ nx, ny, d }) => at.x * nx + at.y * ny <= d + 1));
}

/** A part moved into an area no farther than it must be, made smaller where it does not fit; undefined when nothing fits. */
export function movedWithin(part: Region, corners: readonly Point[]): Region | undefined {
  if (liesWithin(part, corners)) return part;
  const ratio = part.width / part.height;
  const largest = largestWithin(corners, ratio);
  if (!largest) return undefined;
  if (largest.width <= part.width) return largest;
  // Between the two there is a place where it fits as it is: it is moved no farther than it must be.
  let [inside, outside] = [1, 0];
  const at = (share: number): Region => ({
    ...part,
    x: Math.round(part.x + share * (largest.x + (largest.width - part.width) / 2 - part.x)),
    y: Math.round(part.y + share * (largest.y + (largest.height - part.height) / 2 - part.y)),
  });
  for (let round = 0; round < 20; round++) {
    const middle = (inside + outside) / 2;
    if (liesWithin(at(middle), corners)) inside = middle;
    else outside = middle;
  }
  return at(inside);
}
