import type { Size } from '../raster/size.ts';

/** A channel as a grey picture, or a piece of one. */
export interface GreySketch extends Size {
  /** Scene pixels for one of the sketch. */
  step: number;
  /** 0..1. */
  grey: Float32Array;
}

/** Where a piece of a picture begins, in its pixels. */
export interface PieceAt {
  x: number;
  y: number;
}

/** How far a border is followed to each side, and in which steps, in pixels of the sketch. */
const FOLLOWED = 60;
const STEP = 0.25;
/** Values nearer than this have no border worth the name between them. */
const LEAST_WAY = 0.01;
/** Borders narrower than this many pixels of a sketch are not known from it. */
const RESOLVED = 3;

export const median = (sorted: readonly number[]): number => sorted[sorted.length >> 1] ?? 0;

/** How wide the borders of a sketch are between two values, in scene pixels: at every place where it passes the middle it is followed
 * both ways along its slope, between pixels linearly, to a quarter and to three quarters of the way. Places where it does not get that
 * far are no border.
 * @returns Widths in order; a step from one pixel to the next has half a pixel. */
export function borderWidths(sketch: GreySketch, from: number, to: number): number[] {
  const way = to - from;
  if (Math.abs(way) < LEAST_WAY) return [];
  const { width, grey, step } = sketch;
  const widths: number[] = [];
  for (const at of crossings(sketch, (from + to) / 2)) {
    const [dx, dy] = [grey[at + 1] - grey[at - 1], grey[at + width] - grey[at - width]];
    const slope = Math.hypot(dx, dy);
    if (slope === 0) continue;
    const towards = Math.sign(way) / slope;
    const [nx, ny] = [dx * towards, dy * towards];
    const share = (s: number) => (valueAt(sketch, (at % width) + nx * s, Math.floor(at / width) + ny * s) - from) / way;
    const [up, down] = [followed(share, 0.75, 1), followed(share, 0.25, -1)];
    if (up !== undefined && down !== undefined) widths.push((up - down) * step);
  }
  return widths.sort((p, q) => p - q);
}

/** Whether a width is known from a sketch, or lies below what it resolves. */
export const isResolved = (px: number, { step }: GreySketch): boolean => px >= RESOLVED * step;

/** Pieces of a picture in which it passes a value most often.
 * @param side - Of a piece in scene pixels, which the pieces lie side by side with. */
export function piecesWithBorders(sketch: GreySketch, middle: number, side: number, most: number): PieceAt[] {
  const counts = new Map<string, { piece: PieceAt; count: number }>();
  for (const at of crossings(sketch, middle)) {
    const place = (pixels: number) => Math.floor((pixels * sketch.step) / side) * side;
    const piece = { x: place(at % sketch.width), y: place(Math.floor(at / sketch.width)) };
    const known = counts.get(`${piece.x},${piece.y}`);
    if (known) known.count++;
    else counts.set(`${piece.x},${piece.y}`, { piece, count: 1 });
  }
  const ranked = [...counts.values()].sort((a, b) => b.count - a.count);
  return ranked.slice(0, most).map(({ piece }) => piece);
}

/** Pixels after which, to the right or below, a sketch passes a value. */
function* crossings({ width, height, grey }: GreySketch, middle: number): Generator<number> {
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const at = y * width + x;
      const here = grey[at] >= middle;
      if (here !== grey[at + 1] >= middle || here !== grey[at + width] >= middle) yield at;
    }
}

/** How far one must go, one way, until a share is reached; undefined when it is not. */
function followed(share: (s: number) => number, wanted: number, way: 1 | -1): number | undefined {
  const isThere = (value: number) => (way > 0 ? value >= wanted : value <= wanted);
  // The middle need not lie in the pixel that it is followed from.
  let s = -way;
  let value = share(s);
  if (isThere(value)) return undefined;
  while (Math.abs(s) < FOLLOWED) {
    const next = s + way * STEP;
    const then = share(next);
    if (isThere(then)) return s + way * STEP * ((wanted - value) / (then - value));
    s = next;
    value = then;
  }
  return undefined;
}

function valueAt({ width, height, grey }: GreySketch, x: number, y: number): number {
  const clampedX = Math.min(width - 1, Math.max(0, x));
  const clampedY = Math.min(height - 1, Math.max(0, y));
  const x0 = Math.min(width - 2, Math.floor(clampedX));
  const y0 = Math.min(height - 2, Math.floor(clampedY));
  const [fx, fy] = [clampedX - x0, clampedY - y0];
  const at = y0 * width + x0;
  const upper = grey[at] + (grey[at + 1] - grey[at]) * fx;
  const lower = grey[at + width] + (grey[at + width + 1] - grey[at + width]) * fx;
  return upper + (lower - upper) * fy;
}
