import { IDENTITY3, type Matrix3 } from '../raster/matrix3.ts';
import { type Match, missOf } from './fit.ts';
import type { Point } from './placement.ts';
import type { ToneSignal } from './toneSignal.ts';

/** Side of a block, and how far apart blocks are, in pixels of the coarse level. */
const BLOCK = 20;
const STEP = 7;
/** How far a block may have moved, as a share of the picture's longer side. */
const REACH = 0.1;
const LEAST_SHARE = 0.35;
const LEAST_CORRELATION = 0.6;
/** Variance of stops within a block below which there is nothing to find again. */
const LEAST_VARIANCE = 0.0004;

/** Where blocks of a small picture lie in another, to whole pixels: the place of the highest correlation of tones, of those
 * pixels that both hold.
 * @param wanted - How much each place of the base is to be looked at, 0..1.
 * @returns From the second picture to the first, in their pixels. */
export function findBlocks(base: ToneSignal, frame: ToneSignal, wanted: (at: Point) => number): Match[] {
  const reach = Math.ceil(REACH * Math.max(base.width, base.height));
  const matches: Match[] = [];
  for (let y = 0; y + BLOCK <= base.height; y += STEP) {
    for (let x = 0; x + BLOCK <= base.width; x += STEP) {
      if (wanted({ x: x + BLOCK / 2, y: y + BLOCK / 2 }) < 0.5) continue;
      const found = findBlock(base, frame, x, y, reach);
      if (!found) continue;
      const centre = (BLOCK - 1) / 2;
      matches.push({
        from: { x: x + centre + found.x, y: y + centre + found.y },
        to: { x: x + centre, y: y + centre },
        sureness: [1, 0, 1],
      });
    }
  }
  return matches;
}

/** Where the block of the base around a point lies in the frame, against where it is expected, to whole pixels.
 * @returns Undefined when nothing there looks like it. */
export function findAround(
  base: ToneSignal,
  frame: ToneSignal,
  at: Point,
  expected: Point,
  reach: number,
): Point | undefined {
  const half = BLOCK / 2;
  const [x, y] = [Math.round(at.x) - half, Math.round(at.y) - half];
  if (x < 0 || y < 0 || x + BLOCK > base.width || y + BLOCK > base.height) return undefined;
  const [ox, oy] = [Math.round(expected.x - at.x), Math.round(expected.y - at.y)];
  const found = findBlock(base, frame, x, y, reach, { x: ox, y: oy });
  return found && { x: found.x - ox, y: found.y - oy };
}

/** Every second place first, then those around the best. */
function findBlock(
  base: ToneSignal,
  frame: ToneSignal,
  x: number,
  y: number,
  reach: number,
  middle: Point = { x: 0, y: 0 },
): Point | undefined {
  let best: Point | undefined;
  let highest = 0;
  const search = (around: Point, far: number, step: number) => {
    for (let dy = around.y - far; dy <= around.y + far; dy += step) {
      if (y + dy < 0 || y + dy + BLOCK > frame.height) continue;
      for (let dx = around.x - far; dx <= around.x + far; dx += step) {
        if (x + dx < 0 || x + dx + BLOCK > frame.width) continue;
        const correlation = correlationOf(base, x, y, frame, x + dx, y + dy);
        if (correlation <= highest) continue;
        highest = correlation;
        best = { x: dx, y: dy };
      }
    }
  };
  search(middle, reach - (reach % 2), 2);
  if (best) search(best, 1, 1);
  return highest > LEAST_CORRELATION ? best : undefined;
}

/** Correlation of two blocks' tones, weighted by what both hold; 0 when they hold too little. */
function correlationOf(a: ToneSignal, ax: number, ay: number, b: ToneSignal, bx: number, by: number): number {
  let w = 0;
  let sa = 0;
  let sb = 0;
  let saa = 0;
  let sbb = 0;
  let sab = 0;
  for (let row = 0; row < BLOCK; row++) {
    let i = (ay + row) * a.width + ax;
    let j = (by + row) * b.width + bx;
    for (let column = 0; column < BLOCK; column++, i++, j++) {
      const weight = a.weight[i] * b.weight[j];
      const p = a.value[i];
      const q = b.value[j];
      w += weight;
      sa += weight * p;
      sb += weight * q;
      saa += weight * p * p;
      sbb += weight * q * q;
      sab += weight * p * q;
    }
  }
  if (w < LEAST_SHARE * BLOCK * BLOCK) return 0;
  const [va, vb] = [saa / w - (sa / w) ** 2, sbb / w - (sb / w) ** 2];
  if (va < LEAST_VARIANCE || vb < LEAST_VARIANCE / 8) return 0;
  return (sab / w - (sa / w) * (sb / w)) / Math.sqrt(va * vb);
}

/** Motions that pictures out of one hand have: scale and turn beyond them are chance. */
const MOST_SCALE = 0.2;
const MOST_TURN = 0.25;
const TRIALS = 600;

/** The shift, turn and scale that most matches agree on (random samples of two: Fischler and Bolles 1981); undefined when
 * fewer than `least` do.
 * @param within - How far a match may be off, in its pixels. */
export function consensus(matches: readonly Match[], within: number, least: number): Matrix3 | undefined {
  let best: Matrix3 | undefined;
  let most = least - 1;
  const consider = (matrix: Matrix3) => {
    const count = matches.reduce((sum, match) => sum + (missOf(match, matrix) <= within ? 1 : 0), 0);
    if (count <= most) return;
    most = count;
    best = matrix;
  };
  consider(IDENTITY3);
  let seed = 12345;
  const random = () => {
    // Numerical Recipes' quick generator: the same trials every time, so that results can be repeated.
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return matches[Math.floor((seed / 4294967296) * matches.length)];
  };
  for (let trial = 0; trial < TRIALS && matches.length > 1; trial++) {
    const matrix = similarityOf(random(), random());
    if (matrix) consider(matrix);
  }
  return best;
}

/** The similarity that takes two points to two others; undefined for points too close and motions too large. */
function similarityOf(p: Match, q: Match): Matrix3 | undefined {
  const [dx, dy] = [q.from.x - p.from.x, q.from.y - p.from.y];
  const [ex, ey] = [q.to.x - p.to.x, q.to.y - p.to.y];
  const length = dx * dx + dy * dy;
  if (length < BLOCK * BLOCK) return undefined;
  const [c, s] = [(dx * ex + dy * ey) / length, (dx * ey - dy * ex) / length];
  if (Math.abs(Math.hypot(c, s) - 1) > MOST_SCALE || Math.abs(Math.atan2(s, c)) > MOST_TURN) return undefined;
  return [c, -s, p.to.x - c * p.from.x + s * p.from.y, s, c, p.to.y - s * p.from.x - c * p.from.y, 0, 0, 1];
}
