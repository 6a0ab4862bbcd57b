import { isUsable } from './limits.ts';
import { brightest, type Sketch } from './sketch.ts';

/** What is known of a frame beside its picture. */
export interface FrameFacts {
  /** Brightness in stops, null when it is not known. */
  ev: number | null;
  moment: string;
}

/** Shares of the picture by the frames that hold it well: bit `i` of the key stands for frame `i`. */
export type Holdings = ReadonlyMap<number, number>;

/** Most frames that are weighed against each other. */
export const MOST_FRAMES = 16;

/** Share of the picture under which a frame is not worth its layer. */
export const IDLE_BELOW = 0.002;

/** Share of the picture that a stop of distance to the other frames counts for: among bases that need about as little, the
 * one in the middle of the bracket is easier to blend with. */
const STOP_COUNTS = 0.01;

/** Frames whose orders are all tried; beyond it the order by distance, which is best nearly always, is taken. */
const MOST_TRIED = 7;

/** Divides the picture up by which frames hold it between noise and clipping. */
export function holdingsOf(sketches: readonly Sketch[]): Holdings {
  const { width, height } = sketches[0];
  const counts = new Map<number, number>();
  for (let pixel = 0; pixel < width * height; pixel++) {
    let key = 0;
    for (const [index, sketch] of sketches.slice(0, MOST_FRAMES).entries()) {
      if (isUsable(brightest(sketch, pixel))) key |= 1 << index;
    }
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  return new Map([...counts].map(([key, count]) => [key, count / (width * height)]));
}

/** Share of the picture that some frame holds and none of the given ones does. */
function lacking(holdings: Holdings, frames: readonly number[]): number {
  const own = frames.reduce((bits, index) => bits | (1 << index), 0);
  let share = 0;
  for (const [key, part] of holdings) if (key !== 0 && (key & own) === 0) share += part;
  return share;
}

export interface BaseAdvice {
  frame: number;
  /** Share of the picture that it would need other frames for. */
  needs: number;
  /** Mean distance to the other frames in stops. */
  distance: number;
}

/** Frames as a base, the best first: the one that leaves least to others, and among equals the one nearest to the others. */
export function adviseBase(holdings: Holdings, facts: readonly FrameFacts[]): BaseAdvice[] {
  const known = facts.flatMap(({ ev }) => (ev === null ? [] : [ev]));
  const all = facts.slice(0, MOST_FRAMES).map(({ ev }, frame) => ({
    frame,
    needs: lacking(holdings, [frame]),
    distance: ev === null ? 0 : mean(known.map((other) => Math.abs(other - ev))),
  }));
  const score = ({ needs, distance }: BaseAdvice) => needs + STOP_COUNTS * distance;
  return all.sort((a, b) => score(a) - score(b));
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);

/** Frames that add next to nothing, with the share that each alone would add: found one after the other, the farthest from
 * the base first, since near frames blend more naturally. Frames of other moments than the base show other light, which their
 * tones say nothing about: they are never idle. */
export function adviseIdle(
  holdings: Holdings,
  facts: readonly FrameFacts[],
  base: number,
): { frame: number; adds: number }[] {
  const all = facts.slice(0, MOST_FRAMES).map((_, index) => index);
  const judged = all.filter((index) => index !== base && facts[index].moment === facts[base].moment);
  const distance = (index: number) => Math.abs((facts[index].ev ?? 0) - (facts[base].ev ?? 0));
  let kept = all.filter((index) => index === base || judged.includes(index));
  const idle: { frame: number; adds: number }[] = [];
  for (;;) {
    const candidates = kept
      .filter((index) => index !== base)
      .map((frame) => {
        const others = kept.filter((index) => index !== frame);
        return { frame, adds: lacking(holdings, others) - lacking(holdings, kept) };
      })
      .filter(({ adds }) => adds < IDLE_BELOW)
      .sort((a, b) => distance(b.frame) - distance(a.frame));
    if (candidates.length === 0) return idle;
    idle.push(candidates[0]);
    kept = kept.filter((index) => index !== candidates[0].frame);
  }
}

export interface OrderAdvice {
  /** Frames from the base upwards. */
  order: number[];
  /** Share of the picture that each has to be revealed over, in that order. */
  reveals: number[];
}

/** The order above a base that needs the least revealing: every place is revealed once, by the first layer that holds it,
 * and counts by how many stops it jumps.
 * @param frames - The frames to stack. */
export function adviseOrder(
  holdings: Holdings,
  facts: readonly FrameFacts[],
  base: number,
  frames: readonly number[],
): OrderAdvice {
  const jump = (index: number) => Math.abs((facts[index].ev ?? 0) - (facts[base].ev ?? 0));
  const near = [...frames].sort((a, b) => jump(a) - jump(b));
  const reveals = (order: readonly number[]) =>
    order.map((_, place) => {
      const below = [base, ...order.slice(0, place)];
      return lacking(holdings, below) - lacking(holdings, [...below, order[place]]);
    });
  const cost = (order: readonly number[]) =>
    reveals(order).reduce((sum, share, place) => sum + share * (1 + jump(order[place])), 0);
  let best = near;
  if (frames.length <= MOST_TRIED) {
    // The order by distance comes first, and stays unless another is better by more than rounding.
    for (const order of permutations(near)) if (cost(order) < cost(best) - 1e-9) best = order;
  }
  return { order: best, reveals: reveals(best) };
}

function* permutations(items: readonly number[]): Generator<number[]> {
  if (items.length === 0) yield [];
  for (const item of items) {
    for (const rest of permutations(items.filter((other) => other !== item))) yield [item, ...rest];
  }
}
