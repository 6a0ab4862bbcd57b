import { WORKING_WHITE, whiteOfGrey } from '../color/whitePoint.ts';
import type { OutputSpace } from '../color/workingSpace.ts';
import { COMPARED } from './limits.ts';
import { brightest, LINEAR, type Sketch } from './sketch.ts';

/** How far two pictures lie apart in some of their tones. */
export interface TonesApart {
  tone: number;
  /** Stops by which the first is brighter. */
  stops: number;
}

/** How far two pictures lie apart where they meet. */
export interface PairDistance {
  /** Stops by which the first is brighter. */
  stops: number;
  /** Kelvins by which it is warmer: a grey of the second, white for its space, looks as if seen under a light of so much less. */
  kelvin: number;
  /** Linear light of the first where the second has white, the brightness taken out. */
  cast: readonly [number, number, number];
  /** The same of the darker third of the places, and of the brighter: tones are those of the darker picture, in stops against white. */
  darks: TonesApart;
  brights: TonesApart;
  /** Tone of the darker picture in the middle of the places. */
  middle: number;
  /** Some of the places, from the darkest to the brightest. */
  sample: readonly TonesApart[];
  /** Where was looked: along the border of a mask, or along the strongest edges that both hold. */
  along: 'seam' | 'edges';
  /** Places that were compared, as a share of the picture. */
  share: number;
}

/** A seam is where a mask lets between these shares through (common practice, no source). */
const SEAM = { from: 0.05, to: 0.95 } as const;
/** So many places of a seam are enough to go by. */
const LEAST_SEAM = 60;
const LEAST_PLACES = 30;
/** Places that are kept to tell what becomes of their middle when tones are moved. */
const SAMPLE = 301;
/** The strongest edges: this share of the places that both hold. */
const STRONGEST = 0.1;

/** Measures how far two pictures lie apart, by medians of ratios of light, so that what moved does not count.
 * @param taken - The first as it was taken: what is clipped there is, however it is developed.
 * @param mask - What of the first shows, 0..1 for each place; undefined before there is a mask.
 * @param space - That the pictures are drawn in.
 * @returns Undefined when both hold next to nothing in common. */
export function pairDistance(
  own: Sketch,
  taken: Sketch,
  other: Sketch,
  mask: ArrayLike<number> | undefined,
  space: OutputSpace,
): PairDistance | undefined {
  const pixels = own.width * own.height;
  const held: number[] = [];
  for (let at = 0; at < pixels; at++) if ([own, taken, other].every((each) => holds(each, at))) held.push(at);
  const seam = mask ? held.filter((at) => mask[at] > SEAM.from && mask[at] < SEAM.to) : [];
  const isSeam = seam.length >= LEAST_SEAM;
  const places = isSeam ? seam : strongestEdges(own, other, held);
  if (places.length < LEAST_PLACES) return undefined;
  const [r, g, b] = [0, 1, 2].map((channel) =>
    median(places.map((at) => Math.log2(LINEAR[own.rgba[4 * at + channel]] / LINEAR[other.rgba[4 * at + channel]]))),
  );
  const cast = [2 ** (r - g), 1, 2 ** (b - g)] as const;
  return {
    stops: g,
    kelvin: WORKING_WHITE.kelvin - whiteOfGrey(cast, space).kelvin,
    cast,
    ...thirds(own, other, places, g < 0),
    along: isSeam ? 'seam' : 'edges',
    share: places.length / pixels,
  };
}

/** Places in three parts by the tones of the darker picture. */
function thirds(own: Sketch, other: Sketch, places: readonly number[], isOwnDarker: boolean) {
  const stopsOf = ({ rgba }: Sketch, at: number) => Math.log2(LINEAR[rgba[4 * at + 1]]);
  const sorted = places
    .map((at) => {
      const [first, second] = [stopsOf(own, at), stopsOf(other, at)];
      return { tone: isOwnDarker ? first : second, stops: first - second };
    })
    .sort((a, b) => a.tone - b.tone);
  const third = Math.floor(sorted.length / 3);
  const of = (some: typeof sorted): TonesApart => ({
    tone: median(some.map(({ tone }) => tone)),
    stops: median(some.map(({ stops }) => stops)),
  });
  const count = Math.min(SAMPLE, sorted.length);
  const sample = Array.from({ length: count }, (_, i) => sorted[Math.floor(((i + 0.5) / count) * sorted.length)]);
  return { darks: of(sorted.slice(0, third)), brights: of(sorted.slice(-third)), middle: of(sorted).tone, sample };
}

/** Whether a place holds tones that can be compared, in every channel. */
function holds(sketch: Sketch, at: number): boolean {
  const { rgba } = sketch;
  const least = Math.min(rgba[4 * at], rgba[4 * at + 1], rgba[4 * at + 2]);
  return least >= COMPARED.from && brightest(sketch, at) <= COMPARED.to;
}

/** Of places that both hold, those where the weaker of both slopes is the strongest, in stops. */
function strongestEdges(own: Sketch, other: Sketch, held: readonly number[]): number[] {
  const stopsAt = ({ rgba }: Sketch, at: number) => Math.log2(LINEAR[Math.max(1, rgba[4 * at + 1] ?? 1)]);
  const slope = (sketch: Sketch, at: number) =>
    Math.abs(stopsAt(sketch, at + 1) - stopsAt(sketch, at)) +
    Math.abs(stopsAt(sketch, at + sketch.width) - stopsAt(sketch, at));
  const strength = (at: number) => Math.min(slope(own, at), slope(other, at));
  return held
    .map((at) => ({ at, strength: strength(at) }))
    .sort((a, b) => b.strength - a.strength)
    .slice(0, Math.max(LEAST_PLACES, Math.round(STRONGEST * held.length)))
    .map(({ at }) => at);
}

function median(values: number[]): number {
  values.sort((a, b) => a - b);
  return (values[(values.length - 1) >> 1] + values[values.length >> 1]) / 2;
}
