import { decodeSrgb } from '../color/srgb.ts';
import { Cells, type CheckedBlock, type Found, forCells } from './checkedBlock.ts';
import { BLOCKED_TO, BLOWN_FROM } from './limits.ts';
import type { PlanePool } from './planePool.ts';
import { boxMean } from './planes.ts';

/** Radii over which contrast is measured, in pixels of the level: of texture, and of shapes. */
const SCALES = [3, 8] as const;
/** Contrast in stops that there has to be in a frame, for anything to be missed. */
const LEAST_CONTRAST = 0.18;
/** Share of it below which a place is flat, and by how much more counts as much again. */
const KEPT = 0.75;
const AS_MUCH = 0.15;
/** Deviation of a mask within the radius below which it does not follow the detail. */
const FOLLOWS = 0.03;
/** How closely it has to follow. */
const LEAST_RELATION = 0.35;
/** Least that a frame shows, to be one of those that are blended there. */
const LEAST_WEIGHT = 0.04;
/** How often a mask goes up and down within the radius: across one edge of the picture, where contrast is meant to become less, it does so once. */
const LEAST_TURNS = 3;
/** Stops between quarters of a place from which on an edge of the picture runs through it. */
const EDGE_STOPS = 0.9;
/** Light below which differences are noise. */
const FLOOR = 0.0015;

/** Flat places: where the blend's local contrast, the deviation of log luminance at two scales, is much below that of the frame that holds
 * the place best, and a mask that follows the detail is the reason: tones were pulled together (the trade's fault "flat, muddy"; common
 * practice, no source). */
export function flatPlaces(block: CheckedBlock): Found[] {
  const cells = new Cells(block);
  for (const radius of SCALES) block.pool.within(() => lookAt(block, radius, cells));
  return cells.all;
}

function lookAt(block: CheckedBlock, radius: number, cells: Cells): void {
  const { stride, pool } = block;
  const items = block.items
    .map(({ id, share }) => ({ id, share, turns: turnsOf(share, stride, radius, pool) }))
    .filter(({ turns }) => turns.some((each) => each > LEAST_TURNS));
  if (items.length === 0) return;
  const stops = stopsOf(block.result.tone, pool);
  const own = momentsOf(stops, stride, radius, pool);
  const masks = items.map(({ id, share, turns }) => ({
    id,
    turns,
    relation: relationOf(share, stops, stride, radius, own, pool),
  }));
  const held = block.frames
    .filter(({ weight }) => weight.some((each) => each > LEAST_WEIGHT))
    .map(({ id, picture, weight }) => {
      const tones = momentsOf(stopsOf(picture.tone, pool), stride, radius, pool);
      return {
        id,
        ...tones,
        tone: boxMean(picture.tone, stride, radius, pool),
        weight: boxMean(weight, stride, radius, pool),
      };
    });
  forCells(block, (x, y, at) => {
    const follower = masks.find(
      ({ relation, turns }) => turns[at] > LEAST_TURNS && Math.abs(relation[at]) > LEAST_RELATION,
    );
    if (!follower) return;
    const holding = held.filter(({ weight, tone }) => weight[at] > LEAST_WEIGHT && isHeld(tone[at]));
    const [best] = holding.sort((a, b) => b.deviation[at] - a.deviation[at]);
    if (!best || best.deviation[at] < LEAST_CONTRAST || hasEdge(best.mean, at, stride, radius)) return;
    const kept = own.deviation[at] / best.deviation[at];
    if (kept >= KEPT) return;
    cells.take(x, y, {
      check: 'flat',
      strength: 1 + (KEPT - kept) / AS_MUCH,
      item: follower.id,
      frame: best.id,
      facts: { kept },
    });
  });
}

const isHeld = (tone: number): boolean => tone * 255 > BLOCKED_TO + 3 && tone * 255 < BLOWN_FROM - 10;

const STEPS = 1024;
const STOPS = Float32Array.from({ length: STEPS + 1 }, (_, step) => Math.log2(decodeSrgb(step / STEPS) + FLOOR));

function stopsOf(tone: Float32Array, pool: PlanePool): Float32Array {
  const out = pool.take(tone.length);
  for (let i = 0; i < out.length; i++) out[i] = STOPS[Math.min(STEPS, Math.max(0, (tone[i] * STEPS + 0.5) | 0))];
  return out;
}

function momentsOf(
  plane: Float32Array,
  stride: number,
  radius: number,
  pool: PlanePool,
): { mean: Float32Array; deviation: Float32Array } {
  const mean = boxMean(plane, stride, radius, pool);
  const squares = pool.take(plane.length);
  for (let i = 0; i < squares.length; i++) squares[i] = plane[i] * plane[i];
  const deviation = boxMean(squares, stride, radius, pool);
  for (let i = 0; i < deviation.length; i++) deviation[i] = Math.sqrt(Math.max(0, deviation[i] - mean[i] * mean[i]));
  return { mean, deviation };
}

/** How closely a mask goes with tones: correlation, -1..1. */
function relationOf(
  share: Float32Array,
  stops: Float32Array,
  stride: number,
  radius: number,
  tones: { mean: Float32Array; deviation: Float32Array },
  pool: PlanePool,
): Float32Array {
  const { mean, deviation } = momentsOf(share, stride, radius, pool);
  const product = pool.take(share.length);
  for (let i = 0; i < product.length; i++) product[i] = share[i] * stops[i];
  const both = boxMean(product, stride, radius, pool);
  for (let i = 0; i < both.length; i++) {
    const spread = deviation[i] * tones.deviation[i];
    both[i] = spread < 1e-6 ? 0 : (both[i] - mean[i] * tones.mean[i]) / spread;
  }
  return both;
}

/** How often a mask goes from its least to its most within the radius, up or down, and back: its total variation along rows and columns over
 * what one edge between two values would have; 0 where it hardly varies. */
function turnsOf(share: Float32Array, stride: number, radius: number, pool: PlanePool): Float32Array {
  const steps = pool.filled(share.length, 0);
  for (let i = 0; i < share.length - stride; i++)
    steps[i] = Math.abs(share[i + 1] - share[i]) + Math.abs(share[i + stride] - share[i]);
  const turns = boxMean(steps, stride, radius, pool);
  const { deviation } = momentsOf(share, stride, radius, pool);
  const side = 2 * radius + 1;
  for (let i = 0; i < turns.length; i++) turns[i] = deviation[i] > FOLLOWS ? (turns[i] * side) / (2 * deviation[i]) : 0;
  return turns;
}

function hasEdge(mean: Float32Array, at: number, stride: number, radius: number): boolean {
  const around = [mean[at - radius], mean[at + radius], mean[at - radius * stride], mean[at + radius * stride]];
  return Math.max(...around) - Math.min(...around) > EDGE_STOPS;
}
