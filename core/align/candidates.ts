import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import type { Point } from './placement.ts';
import type { ToneSignal } from './toneSignal.ts';

/** Cells that the picture is cut into, and places taken of each, so that all of it has a say. */
const COLUMNS = 17;
const ROWS = 11;
const PER_CELL = 2;
/** Half the side of the window in which tones are looked at. */
const WINDOW = 4;
/** What edges count for against corners: they tell of one direction only. */
const EDGES = 0.06;
/** Variation of stops, squared, below which there is nothing to find again. */
const LEAST = 2e-5;

/** Places of the base at which both pictures hold tones that can be found again: the best of each cell, by the lesser
 * eigenvalue of the structure tensor (Shi and Tomasi 1994).
 * @param placement - Frame to base, in pixels of the signals' level.
 * @param wanted - How much a place of the base is to be looked at, 0..1.
 * @returns In pixels of the signals' level, cell by cell. */
export function candidates(
  base: ToneSignal,
  frame: ToneSignal,
  placement: Matrix3,
  wanted: (at: Point) => number,
): Point[] {
  const score = scores(base, inBoth(base, frame, placement));
  const { width, height } = base;
  const found: Point[] = [];
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++) {
      const cell = {
        x: Math.floor((column * width) / COLUMNS),
        y: Math.floor((row * height) / ROWS),
        width: Math.floor(width / COLUMNS),
        height: Math.floor(height / ROWS),
      };
      found.push(...bestOf(score, width, height, cell, wanted));
    }
  return found;
}

function bestOf(
  score: Float32Array,
  width: number,
  height: number,
  cell: { x: number; y: number } & Size,
  wanted: (at: Point) => number,
): Point[] {
  const found: Point[] = [];
  const apart = Math.max(4, Math.min(cell.width, cell.height) / 3);
  for (let take = 0; take < PER_CELL; take++) {
    let most = LEAST;
    let best: Point | undefined;
    for (let y = cell.y; y < cell.y + cell.height && y < height; y++)
      for (let x = cell.x; x < cell.x + cell.width && x < width; x++) {
        if (score[y * width + x] <= most) continue;
        if (found.some((other) => Math.hypot(other.x - x, other.y - y) < apart) || wanted({ x, y }) < 0.5) continue;
        most = score[y * width + x];
        best = { x, y };
      }
    if (best) found.push(best);
  }
  return found;
}

/** How far each pixel of the base can be trusted in both. */
function inBoth(base: ToneSignal, frame: ToneSignal, placement: Matrix3): Float32Array {
  const toFrame = invert3(placement);
  const out = new Float32Array(base.weight.length);
  const { width, height } = base;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const w = toFrame[6] * x + toFrame[7] * y + toFrame[8];
      const u = Math.round((toFrame[0] * x + toFrame[1] * y + toFrame[2]) / w);
      const v = Math.round((toFrame[3] * x + toFrame[4] * y + toFrame[5]) / w);
      if (u < 0 || v < 0 || u >= frame.width || v >= frame.height) continue;
      out[y * width + x] = base.weight[y * width + x] * frame.weight[v * frame.width + u];
    }
  return out;
}

function scores({ value, width, height }: ToneSignal, weight: Float32Array): Float32Array {
  const [xx, xy, yy] = [0, 1, 2].map(() => new Float32Array(value.length));
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      if (weight[i] === 0) continue;
      const gx = (value[i + 1] - value[i - 1]) / 2;
      const gy = (value[i + width] - value[i - width]) / 2;
      xx[i] = weight[i] * gx * gx;
      xy[i] = weight[i] * gx * gy;
      yy[i] = weight[i] * gy * gy;
    }
  const [a, b, d] = [xx, xy, yy].map((plane) => boxMeans(plane, width, height));
  const out = new Float32Array(value.length);
  for (let i = 0; i < out.length; i++) {
    const mean = (a[i] + d[i]) / 2;
    const half = (a[i] - d[i]) / 2;
    const root = Math.sqrt(half * half + b[i] * b[i]);
    out[i] = mean - root + EDGES * (mean + root);
  }
  return out;
}

/** Means over a window; zero where the window leaves the picture. */
function boxMeans(plane: Float32Array, width: number, height: number): Float32Array {
  const side = 2 * WINDOW + 1;
  const rows = new Float32Array(plane.length);
  for (let y = 0; y < height; y++) {
    let sum = 0;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      sum += plane[i];
      if (x >= side) sum -= plane[i - side];
      if (x >= side - 1) rows[i - WINDOW] = sum / side;
    }
  }
  const out = new Float32Array(plane.length);
  const sums = new Float64Array(width);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      sums[x] += rows[i];
      if (y >= side) sums[x] -= rows[i - side * width];
      if (y >= side - 1) out[i - WINDOW * width] = sums[x] / side;
    }
  return out;
}
