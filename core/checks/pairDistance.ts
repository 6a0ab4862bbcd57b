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
  const held = heldPlaces(own, taken, other);
  const seam = mask ? seamPlaces(held, mask) : held.subarray(0, 0);
  const isSeam = seam.length >= LEAST_SEAM;
  const places = isSeam ? seam : strongestEdges(own, other, held);
  if (places.length < LEAST_PLACES) return undefined;
  const [r, g, b] = [0, 1, 2].map((channel) => medianApart(own, other, channel, places));
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

/** Stops against white of the 256 levels. */
const STOPS = LINEAR.map((light) => Math.log2(light));
const LEVELS = 256;

/** Places that hold tones which can be compared, in every channel of all three. */
function heldPlaces(own: Sketch, taken: Sketch, other: Sketch): Uint32Array {
  const held = new Uint32Array(own.width * own.height);
  let count = 0;
  for (let at = 0; at < held.length; at++)
    if (holds(own, at) && holds(other, at) && (taken === own || holds(taken, at))) held[count++] = at;
  return held.subarray(0, count);
}

function seamPlaces(held: Uint32Array, mask: ArrayLike<number>): Uint32Array {
  const seam = new Uint32Array(held.length);
  let count = 0;
  for (const at of held) if (mask[at] > SEAM.from && mask[at] < SEAM.to) seam[count++] = at;
  return seam.subarray(0, count);
}

/** Median of the stops by which the first is brighter: levels are few, so pairs of them are counted rather than places sorted. */
function medianApart(own: Sketch, other: Sketch, channel: number, places: Uint32Array): number {
  const counts = new Uint32Array(LEVELS * LEVELS);
  for (const at of places) counts[own.rgba[4 * at + channel] * LEVELS + other.rgba[4 * at + channel]]++;
  const pairs: { stops: number; count: number }[] = [];
  for (let pair = 0; pair < counts.length; pair++)
    if (counts[pair] > 0) pairs.push({ stops: Math.log2(LINEAR[pair >> 8] / LINEAR[pair & 255]), count: counts[pair] });
  pairs.sort((one, next) => one.stops - next.stops);
  const at = (rank: number) => {
    let left = rank;
    for (const { stops, count } of pairs) {
      if (left < count) return stops;
      left -= count;
    }
    return Number.NaN;
  };
  return (at((places.length - 1) >> 1) + at(places.length >> 1)) / 2;
}

/** Places in three parts by the tones of the darker picture. */
function thirds(own: Sketch, other: Sketch, places: Uint32Array, isOwnDarker: boolean) {
  const darker = isOwnDarker ? own : other;
  const sorted = byTone(darker, places);
  const toneAt = (place: number) => STOPS[darker.rgba[4 * place + 1]];
  const middleOf = (some: Uint32Array) => (toneAt(some[(some.length - 1) >> 1]) + toneAt(some[some.length >> 1])) / 2;
  const of = (some: Uint32Array): TonesApart => ({ tone: middleOf(some), stops: medianApart(own, other, 1, some) });
  const third = Math.floor(sorted.length / 3);
  const count = Math.min(SAMPLE, sorted.length);
  const sample = Array.from({ length: count }, (_, i): TonesApart => {
    const place = sorted[Math.floor(((i + 0.5) / count) * sorted.length)];
    return { tone: toneAt(place), stops: STOPS[own.rgba[4 * place + 1]] - STOPS[other.rgba[4 * place + 1]] };
  });
  return {
    darks: of(sorted.subarray(0, third)),
    brights: of(sorted.subarray(-third)),
    middle: middleOf(sorted),
    sample,
  };
}

/** Places from the darkest to the brightest, those of a level in the order in which they come. */
function byTone({ rgba }: Sketch, places: Uint32Array): Uint32Array {
  const next = new Uint32Array(LEVELS + 1);
  for (const at of places) next[rgba[4 * at + 1] + 1]++;
  for (let level = 1; level <= LEVELS; level++) next[level] += next[level - 1];
  const sorted = new Uint32Array(places.length);
  for (const at of places) sorted[next[rgba[4 * at + 1]]++] = at;
  return sorted;
}

/** Whether a place holds tones that can be compared, in every channel. */
function holds(sketch: Sketch, at: number): boolean {
  const { rgba } = sketch;
  const least = Math.min(rgba[4 * at], rgba[4 * at + 1], rgba[4 * at + 2]);
  return least >= COMPARED.from && brightest(sketch, at) <= COMPARED.to;
}

/** Of places that both hold, those where the weaker of both slopes is the strongest, in stops. */
function strongestEdges(own: Sketch, other: Sketch, held: Uint32Array): Uint32Array {
  const [slopes, others] = [slopesOf(own), slopesOf(other)];
  const strength = new Float32Array(held.length);
  for (let i = 0; i < held.length; i++) strength[i] = Math.min(slopes[held[i]], others[held[i]]);
  const count = Math.max(LEAST_PLACES, Math.round(STRONGEST * held.length));
  if (count >= held.length) return held;
  const least = largestOf(strength, count);
  let ties = count;
  for (const each of strength) if (each > least) ties--;
  const strongest = new Uint32Array(count);
  for (let i = 0, to = 0; i < held.length; i++)
    if (strength[i] > least || (strength[i] === least && ties-- > 0)) strongest[to++] = held[i];
  return strongest;
}

/** How much every place differs from the next one and the one below, in stops. */
function slopesOf({ width, height, rgba }: Sketch): Float64Array {
  const slopes = new Float64Array(width * height);
  const stopsAt = (at: number) => STOPS[Math.max(1, rgba[4 * at + 1] ?? 1)];
  for (let at = 0; at < slopes.length; at++) {
    const own = stopsAt(at);
    slopes[at] = Math.abs(stopsAt(at + 1) - own) + Math.abs(stopsAt(at + width) - own);
  }
  return slopes;
}

/** The so-manieth largest of values from 0 on: floats lie in order by their upper bits, so that those of few values have to be sorted. */
function largestOf(values: Float32Array, rank: number): number {
  const bits = new Uint32Array(values.buffer);
  const counts = new Uint32Array(2 ** 16);
  for (const each of bits) counts[each >>> 16]++;
  let upper = counts.length - 1;
  let above = 0;
  while (above + counts[upper] < rank) above += counts[upper--];
  const some = new Float32Array(counts[upper]);
  for (let i = 0, to = 0; i < bits.length; i++) if (bits[i] >>> 16 === upper) some[to++] = values[i];
  some.sort();
  return some[some.length - (rank - above)];
}
