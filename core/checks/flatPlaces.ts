import { decodeSrgb } from '../color/srgb.ts';
import { Cells, type CheckedBlock, type Found, forCells } from './checkedBlock.ts';
import { BLOCKED_TO, BLOWN_FROM } from './limits.ts';
import type { PlanePool } from './planePool.ts';

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
  if (block.items.length > 0) block.pool.within(() => lookAt(block, cells));
  return cells.all;
}

function lookAt(block: CheckedBlock, cells: Cells): void {
  const { stride, pool, items, frames } = block;
  const stops = stopsOf(block.result.tone, pool);
  const held = frames.map(({ id, picture, weight }) => ({
    ...{ id, weight, tone: picture.tone },
    stops: stopsOf(picture.tone, pool),
  }));
  for (const radius of SCALES)
    forCells(block, (x, y, at) => {
      const where = { at, stride, radius };
      const follower = items.find(({ share }) => follows(share, stops, where));
      if (!follower) return;
      const best = held
        .filter(({ weight, tone }) => meanOf(weight, where) > LEAST_WEIGHT && isHeld(meanOf(tone, where)))
        .map((frame) => ({ ...frame, deviation: momentsOf(frame.stops, where).deviation }))
        .sort((one, other) => other.deviation - one.deviation)[0];
      if (!best || best.deviation < LEAST_CONTRAST || hasEdge(best.stops, where)) return;
      const kept = momentsOf(stops, where).deviation / best.deviation;
      if (kept >= KEPT) return;
      const strength = 1 + (KEPT - kept) / AS_MUCH;
      cells.take(x, y, { check: 'flat', strength, item: follower.id, frame: best.id, facts: { kept } });
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

/** A square of samples around one. */
interface Window {
  at: number;
  stride: number;
  radius: number;
}

function meanOf(plane: Float32Array, { at, stride, radius }: Window): number {
  let sum = 0;
  for (let y = -radius; y <= radius; y++)
    for (let i = at + y * stride - radius; i <= at + y * stride + radius; i++) sum += plane[i];
  return sum / (2 * radius + 1) ** 2;
}

function momentsOf(plane: Float32Array, { at, stride, radius }: Window): { mean: number; deviation: number } {
  let [sum, squares] = [0, 0];
  for (let y = -radius; y <= radius; y++)
    for (let i = at + y * stride - radius; i <= at + y * stride + radius; i++) {
      sum += plane[i];
      squares += plane[i] * plane[i];
    }
  const count = (2 * radius + 1) ** 2;
  const mean = sum / count;
  return { mean, deviation: Math.sqrt(Math.max(0, squares / count - mean * mean)) };
}

/** Whether a mask goes up and down with tones within a window: it varies, more often than across one edge, which its total variation along rows
 * and columns tells, and is correlated with them. */
function follows(share: Float32Array, stops: Float32Array, { at, stride, radius }: Window): boolean {
  const [mask, tones] = [momentsOf(share, { at, stride, radius }), momentsOf(stops, { at, stride, radius })];
  if (mask.deviation <= FOLLOWS || tones.deviation < 1e-4) return false;
  let [steps, product] = [0, 0];
  for (let y = -radius; y <= radius; y++)
    for (let i = at + y * stride - radius; i <= at + y * stride + radius; i++) {
      steps += Math.abs(share[i + 1] - share[i]) + Math.abs(share[i + stride] - share[i]);
      product += share[i] * stops[i];
    }
  const side = 2 * radius + 1;
  const turns = steps / side / (2 * mask.deviation);
  const relation = (product / side ** 2 - mask.mean * tones.mean) / (mask.deviation * tones.deviation);
  return turns > LEAST_TURNS && Math.abs(relation) > LEAST_RELATION;
}

function hasEdge(stops: Float32Array, { at, stride, radius }: Window): boolean {
  const around = [-radius, radius, -radius * stride, radius * stride].map((by) =>
    meanOf(stops, { at: at + by, stride, radius }),
  );
  return Math.max(...around) - Math.min(...around) > EDGE_STOPS;
}
