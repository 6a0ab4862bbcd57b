import { median } from '../masks/borderWidth.ts';
import { ends, endsCurve } from './ends.ts';
import type { Develop } from './list.ts';

type Ends = typeof ends.rest;

/** How far two frames lie apart: stops by which the first is brighter, of all places, of the darker and of the brighter third, and of some
 * places one by one; tones are the darker frame's, in stops against white. */
interface Apart {
  stops: number;
  darks: { tone: number; stops: number };
  brights: { tone: number; stops: number };
  middle: number;
  sample: readonly { tone: number; stops: number }[];
}

/** What is less than this many stops is left alone. */
const LEAST = 0.1;
/** Most that a match moves an end, in stops. */
const MOST = 3;
const ROUNDS = 30;
const REACH = { from: -7, to: -1 } as const;

/** Ends for the darker of two frames that bring its darks and its brights as close to the other's as its middle tones come by exposure: darks
 * are only opened, brights only held. Since that moves the middle a little, exposure makes up for it.
 * @param develop - Of the darker frame, as it is.
 * @param distance - Between the two.
 * @param raised - Stops by which the first of them is about to be brightened.
 * @param share - Of the distance to close, 0..1.
 * @returns Ends, and stops for the first besides; undefined where there is nothing to open and nothing to hold. */
export function proposeEnds(
  develop: Develop,
  { stops, darks, brights, middle, sample }: Apart,
  raised: number,
  share: number,
): { ends: Ends; besides: number } | undefined {
  const isFirstDarker = stops < 0;
  const away = isFirstDarker ? -1 : 1;
  const lifted = isFirstDarker ? raised : 0;
  const open = Math.max(0, away * share * (darks.stops - stops));
  const hold = Math.min(0, away * share * (brights.stops - stops));
  if (open < LEAST && hold > -LEAST) return undefined;
  const before = (develop.ends as Ends | undefined) ?? ends.rest;
  const reach = Number(Math.min(REACH.to, Math.max(REACH.from, middle + lifted)).toFixed(1));
  const moves = (end: 'darks' | 'brights', by: number, tone: number) =>
    Math.abs(by) < LEAST ? 0 : stopsFor(end, by, tone + lifted, reach);
  const moved = { darks: moves('darks', open, darks.tone), brights: moves('brights', hold, brights.tone) };
  const settled = (end: 'darks' | 'brights') =>
    moved[end] === 0 ? before[end] : { stops: within(before[end].stops + moved[end]), reach };
  const curve = endsCurve({ darks: { stops: moved.darks, reach }, brights: { stops: moved.brights, reach } });
  const left = sample.map((at) => at.stops + raised - away * (curve(at.tone + lifted) - at.tone - lifted));
  const besides = (1 - share) * stops - median(left.toSorted((a, b) => a - b));
  return { ends: { darks: settled('darks'), brights: settled('brights') }, besides: Number(besides.toFixed(2)) };
}

const within = (stops: number) => Number(Math.min(4, Math.max(-4, stops)).toFixed(2));

/** Stops of an end that move a tone by some. */
function stopsFor(end: 'darks' | 'brights', by: number, tone: number, reach: number): number {
  const moved = (stops: number) => endsCurve({ ...ends.rest, [end]: { stops, reach } })(tone) - tone;
  let [low, high] = by > 0 ? [0, MOST] : [-MOST, 0];
  for (let round = 0; round < ROUNDS; round++) {
    const half = (low + high) / 2;
    if (moved(half) < by) low = half;
    else high = half;
  }
  return (low + high) / 2;
}
