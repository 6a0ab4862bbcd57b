import { decodeSrgb } from '../color/srgb.ts';
import { Cells, type CheckedBlock, forCells, type Found } from './checkedBlock.ts';
import { BLOCKED_TO, BLOWN_FROM } from './limits.ts';
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
  const items = block.items.filter(({ share }) => deviates(share));
  if (items.length === 0) return [];
  const stops = stopsOf(block.result.tone);
  const showing = block.frames.filter(({ weight }) => weight.some((each) => each > 0.05));
  for (const radius of SCALES) {
    const own = momentsOf(stops, block.stride, radius);
    const held = showing.map((frame) => ({ frame, ...momentsOf(stopsOf(frame.picture.tone), block.stride, radius), tone: boxMean(frame.picture.tone, block.stride, radius), weight: boxMean(frame.weight, block.stride, radius) }));
    const masks = items.map(({ id, share }) => ({ id, ...relationOf(share, stops, block.stride, radius, own) }));
    forCells(block, (x, y, at) => {
      const holding = held.filter(({ weight, tone }) => weight[at] > 0.04 && isHeld(tone[at]));
      const best = holding.reduce<(typeof held)[number] | undefined>((a, b) => (!a || b.deviation[at] > a.deviation[at] ? b : a), undefined);
      if (!best || best.deviation[at] < LEAST_CONTRAST || hasEdge(best.mean, at, block.stride, radius)) return;
      const kept = own.deviation[at] / best.deviation[at];
      if (kept >= KEPT) return;
      const follower = masks.find(({ deviation, relation, turns }) => deviation[at] > FOLLOWS && Math.abs(relation[at]) > LEAST_RELATION && turns[at] > LEAST_TURNS);
      if (!follower) return;
      cells.take(x, y, { check: 'flat', strength: 1 + (KEPT - kept) / AS_MUCH, item: follower.id, frame: best.frame.id, facts: { kept } });
    });
  }
  return cells.all;
}

const deviates = (share: Float32Array): boolean => {
  const [first] = share;
  return share.some((each) => Math.abs(each - first) > FOLLOWS);
};

const isHeld = (tone: number): boolean => tone * 255 > BLOCKED_TO + 3 && tone * 255 < BLOWN_FROM - 10;

const STEPS = 1024;
const STOPS = Float32Array.from({ length: STEPS + 1 }, (_, step) => Math.log2(decodeSrgb(step / STEPS) + FLOOR));

const stopsOf = (tone: Float32Array): Float32Array =>
  tone.map((value) => STOPS[Math.min(STEPS, Math.max(0, Math.round(value * STEPS)))]);

function momentsOf(plane: Float32Array, stride: number, radius: number): { mean: Float32Array; deviation: Float32Array } {
  const mean = boxMean(plane, stride, radius);
  const squares = boxMean(plane.map((value) => value * value), stride, radius);
  return { mean, deviation: squares.map((square, i) => Math.sqrt(Math.max(0, square - mean[i] * mean[i]))) };
}

/** How much a mask varies, and how closely it goes with tones: correlation, -1..1. */
function relationOf(share: Float32Array, stops: Float32Array, stride: number, radius: number, tones: { mean: Float32Array; deviation: Float32Array }) {
  const { mean, deviation } = momentsOf(share, stride, radius);
  const product = boxMean(share.map((value, i) => value * stops[i]), stride, radius);
  const relation = product.map((each, i) => {
    const spread = deviation[i] * tones.deviation[i];
    return spread < 1e-6 ? 0 : (each - mean[i] * tones.mean[i]) / spread;
  });
  return { deviation, relation, turns: turnsOf(share, deviation, stride, radius) };
}

/** How often a plane goes from its least to its most within the radius, up or down, and back: its total variation along rows and columns over
 * what one edge between two values would have. */
function turnsOf(plane: Float32Array, deviation: Float32Array, stride: number, radius: number): Float32Array {
  const steps = new Float32Array(plane.length);
  for (let i = 0; i < plane.length - stride; i++)
    steps[i] = Math.abs(plane[i + 1] - plane[i]) + Math.abs(plane[i + stride] - plane[i]);
  const side = 2 * radius + 1;
  return boxMean(steps, stride, radius).map((mean, i) => (mean * side) / Math.max(1e-4, 2 * deviation[i]));
}

function hasEdge(mean: Float32Array, at: number, stride: number, radius: number): boolean {
  const around = [mean[at - radius], mean[at + radius], mean[at - radius * stride], mean[at + radius * stride]];
  return Math.max(...around) - Math.min(...around) > EDGE_STOPS;
}
