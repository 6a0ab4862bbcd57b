import { type Holdings, lacking, MOST_FRAMES } from './holdings.ts';

/** What is known of a frame beside its picture. */
export interface FrameFacts {
  /** Brightness in stops, null when it is not known. */
  ev: number | null;
  moment: string;
}

/** Share of the picture under which a frame is not worth its layer. */
export const IDLE_BELOW = 0.002;

/** Frames farther apart than this do not blend naturally (common practice, no source: brackets are 1 1/3 to 3 stops apart). */
export const WIDEST_GAP = 3;
/** What cameras write of their exposures is rounded. */
const ROUNDING = 0.15;

/** Share of the picture that a stop of distance to the other frames counts for: among bases that need about as little, the
 * one in the middle of the bracket is easier to blend with. */
const STOP_COUNTS = 0.01;

/** Frames whose orders are all tried; beyond it the order by distance, which is best nearly always, is taken. */
const MOST_TRIED = 7;

export interface BaseAdvice {
  frame: number;
  /** Share of the picture that another frame holds better. */
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

/** A frame that holds next to nothing that others do not. */
export interface IdleFrame {
  frame: number;
  /** Share of the picture that it alone holds. */
  adds: number;
}

export interface IdleAdvice {
  /** Those that can be left out. */
  idle: IdleFrame[];
  /** Those that are kept all the same, with the stops that would gape without them. */
  bridges: (IdleFrame & { gap: number })[];
}

/** Frames that add next to nothing: found one after the other, the farthest from the base first, since near frames blend more
 * naturally. One in the middle stays where its neighbours would lie too far apart to blend. Frames of other moments than the base
 * show other light, which their tones say nothing about: they are never idle. */
export function adviseIdle(holdings: Holdings, facts: readonly FrameFacts[], base: number): IdleAdvice {
  const all = facts.slice(0, MOST_FRAMES).map((_, index) => index);
  let kept = all.filter((index) => index === base || facts[index].moment === facts[base].moment);
  const distance = (index: number) => Math.abs((facts[index].ev ?? 0) - (facts[base].ev ?? 0));
  const idle: IdleFrame[] = [];
  for (;;) {
    const candidates = kept
      .filter((index) => index !== base)
      .map((frame) => {
        const others = kept.filter((index) => index !== frame);
        return {
          frame,
          adds: lacking(holdings, others) - lacking(holdings, kept),
          gap: gapWithout(facts, kept, frame),
        };
      })
      .filter(({ adds }) => adds < IDLE_BELOW)
      .sort((a, b) => distance(b.frame) - distance(a.frame));
    const next = candidates.find(({ gap }) => gap <= WIDEST_GAP + ROUNDING);
    if (!next) return { idle, bridges: candidates };
    idle.push({ frame: next.frame, adds: next.adds });
    kept = kept.filter((index) => index !== next.frame);
  }
}

/** How many stops the neighbours of a frame lie apart; 0 for one at an end, or of unknown brightness. */
function gapWithout(facts: readonly FrameFacts[], kept: readonly number[], frame: number): number {
  const { ev } = facts[frame];
  if (ev === null) return 0;
  const others = kept.filter((index) => index !== frame).flatMap((index) => facts[index].ev ?? []);
  const [below, above] = [others.filter((other) => other <= ev), others.filter((other) => other > ev)];
  return below.length === 0 || above.length === 0 ? 0 : Math.min(...above) - Math.max(...below);
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
