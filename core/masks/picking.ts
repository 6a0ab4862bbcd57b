import { CHROMA_FULL } from '../color/oklab.ts';
import { type Range, WHOLE_RANGE } from './range.ts';

/** Which colours are let through: hues in degrees, chroma and lightness. */
export interface ColourRanges {
  hue: { centre: number; width: number; shoulder: number };
  chroma: Range;
  lightness: Range;
}

/** A colour in Oklab: lightness 0..1, chroma, hue in degrees. */
export interface Oklch {
  l: number;
  c: number;
  h: number;
}

/** All colours. */
export const WHOLE_COLOURS: ColourRanges = {
  hue: { centre: 0, width: 180, shoulder: 0 },
  chroma: WHOLE_RANGE,
  lightness: WHOLE_RANGE,
};

/** Share of what was dragged over that is left out at each end: a stray pixel must not widen a range. */
const STRAY = 0.03;
/** Half of a Gaussian lies within 0.674 of its deviation about the middle; nearly all of it within 2.5, so many times as far. */
const BULK = 2.5 / 0.674;
/** What lies as near as this belongs to the bulk of tones, or degrees of hue, in any case. */
const NEAR_TONE = 0.03;
const NEAR_HUE = 8;
const SHOULDER = 0.08;
/** Below this chroma a hue is chance. */
const GREY_CHROMA = 0.02;

const clamp = (value: number): number => Math.min(1, Math.max(0, Math.round(value * 1000) / 1000));

function quantile(sorted: readonly number[], share: number): number {
  return sorted[Math.min(sorted.length - 1, Math.max(0, Math.round(share * (sorted.length - 1))))];
}

/** The bulk of values, without what lies far from it, such as a boat on a sea: the shortest interval that holds half of them (the
 * shorth; Rousseeuw and Leroy 1987, Robust Regression and Outlier Detection, 4.1) tells where it lies and how wide it is.
 * @param sorted - At least one.
 * @param near - What is not far in any case. */
function bulkOf(sorted: readonly number[], near: number): number[] {
  const half = Math.ceil(sorted.length / 2);
  let start = 0;
  for (let i = 0; i + half <= sorted.length; i++)
    if (sorted[i + half - 1] - sorted[i] < sorted[start + half - 1] - sorted[start]) start = i;
  const [from, to] = [sorted[start], sorted[start + half - 1]];
  const reach = Math.max(near, ((to - from) / 2) * BULK);
  return sorted.filter((value) => Math.abs(value - (from + to) / 2) <= reach);
}

/** The range of the tones dragged over, with soft shoulders, without strays.
 * @param tones - 0..1, at least one.
 * @param before - A range to widen, instead of a new one. */
export function rangeOf(tones: readonly number[], before?: Range): Range {
  const sorted = bulkOf(
    [...tones].sort((a, b) => a - b),
    NEAR_TONE,
  );
  const from = quantile(sorted, STRAY);
  const to = quantile(sorted, 1 - STRAY);
  return {
    from: clamp(before ? Math.min(before.from, from) : from),
    to: clamp(before ? Math.max(before.to, to) : to),
    fromShoulder: SHOULDER,
    toShoulder: SHOULDER,
  };
}

/** A range that keeps the tones dragged over out, cut from the end that they are nearer to. */
export function rangeWithout(range: Range, tones: readonly number[]): Range {
  const sorted = [...tones].sort((a, b) => a - b);
  const middle = quantile(sorted, 0.5);
  const room = Math.min(SHOULDER, 0.04);
  if (middle < (range.from + range.to) / 2) {
    const from = clamp(Math.min(range.to, Math.max(range.from, quantile(sorted, 1 - STRAY) + room)));
    return { ...range, from, fromShoulder: room };
  }
  const to = clamp(Math.max(range.from, Math.min(range.to, quantile(sorted, STRAY) - room)));
  return { ...range, to, toShoulder: room };
}

/** The shortest arc that holds all of some hues, and where they lie along it, in order. */
function shortestArc(hues: readonly number[]): { start: number; along: number[] } {
  const sorted = [...hues].sort((a, b) => a - b);
  // The largest gap between neighbours on the circle lies outside the arc.
  let gap = -1;
  let start = 0;
  sorted.forEach((hue, i) => {
    const next = i + 1 < sorted.length ? sorted[i + 1] : sorted[0] + 360;
    if (next - hue <= gap) return;
    gap = next - hue;
    start = next;
  });
  return { start, along: hues.map((hue) => (((hue - start) % 360) + 360) % 360).sort((a, b) => a - b) };
}

/** The arc of the hues dragged over, without strays. */
function hueArc(hues: readonly number[]): ColourRanges['hue'] {
  const { start, along } = shortestArc(hues);
  const bulk = bulkOf(along, NEAR_HUE);
  const [from, to] = [quantile(bulk, STRAY), quantile(bulk, 1 - STRAY)];
  return {
    centre: Math.round((start + (from + to) / 2 + 720) % 360),
    width: Math.min(180, Math.max(6, Math.round((to - from) / 2 + 4))),
    shoulder: 14,
  };
}

/** The ranges of the colours dragged over. Where most are nearly grey their hue does not count. */
export function colourRangesOf(colours: readonly Oklch[], before?: ColourRanges): ColourRanges {
  const vivid = colours.filter(({ c }) => c >= GREY_CHROMA);
  const hue =
    vivid.length * 2 < colours.length ? { centre: 0, width: 180, shoulder: 0 } : hueArc(vivid.map(({ h }) => h));
  return {
    hue: before ? joinedHues(before.hue, hue) : hue,
    chroma: rangeOf(
      colours.map(({ c }) => c / CHROMA_FULL),
      before?.chroma,
    ),
    lightness: rangeOf(
      colours.map(({ l }) => l),
      before?.lightness,
    ),
  };
}

function joinedHues(a: ColourRanges['hue'], b: ColourRanges['hue']): ColourRanges['hue'] {
  if (a.width >= 180 || b.width >= 180) return { ...a, width: 180 };
  const ends = [a, b].flatMap(({ centre, width }) => [centre - width, centre, centre + width]);
  const { start, along } = shortestArc(ends.map((hue) => (hue + 360) % 360));
  const half = (along.at(-1) as number) / 2;
  return {
    centre: Math.round((start + half) % 360),
    width: Math.min(180, Math.max(6, Math.round(half))),
    shoulder: a.shoulder,
  };
}

/** Ranges that keep the colours dragged over out, by whatever sets them apart most: hue, chroma or lightness. */
export function colourRangesWithout(ranges: ColourRanges, colours: readonly Oklch[]): ColourRanges {
  const middle = (values: number[]) =>
    quantile(
      values.sort((p, q) => p - q),
      0.5,
    );
  const hue = middle(colours.map(({ h }) => Math.abs(((h - ranges.hue.centre + 540) % 360) - 180)));
  const apart = (range: Range, value: number) =>
    Math.abs(value - (range.from + range.to) / 2) / Math.max(0.05, (range.to - range.from) / 2);
  const chroma = colours.map(({ c }) => c / CHROMA_FULL);
  const lightness = colours.map(({ l }) => l);
  const byHue = ranges.hue.width < 180 ? hue / Math.max(4, ranges.hue.width) : 0;
  const byChroma = apart(ranges.chroma, middle([...chroma]));
  const byLightness = apart(ranges.lightness, middle([...lightness]));
  if (byHue >= byChroma && byHue >= byLightness)
    return {
      ...ranges,
      hue: { ...ranges.hue, width: Math.max(2, Math.round(Math.min(ranges.hue.width, hue - 4))), shoulder: 4 },
    };
  return byChroma >= byLightness
    ? { ...ranges, chroma: rangeWithout(ranges.chroma, chroma) }
    : { ...ranges, lightness: rangeWithout(ranges.lightness, lightness) };
}
