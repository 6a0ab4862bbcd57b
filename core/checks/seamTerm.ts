import { levelSize } from '../raster/size.ts';
import type { CheckedBlock, CheckedItem } from './checkedBlock.ts';
import { contrastAt, meanAlong } from './planes.ts';
import { maskedStep, stepSeenWithin } from './visibility.ts';

/** The gradient of a blend is the weighted gradients of what is blended plus (difference of what is blended) x (gradient of the mask):
 * follows from the product rule; the second, the *seam term*, is the blend's own. Over a length it shows as a ridge or a step of the blend
 * that is in none of the pictures blended: bands brighter or darker than both their sides (gradients turned round), and steps. */

/** Directions that are looked in, as columns and rows, and those across them. */
const DIRECTIONS = [
  { look: [1, 0], along: [0, 1] },
  { look: [0, 1], along: [1, 0] },
  { look: [1, 1], along: [-1, 1] },
  { look: [1, -1], along: [1, 1] },
] as const;

/** Every other pixel of every other row is looked at: tones are means along lines there. */
const STEP = 2;

/** How far bands run to each side, in lengths that they are looked for over: fine ones along edges, wide ones where brushes were. */
const RUN = { fine: 2, wide: 1 } as const;
/** Scene pixels from which on a length is wide. */
const WIDE = 16;

/** Share of what is laid that is seen, below which nothing is looked for. */
const LEAST_SEEN = 0.05;

/** A change of share over the length below which there is no seam. */
const LEAST_CHANGE = 0.01;

/** Tones by which nothing stands out yet. */
const LEAST_EXCESS = 0.004;

/** Most that the detail of a picture that is blended counts more where the blend is brighter. */
const MOST_GAIN = 3;

/** A difference of tones across a place from which on it lies beside an edge of the picture. */
const EDGE = 0.06;

/** Scene pixels over which changes are looked for at most. */
const WIDEST = 200;

export interface Seam {
  /** Pixels from the left and top of what is judged. */
  x: number;
  y: number;
  sample: number;
  strength: number;
  /** Tone of the ridge against its sides, or of the step; negative for dark ones. */
  height: number;
  /** A band with sides, or a step. */
  isBand: boolean;
  isBesideEdge: boolean;
  /** Samples to the next in the direction that it was found in. */
  along: number;
  /** Tone beside it. */
  beside: number;
  /** Tone of what is laid against what it lies on. */
  over: number;
}

/** Lengths that are looked over at a level, in its pixels; finer ones only at the finest level that is looked at. */
export function lengthsAt(level: number, isFinest: boolean): number[] {
  return (isFinest ? [2, 4] : [4]).filter((length) => 2 * length * 2 ** level <= WIDEST);
}

/** Seams of blocks, by what they were looked for over: rims and seams are read off the same. */
const known = new WeakMap<CheckedBlock, { lengths: string; seams: readonly (readonly [CheckedItem, Seam])[] }>();

/** What the seam term makes seen of the items in a block. Bands run along something: tones are means along lines across the direction that is
 * looked in, so that single twigs count little. */
export function seamsIn(block: CheckedBlock, lengths: readonly number[]): readonly (readonly [CheckedItem, Seam])[] {
  const before = known.get(block);
  if (before?.lengths === lengths.join()) return before.seams;
  const seams: (readonly [CheckedItem, Seam])[] = [];
  for (const item of block.items)
    for (const length of lengths)
      block.pool.within(() => lookOver(block, item, length, (seam) => seams.push([item, seam])));
  known.set(block, { lengths: lengths.join(), seams });
  return seams;
}

function lookOver(block: CheckedBlock, item: CheckedItem, length: number, take: (seam: Seam) => void): void {
  const { stride, pool, level, size } = block;
  const longest = Math.max(size.width, size.height);
  const least = {
    band: stepSeenWithin(length * 2 ** level, longest),
    step: stepSeenWithin(2 * length * 2 ** level, longest),
  };
  const where = placesToLook(block, item, length, 0.8 * Math.min(least.band, least.step));
  if (where.length === 0) return;
  const run = length * (length * 2 ** level < WIDE ? RUN.fine : RUN.wide);
  const around = contrastAt(item.result.tone, stride, length, pool);
  for (const { look, along } of DIRECTIONS)
    pool.within(() => {
      const [below, content, result] = [item.below, item.content, item.result].map(({ tone }) =>
        meanAlong(tone, stride, along, run, pool),
      );
      const by = length * (look[1] * stride + look[0]);
      scan(block, item, { below, content, result, around }, { length, by, where, least }, take);
    });
}

/** Samples where a share changes over a length, by so much that anything could be seen: what is laid differs from what it is laid on by so much.
 * @param least - Change of tone that is seen. */
function placesToLook(
  { region, margin, stride, level, size }: CheckedBlock,
  { share, seen, below, content }: CheckedItem,
  length: number,
  least: number,
): Int32Array {
  const places: number[] = [];
  const { width, height } = levelSize(size, level);
  // At the picture's own edge there is only one side, and the border of a placed frame.
  const [fromX, fromY] = [region.x, region.y].map((from) => evenUp(Math.max(0, 2 * length - from)));
  const toX = Math.min(region.width, width - 2 * length - region.x);
  const toY = Math.min(region.height, height - 2 * length - region.y);
  const [under, over] = [below.tone, content.tone];
  for (let y = fromY; y < toY; y += STEP)
    for (let x = fromX; x < toX; x += STEP) {
      const at = (y + margin) * stride + x + margin;
      if (seen[at] < LEAST_SEEN) continue;
      const change = changeAround(share, at, length, stride);
      if (change < LEAST_CHANGE) continue;
      const down = length * stride;
      const apart = Math.max(
        Math.abs(over[at] - under[at]),
        Math.abs(over[at - length] - under[at - length]),
        Math.abs(over[at + length] - under[at + length]),
        Math.abs(over[at - down] - under[at - down]),
        Math.abs(over[at + down] - under[at + down]),
      );
      if (change * apart * seen[at] >= least) places.push(at);
    }
  return Int32Array.from(places);
}

const evenUp = (value: number): number => value + (value & 1);

interface Tones {
  below: Float32Array;
  content: Float32Array;
  result: Float32Array;
  around: Float32Array;
}

interface Looked {
  length: number;
  /** Samples from a place to its side. */
  by: number;
  where: Int32Array;
  /** Changes of tone that are seen on even ground. */
  least: { band: number; step: number };
}

function scan(
  { margin, stride }: CheckedBlock,
  { seen }: CheckedItem,
  { below, content, result, around }: Tones,
  { length, by, where, least: seenFrom }: Looked,
  take: (seam: Seam) => void,
): void {
  const next = (2 * by) / length;
  for (let i = 0; i < where.length; i++) {
    const at = where[i];
    const [middle, a, b] = [result[at], result[at - by], result[at + by]];
    const [most, least] = [Math.max(a, b), Math.min(a, b)];
    const isHigh = middle > most;
    const isBand = isHigh || middle < least;
    const shape = isHigh ? ridge : isBand ? valley : step;
    const whole = shape(result, at, by);
    if (whole < LEAST_EXCESS) continue;
    const excess =
      whole - Math.max(0, ownShape(shape, below, result, at, by, next), ownShape(shape, content, result, at, by, next));
    if (excess <= 0) continue;
    const quiet = Math.min(around[at - 2 * by], around[at + 2 * by]);
    const strength = (excess * seen[at]) / maskedStep(isBand ? seenFrom.band : seenFrom.step, quiet);
    if (strength <= 1) continue;
    const across = Math.max(step(below, at, 2 * by), step(content, at, 2 * by));
    take({
      x: (at % stride) - margin,
      y: Math.floor(at / stride) - margin,
      sample: at,
      strength,
      height: isBand && !isHigh ? -excess : excess,
      isBand,
      isBesideEdge: across > EDGE,
      along: by / length,
      beside: isHigh || !isBand ? most : least,
      over: content[at] - below[at],
    });
  }
}

type Shape = (tones: Float32Array, at: number, by: number) => number;

/** How far a picture that is blended stands out there by itself: what it has there or beside, brought to the blend's tone. */
function ownShape(shape: Shape, own: Float32Array, result: Float32Array, at: number, by: number, next: number): number {
  const near = Math.max(shape(own, at, by), shape(own, at - next, by), shape(own, at + next, by));
  const gain = result[at] / Math.max(0.02, own[at]);
  return near * Math.min(MOST_GAIN, Math.max(1, gain));
}

/** How far the middle of a place stands out of both its sides; above them, below them; and what lies between its sides. */
const step = (tones: Float32Array, at: number, by: number) => Math.abs(tones[at - by] - tones[at + by]);
const ridge = (tones: Float32Array, at: number, by: number) => tones[at] - Math.max(tones[at - by], tones[at + by]);
const valley = (tones: Float32Array, at: number, by: number) => Math.min(tones[at - by], tones[at + by]) - tones[at];

/** How much a share changes around a place. */
function changeAround(share: Float32Array, at: number, length: number, stride: number): number {
  const [left, right, up, down] = [
    share[at - length],
    share[at + length],
    share[at - length * stride],
    share[at + length * stride],
  ];
  return Math.max(left, right, up, down, share[at]) - Math.min(left, right, up, down, share[at]);
}

/** Scene pixels across a band in which it keeps half of its height. */
export function bandWidth(seam: Seam, tones: Float32Array, { stride, level }: CheckedBlock): number {
  const least = seam.beside + seam.height / 2;
  const isIn = (at: number) => (seam.height > 0 ? tones[at] > least : tones[at] < least);
  let width = 1;
  for (const way of [-1, 1])
    for (let i = 1; i <= MOST_SAMPLES && isIn(seam.sample + way * i * seam.along); i++) width++;
  const isSlanted = Math.abs(seam.along) !== 1 && Math.abs(seam.along) !== stride;
  return width * (isSlanted ? Math.SQRT2 : 1) * 2 ** level;
}

/** Samples that a band is followed to each side. */
const MOST_SAMPLES = 16;
