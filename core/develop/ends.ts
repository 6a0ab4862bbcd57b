import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';

/** Stops against white that are moved in full, and beyond which all is moved as far. */
export const DARK_END = -9;
export const BRIGHT_END = 0;
/** Of the way from an end to where it reaches, so much stays: tones never meet, let alone change places. */
const LEAST_WAY = 0.1;
/** How steep a cubic may be at an end against its mean slope and never turn round (Fritsch and Carlson 1980, both ends alike). */
const STEEPEST = 3 / Math.SQRT2;

const End = (reach: readonly [number, number]) =>
  z.strictObject({
    stops: z.number().min(-4).max(4),
    /** Stops against white beyond which nothing changes. */
    reach: z.number().min(reach[0]).max(reach[1]),
  });
const DARK_REACH = [-7, -1] as const;
const BRIGHT_REACH = [-7, -1] as const;

const schema = z.strictObject({ darks: End(DARK_REACH), brights: End(BRIGHT_REACH) });
type Ends = z.infer<typeof schema>;

/** Opens darks and holds brights, each as far as it reaches towards the middle. */
export const ends = defineAdjustment({
  schema,
  rest: { darks: { stops: 0, reach: -3 }, brights: { stops: 0, reach: -3 } },
  isAtRest: ({ darks, brights }) => darks.stops === 0 && brights.stops === 0,
  rows: [
    { path: ['darks', 'stops'], min: -4, max: 4, step: 0.05, unit: 'stops', usual: 0 },
    { path: ['darks', 'reach'], min: DARK_REACH[0], max: DARK_REACH[1], step: 0.1, unit: 'stops', usual: -3 },
    { path: ['brights', 'stops'], min: -4, max: 4, step: 0.05, unit: 'stops', usual: 0 },
    { path: ['brights', 'reach'], min: BRIGHT_REACH[0], max: BRIGHT_REACH[1], step: 0.1, unit: 'stops', usual: -3 },
  ],
  steps: (settings) => [{ step: 'base', onto: endsCurve(settings) }],
});

/** Stops that stops of the base become; rises throughout. */
export function endsCurve({ darks, brights }: Ends): (stops: number) => number {
  const dark = endCurve(DARK_END, darks);
  const bright = endCurve(BRIGHT_END, brights);
  return (stops) => bright(dark(stops));
}

/** One end: a smooth way from where nothing changes to where all is moved as far. */
function endCurve(end: number, { stops, reach }: Ends['darks']): (tone: number) => number {
  const way = Math.abs(reach - end);
  const away = Math.sign(reach - end);
  // Towards the middle, no further than order allows.
  const moved = away * Math.min(away * stops, (1 - LEAST_WAY) * way);
  const mean = 1 - (away * moved) / way;
  const slope = Math.min(1, STEEPEST * mean);
  return (tone) => {
    const from = away * (tone - end);
    if (from <= 0) return tone + moved;
    if (from >= way) return tone;
    // A cubic of Hermite from one to the other, of the same slope at both.
    const t = from / way;
    const ahead = away * moved + (slope * t * (1 - t) * (1 - 2 * t) + mean * t * t * (3 - 2 * t)) * way;
    return end + away * ahead;
  };
}
