import { Cells, type CheckedBlock, type CheckedFrame, type Found, forCells } from './checkedBlock.ts';
import { BLOCKED_TO, BLOWN_FROM } from './limits.ts';
import { boxMean } from './planes.ts';

/** Half the side of what is compared, and how far a motion is looked for, in pixels of the level; both lie within what a block has around it. */
const RADIUS = 8;
const REACH = 8;
/** Weights between which a frame shows only partly. */
const PARTLY = [0.1, 0.9] as const;
/** Agreement below which frames differ, of 1, and from which on a motion is one. */
const AGREE = 0.75;
const FOUND = 0.85;
/** Contrast of the detail that there has to be, in deviations of noise and in encoded tone. */
const BEYOND_NOISE = 4;
const LEAST_DETAIL = 0.012;
/** A doubled edge of this tone is just seen in what else there is (see `visibility.ts`). */
const JUST_SEEN = 0.01;

/** Ghosts: where two frames that both show differ by more than noise after their tones are matched, by the normalized correlation of their
 * detail (Lewis 1995, "Fast normalized cross-correlation"), which neither exposure nor offset changes. A motion is the shift that makes them
 * agree. */
export function ghosts(block: CheckedBlock): Found[] {
  const cells = new Cells(block);
  const { stride, level } = block;
  const partly = block.frames
    .map((frame) => ({ frame, weight: boxMean(frame.weight, stride, 3, block.pool) }))
    .filter(({ weight }) => weight.some((each) => each > PARTLY[0] && each < PARTLY[1]));
  for (const [index, a] of partly.entries())
    for (const b of partly.slice(index + 1)) {
      const doubled: Doubled[] = [];
      forCells(block, (x, y, at) => {
        if (![a, b].every(({ weight }) => weight[at] > PARTLY[0] && weight[at] < PARTLY[1])) return;
        const [one, two] = [a, b].map(({ frame }) => patchOf(frame, at, 0, stride));
        if (![one, two].every((patch, i) => isDetail(patch, [a, b][i].frame, level))) return;
        const agreement = correlation(one, two);
        if (agreement > AGREE) return;
        const tone = Math.min(one.deviation, two.deviation) * (1 - agreement) * 4 * a.weight[at] * b.weight[at];
        if (tone > JUST_SEEN) doubled.push({ x, y, at, agreement, strength: tone / JUST_SEEN });
      });
      doubled.sort((one, other) => other.strength - one.strength);
      for (const [rank, { x, y, at, agreement, strength }] of doubled.entries()) {
        const motion = rank < MOST_MOTIONS ? motionOf(patchOf(a.frame, at, 0, stride), b.frame, at, stride) : undefined;
        const facts: Record<string, number> = {
          agreement,
          ...(motion !== undefined && { apartPx: motion * 2 ** level }),
        };
        cells.take(x, y, { check: 'ghosts', strength, frame: a.frame.id, other: b.frame.id, facts });
      }
    }
  return cells.all;
}

/** Motions are looked for where a block's frames differ most. */
const MOST_MOTIONS = 6;

interface Doubled {
  x: number;
  y: number;
  at: number;
  agreement: number;
  strength: number;
}

interface Patch {
  values: Float32Array;
  mean: number;
  deviation: number;
}

function patchOf({ picture }: CheckedFrame, at: number, by: number, stride: number): Patch {
  const side = 2 * RADIUS + 1;
  const values = new Float32Array(side * side);
  let [sum, squares] = [0, 0];
  for (let y = -RADIUS, i = 0; y <= RADIUS; y++)
    for (let x = -RADIUS; x <= RADIUS; x++, i++) {
      const value = picture.tone[at + by + y * stride + x];
      values[i] = value;
      sum += value;
      squares += value * value;
    }
  const mean = sum / values.length;
  return { values, mean, deviation: Math.sqrt(Math.max(0, squares / values.length - mean * mean)) };
}

function isDetail({ mean, deviation }: Patch, frame: CheckedFrame, level: number): boolean {
  const noise = frame.noiseAt(mean) / 2 ** level;
  const level255 = mean * 255;
  return (
    deviation > Math.max(LEAST_DETAIL, BEYOND_NOISE * noise) && level255 > BLOCKED_TO + 3 && level255 < BLOWN_FROM - 8
  );
}

function correlation(a: Patch, b: Patch): number {
  let sum = 0;
  for (let i = 0; i < a.values.length; i++) sum += (a.values[i] - a.mean) * (b.values[i] - b.mean);
  return sum / a.values.length / Math.max(1e-9, a.deviation * b.deviation);
}

/** How far the second frame has to be moved to agree, in pixels of the level; undefined where nothing agrees. */
function motionOf(one: Patch, frame: CheckedFrame, at: number, stride: number): number | undefined {
  let best = { agreement: FOUND, distance: Number.NaN };
  for (let y = -REACH; y <= REACH; y++)
    for (let x = -REACH; x <= REACH; x++) {
      const agreement = correlation(one, patchOf(frame, at, y * stride + x, stride));
      if (agreement > best.agreement) best = { agreement, distance: Math.hypot(x, y) };
    }
  return Number.isNaN(best.distance) ? undefined : best.distance;
}
