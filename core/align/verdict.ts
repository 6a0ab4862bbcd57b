import { IDENTITY3, type Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import type { Alignment, Matched, VerdictReason } from './alignment.ts';
import type { Explanation } from './chooseModel.ts';
import { fitModel, type Match, missOf, uncertainty } from './fit.ts';
import { cornerDistance, cornersOf, mapPoint, type Point } from './placement.ts';

/** Width at which limits in pixels are meant; wider pictures have the same optics and more pixels. */
const USUAL_WIDTH = 4000;
/** How far a match may be off and still agree, and how uncertain corners may be, in pixels at the usual width. */
const AGREES_PX = 0.6;
/** How surely a place has to be known for it to count: a patch, and one of the large areas that a dense placement is judged by. */
export const PLACE_SURE = 0.4;
export const AREA_SURE = 1.5;
const GOOD_CORNERS = 0.22;
const LOOK_CORNERS = 2;
const GOOD_RESIDUAL = 0.25;
const GOOD_HALVES = 0.35;
const GOOD_AGREEMENT = 0.5;
const LOOK_AGREEMENT = 0.2;
const GOOD_MATCHES = 24;
const LOOK_MATCHES = 8;
/** The picture in 3 x 3 zones: how many places make one that counts, what share of them has to agree, in how many zones places have
 * to agree, and what share of the zones may disagree. */
const ZONES = 3;
const ZONE_PLACES = 3;
const ZONE_AGREES = 0.4;
const GOOD_ZONES = 5;
const ODD_ZONES = 0.34;
/** How far a richer motion may take the corners elsewhere. */
const GOOD_RICHER = 0.3;
/** Others that agree among themselves on another motion, as a share of those that agree on this one. */
const RIVALS = 0.3;

/** Pixels of a picture for one at the usual width, at least 1. */
export const scaleOf = ({ width, height }: Size): number => Math.max(1, Math.max(width, height) / USUAL_WIDTH);

/** Judges what was found. A placement is good when many places agree, they lie spread out so that every corner is
 * determined, halves of them lead to the same, and no other group of places moved together.
 * @param hasRival - Whether another motion is known of.
 * @param sure - How surely a place has to be known, in pixels at the usual width, for it to count. */
export function judge(
  found: { explanation: Explanation; matched: Matched } | undefined,
  size: Size,
  stops: number,
  hasRival: boolean,
  sure = PLACE_SURE,
): Alignment {
  if (!found) return nothing(stops);
  const { explanation, matched } = found;
  const { matrix, model, noise } = explanation;
  const scale = scaleOf(size);
  const determined = matched.matches.filter(isDetermined(sure * scale));
  const misses = determined.map((match) => missOf(match, matrix));
  const within = Math.max(AGREES_PX * scale, 4 * noise);
  const agreeing = misses.filter((miss) => miss <= within).length;
  const compared = determined.length + matched.unlike.length;
  const agreement = compared === 0 ? 0 : agreeing / compared;
  const corners = uncertainty(model, explanation.inliers, matrix, size, Math.max(noise, 0.03), cornersOf(size));
  const corner = corners === undefined ? Infinity : 2.6 * Math.max(...corners);
  const halves = inHalves(explanation, matched.matches, size);
  const rivals = rivalCount(determined, matrix, within, scale) / Math.max(1, agreeing);
  const residualPx = halves.residualPx;
  const richer = fitModel('perspective', explanation.inliers, size, { start: matrix, noise, robust: false });
  const beyond = richer ? cornerDistance(richer, matrix, size) : 0;
  const confidence =
    Math.min(1, agreement / 0.7) *
    Math.min(1, agreeing / 60) *
    (1 / (1 + (corner / (0.5 * scale)) ** 2)) *
    (1 - Math.min(1, rivals));
  const told = {
    matrix,
    model,
    residualPx,
    agreement,
    confidence,
    stops,
    places: [
      ...determined.map((match, i) => ({ ...match.to, missPx: misses[i] })),
      ...matched.unlike.map((at) => ({ ...at, missPx: null })),
    ],
  };
  const zones = zonesOf(told.places, within, size);
  if (agreeing < LOOK_MATCHES || agreement < LOOK_AGREEMENT || corner > LOOK_CORNERS * scale)
    return { ...told, verdict: 'failed', reason: { code: 'few-of-compared', count: agreeing, of: compared } };
  const doubt = doubts(
    [agreeing < GOOD_MATCHES, { code: 'few-places', count: agreeing }],
    [agreement < GOOD_AGREEMENT, { code: 'low-agreement', share: agreement }],
    [hasRival || rivals > RIVALS, { code: 'rival-motion' }],
    [corner > GOOD_CORNERS * scale, { code: 'corners-uncertain', px: corner }],
    [zones.agreeing < GOOD_ZONES, { code: 'part-compared' }],
    [zones.odd > ODD_ZONES, { code: 'parts-disagree' }],
    [beyond > GOOD_RICHER * scale, { code: 'corners-uncertain', px: beyond }],
    [residualPx > GOOD_RESIDUAL * scale, { code: 'places-off', px: residualPx }],
    [halves.apart > GOOD_HALVES * scale, { code: 'halves-disagree', px: halves.apart }],
  );
  return doubt
    ? { ...told, verdict: 'look', reason: doubt }
    : { ...told, verdict: 'good', reason: { code: 'places-agree', count: agreeing, of: compared } };
}

const doubts = (...found: readonly (readonly [boolean, VerdictReason])[]): VerdictReason | undefined =>
  found.find(([holds]) => holds)?.[1];

/** In how many zones of the picture places agree, and the share of zones in which most do not. */
function zonesOf(places: Alignment['places'], within: number, { width, height }: Size) {
  const counts = Array.from({ length: ZONES * ZONES }, () => ({ all: 0, agree: 0 }));
  for (const { x, y, missPx } of places) {
    const zone = counts[Math.floor((y / height) * ZONES) * ZONES + Math.floor((x / width) * ZONES)];
    zone.all++;
    if (missPx !== null && missPx <= within) zone.agree++;
  }
  const counted = counts.filter(({ all }) => all >= ZONE_PLACES);
  return {
    agreeing: counts.filter(({ agree }) => agree >= ZONE_PLACES).length,
    odd: counted.filter(({ all, agree }) => agree < ZONE_AGREES * all).length / Math.max(1, counted.length),
  };
}

const nothing = (stops: number): Alignment => ({
  matrix: IDENTITY3,
  model: 'none',
  residualPx: Infinity,
  agreement: 0,
  confidence: 0,
  verdict: 'failed',
  reason: { code: 'nothing-found' },
  stops,
  places: [],
});

/** Places that know where they are, in one direction at least. */
const isDetermined =
  (px: number) =>
  ({ sureness: [xx, xy, yy] }: Match): boolean =>
    (xx + yy) / 2 + Math.hypot((xx - yy) / 2, xy) > 1 / px ** 2;

/** Fits each half of the matches and looks at the other: how far its matches are off, and how far apart the two take the
 * corners. Neighbours fall to different halves. */
function inHalves({ model, matrix, noise }: Explanation, matches: readonly Match[], size: Size) {
  const halves = [0, 1].map((half) => matches.filter((_, i) => i % 2 === half));
  const fits = halves.map((half) => fitModel(model, half, size, { start: matrix, noise: noise * 2, robust: true }));
  const misses: number[] = [];
  for (const [i, half] of halves.entries()) {
    const other = fits[1 - i];
    if (other) misses.push(...half.map((match) => missOf(match, other)).filter((miss) => miss < 12 * noise + 0.5));
  }
  misses.sort((a, b) => a - b);
  const [first, second] = fits as (Matrix3 | undefined)[];
  return {
    residualPx: misses.length ? misses[misses.length >> 1] : Infinity,
    apart: first && second ? cornerDistance(first, second, size) : Infinity,
  };
}

/** The most places that do not agree but are off by the same. */
function rivalCount(matches: readonly Match[], matrix: Matrix3, within: number, scale: number): number {
  const off: Point[] = [];
  for (const match of matches) {
    if (missOf(match, matrix) <= within) continue;
    const at = mapPoint(matrix, match.from);
    off.push({ x: match.to.x - at.x, y: match.to.y - at.y });
  }
  const near = (a: Point) => off.filter((b) => Math.hypot(a.x - b.x, a.y - b.y) < 0.7 * scale).length;
  return off.reduce((most, each) => Math.max(most, near(each)), 0);
}
