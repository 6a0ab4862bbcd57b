import { IDENTITY3, invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import type { Alignment, Found, Matched } from './alignment.ts';
import { consensus, findAround, findBlocks } from './blockSearch.ts';
import { AlignCancelled } from './cancelled.ts';
import { candidates } from './candidates.ts';
import { chooseModel } from './chooseModel.ts';
import { findDensely } from './findDensely.ts';
import { type Match, missOf, uncertainty } from './fit.ts';
import { levelsBelow, levelUnder } from './levels.ts';
import { matchPatch, type Pair, smooth } from './patchMatch.ts';
import {
  atLevel,
  compose,
  cornerDistance,
  cornersOf,
  fromLevel,
  mapPoint,
  type Point,
  shiftMatrix,
} from './placement.ts';
import type { PixelSource } from './tileSource.ts';
import { exposureStops, FLOOR, floorsFor, type ToneSignal, wholeSignal } from './toneSignal.ts';
import { AREA_SURE, judge, scaleOf } from './verdict.ts';

export interface AlignOptions {
  /** How much a place of the base, in its pixels, is to be looked at, 0..1. */
  wanted?: (at: Point) => number;
  onProgress?: (share: number) => void;
  /** Asked now and then. */
  isCancelled?: () => boolean;
}

/** Longest sides of the levels that blocks are searched on and that places are chosen on. */
const COARSE_SIDE = 160;
const CHOICE_SIDE = 1300;
const FIRST_SIDE = 520;
/** Blocks that have to agree to be a lead, and how far off they may be. */
const LEAST_BLOCKS = 5;
const BLOCK_TOLERANCE = 1.2;
/** How sure a place can be at best, in pixels of its level. */
const LEAST_NOISE = 0.012;
/** Doubt that a finer level may add and still be preferred. */
const COARSER_IS_BETTER = 1.3;
/** How far, in pixels of the first level, places that were not found are searched for; how many have to have moved together to
 * be a motion of their own, and their share of those that agree. */
const RIVAL_REACH = 11;
const LEAST_RIVALS = 6;
const RIVAL_SHARE = 0.2;
const RIVAL_MANY = 0.5;
/** Scatter of a motion of its own, against that of what agrees. */
const RIVAL_REACHES = 0.1;
/** Groups of blocks that are followed; what share of the places of the largest a smaller one needs to be; how far apart, as a share
 * of the picture, motions are different; and how much less closely places of a thing that deforms agree. */
const MOST_LEADS = 3;
const LEAST_SHARE = 0.25;
const APART = 0.0008;
const DEFORMS = 3;
/** Places are chosen anew when the placement has moved by this share of the picture. */
const NEARBY = 0.01;
/** Share of the work that following patches is. */
const PATCHES = 0.5;
/** Patches of texture lie so close to one motion, in pixels at the usual width; where they do not, the whole is looked at too. */
const CLOSE = 0.05;
/** Areas that are one motion: so many of them agree. Two placements are the same when corners lie so near, in pixels at the usual width. */
const ALL_AGREE = 0.85;
const MANY_AGREE = 0.75;
const MOST_AGREE = 0.6;
const SAME = 0.4;
/** A shift this near to whole pixels is one: such frames need no resampling. */
const WHOLE = 0.004;

/**
 * Finds how a frame lies on the base: blocks of the coarsest picture give leads, patches of finer and finer levels are matched
 * to fractions of a pixel, and the simplest motion that explains them is taken. Where patches tell too little, all tones that both
 * pictures share are looked at as a whole, and patches again from there.
 * @throws {AlignCancelled}
 */
export function estimatePlacement(base: PixelSource, frame: PixelSource, options: AlignOptions = {}): Alignment {
  const { wanted = () => 1, onProgress = () => undefined } = options;
  const step = (share: number) => {
    if (options.isCancelled?.()) throw new AlignCancelled();
    onProgress(share);
  };
  const coarse = levelUnder(base, COARSE_SIDE);
  const stops = exposureStops(wholeSignal(base, coarse, FLOOR), wholeSignal(frame, coarse, FLOOR));
  const pair: Pair = { base, frame, floors: floorsFor(stops) };
  const atBase = (level: number) => (at: Point) => wanted(mapPoint(fromLevel(level), at));
  const blocks = findBlocks(
    smooth(wholeSignal(base, coarse, pair.floors[0])),
    smooth(wholeSignal(frame, coarse, pair.floors[1])),
    atBase(coarse),
  );
  const leads = allLeads(blocks).map((lead) => compose(invert3(fromLevel(coarse)), lead, fromLevel(coarse)));
  step(0.1);
  const choice = levelUnder(base, CHOICE_SIDE);
  const scene = new Choice(
    pair,
    choice,
    wholeSignal(base, choice, pair.floors[0]),
    wholeSignal(frame, choice, pair.floors[1]),
    atBase(choice),
  );
  const first = levelUnder(base, FIRST_SIDE);
  const starts = distinct(
    [IDENTITY3, ...leads].flatMap((start) => refine(scene, start, first, base.size) ?? []),
    base.size,
  );
  step(0.25);
  const byPatches = follow(scene, starts, first, (share) => step(0.25 + PATCHES * share));
  const judged = judgeFound(byPatches, base.size, stops);
  const noise = (byPatches?.still.explanation.noise ?? Infinity) / scaleOf(base.size);
  if (judged.verdict === 'good' && noise < CLOSE) {
    step(1);
    return judged;
  }
  const from = 0.25 + PATCHES;
  const known = byPatches ? [byPatches.still.explanation.matrix] : [];
  const found = findDensely(pair, [...known, IDENTITY3, ...leads], atBase, (share) =>
    step(from + (0.9 - from) * share),
  );
  if (!found) return judged;
  const again = refine(scene, found.explanation.matrix, first, base.size);
  const anew = again && follow(scene, [again], first, (share) => step(0.9 + 0.1 * share));
  step(1);
  const dense = judge(settle(found), base.size, stops, false, AREA_SURE);
  return together(dense, judged, judgeFound(anew, base.size, stops), base.size);
}

/** What areas and patches come to. Where nearly all areas agree on one motion of the whole, that is it, or most areas where patches that
 * begin there stay there; and nothing speaks against it once patches that nothing speaks against lead to the same. Else what patches
 * found decides: they tell what stands still from what moved as one.
 * @param patches - What they found by themselves.
 * @param anew - What they found from the motion of the whole. */
function together(dense: Alignment, patches: Alignment, anew: Alignment, size: Size): Alignment {
  const areSame = (a: Alignment, b: Alignment) => cornerDistance(a.matrix, b.matrix, size) < SAME * scaleOf(size);
  const doubted = (found: Alignment): Alignment => (found.verdict === 'good' ? { ...found, ...RIVALLED } : found);
  const isDoubtful = patches.verdict !== 'failed' && anew.verdict !== 'failed' && !areSame(patches, anew);
  const isBorneOut = dense.verdict !== 'failed' && anew.verdict !== 'failed' && areSame(anew, dense);
  // Where most patches agree they know better than areas do, but for noise that agrees with itself twice over; loose ones that pass for
  // good are held to the whole.
  const isTorn = patches.reason.code === 'rival-motion' && isBorneOut;
  const isKnown = patches.verdict === 'look' && patches.agreement >= MOST_AGREE && !isTorn;
  const isWhole = dense.verdict !== 'failed' && dense.agreement >= (isBorneOut ? MANY_AGREE : ALL_AGREE);
  if (isKnown || !isWhole) {
    const found = patches.verdict === 'failed' ? anew : patches;
    const isBetter = dense.verdict !== 'failed' && couldBe(found, dense.matrix, size);
    if (isBetter) return { ...found, matrix: dense.matrix, model: dense.model };
    return isDoubtful || found === anew ? doubted(found) : found;
  }
  const good = [patches, anew].find(({ verdict }) => verdict === 'good');
  if (!good) return dense;
  return isDoubtful || !areSame(good, dense)
    ? { ...dense, ...RIVALLED }
    : { ...good, matrix: dense.matrix, model: dense.model };
}

/** Whether patches that do not hold the corners leave them to another placement: one as near as they know of themselves. */
const couldBe = ({ matrix, reason: { code, px = 0 } }: Alignment, other: Matrix3, size: Size): boolean =>
  code === 'corners-uncertain' && cornerDistance(matrix, other, size) < SAME * scaleOf(size) + 2 * px;

const RIVALLED = { verdict: 'look', reason: { code: 'rival-motion' } } as const;

const judgeFound = (followed: Followed | undefined, size: Size, stops: number): Alignment =>
  judge(followed && settle(followed.still), size, stops, followed?.isRivalled ?? false);

interface Followed {
  /** The motion of what stands still. */
  still: Found;
  /** Another might as well be that. */
  isRivalled: boolean;
}

/** Follows motions from the first level to full size, and looks for others there. */
function follow(
  scene: Choice,
  starts: readonly Found[],
  first: number,
  onProgress: (share: number) => void,
): Followed | undefined {
  const { size } = scene.pair.base;
  const motions = starts.map((found, i) =>
    descendLevels(scene, found, first, (share) => onProgress((0.9 * (i + share)) / starts.length)),
  );
  const best = surest(motions, size);
  if (!best) return undefined;
  const other = rivalOf(scene, best, first);
  const rival = other && refine(scene, other, first, size);
  if (rival) motions.push(descendLevels(scene, rival, first, (share) => onProgress(0.9 + share * 0.1)));
  const still = surest(motions, size) ?? best;
  const isRivalled = motions.some((motion) => isRival(motion, still, size)) || (other !== undefined && still === best);
  return { still, isRivalled };
}

/** Motions that groups of blocks agree on, the largest first. */
function allLeads(blocks: readonly Match[]): Matrix3[] {
  const leads: Matrix3[] = [];
  let left = blocks;
  while (leads.length < MOST_LEADS) {
    const lead = consensus(left, BLOCK_TOLERANCE, LEAST_BLOCKS);
    if (!lead) break;
    leads.push(lead);
    left = left.filter((match) => missOf(match, lead) > 2 * BLOCK_TOLERANCE);
  }
  return leads;
}

/** Motions that differ, those that most places agree on first; without those that hardly any do. */
function distinct(found: readonly Found[], size: Size): Found[] {
  const kept: Found[] = [];
  const count = ({ explanation }: Found) => explanation.inliers.length;
  for (const each of [...found].sort((a, b) => count(b) - count(a)))
    if (count(each) >= LEAST_SHARE * count(kept[0] ?? each) && kept.every((other) => areApart(each, other, size)))
      kept.push(each);
  return kept;
}

const areApart = (a: Found, b: Found, size: Size): boolean =>
  cornerDistance(a.explanation.matrix, b.explanation.matrix, size) > APART * Math.max(size.width, size.height);

/** The motion that determines the corners best: of what stands still many places far apart agree closely, whereas clouds and water
 * deform as they move. */
function surest(motions: readonly Found[], size: Size): Found | undefined {
  const doubts = motions.map((motion) => doubtOf(motion, size));
  return motions[doubts.indexOf(Math.min(...doubts))];
}

/** Whether a motion might as well be that of what stands still. */
function isRival(motion: Found, still: Found, size: Size): boolean {
  if (!areApart(motion, still, size)) return false;
  const [its, own] = [motion.explanation, still.explanation];
  const share = its.inliers.length / own.inliers.length;
  const deforms = its.noise > DEFORMS * own.noise;
  return !deforms && share >= RIVAL_SHARE && (share >= RIVAL_MANY || reachesFar(its.inliers, own.inliers));
}

const reachesFar = (some: readonly Match[], all: readonly Match[]): boolean =>
  scatter(some.map(({ to }) => to)) > RIVAL_REACHES * scatter(all.map(({ to }) => to));

/** Goes on from the first level to full size. */
function descendLevels(scene: Choice, found: Found, first: number, onProgress: (share: number) => void): Found {
  const levels = levelsBelow(first);
  let best = found;
  for (const [index, level] of levels.entries()) {
    const next = refine(scene, best.explanation.matrix, level, scene.pair.base.size, (share) =>
      onProgress((index + share) / levels.length),
    );
    // A level that tells less, for noise, leaves what the coarser ones have found.
    if (next && doubtOf(next, scene.pair.base.size) < COARSER_IS_BETTER * doubtOf(best, scene.pair.base.size))
      best = next;
  }
  return best;
}

/** How uncertain the corners are, in pixels, whatever the model. */
function doubtOf({ explanation }: Found, size: Size): number {
  const { inliers, matrix, noise } = explanation;
  const corners = uncertainty('perspective', inliers, matrix, size, noise, cornersOf(size));
  return corners ? Math.max(...corners) : Infinity;
}

/** The placement on which places agree that do not agree with what was found, when they are many. */
function rivalOf({ pair }: Choice, { explanation, matched }: Found, level: number): Matrix3 | undefined {
  const { matrix, inliers, noise } = explanation;
  const [base, frame] = [pair.base, pair.frame].map((source, i) => smooth(wholeSignal(source, level, pair.floors[i])));
  const toFrame = invert3(atLevel(matrix, level));
  const toLevel = invert3(fromLevel(level));
  const within = Math.max(0.6, 4 * noise);
  const lost = [
    ...matched.unlike,
    ...matched.matches.filter((match) => missOf(match, matrix) > within).map(({ to }) => to),
  ];
  const motions: (Point & { at: Point })[] = [];
  for (const place of lost) {
    const at = mapPoint(toLevel, place);
    const motion = findAround(base, frame, at, mapPoint(toFrame, at), RIVAL_REACH);
    if (motion && (motion.x !== 0 || motion.y !== 0)) motions.push({ ...motion, at: place });
  }
  const near = (a: Point) => motions.filter((b) => Math.abs(a.x - b.x) <= 1 && Math.abs(a.y - b.y) <= 1);
  const largest = motions.map(near).reduce((most, each) => (each.length > most.length ? each : most), []);
  if (largest.length < Math.max(LEAST_RIVALS, RIVAL_SHARE * inliers.length)) return undefined;
  // A thing that moved lies together; light, cloud or land that moved reaches across the picture.
  const reaches = scatter(largest.map(({ at }) => at)) > RIVAL_REACHES * scatter(inliers.map(({ to }) => to));
  if (!reaches && largest.length < RIVAL_MANY * inliers.length) return undefined;
  const mean = (pick: (point: Point) => number) => largest.reduce((sum, each) => sum + pick(each), 0) / largest.length;
  const step = 2 ** level;
  // The frame's own place is moved on: what is expected at one place lies at another.
  return compose(shiftMatrix(-mean(({ x }) => x) * step, -mean(({ y }) => y) * step), matrix);
}

/** How far places reach across the picture: the determinant of their scatter. */
function scatter(points: readonly Point[]): number {
  const mean = (pick: (point: Point) => number) => points.reduce((sum, each) => sum + pick(each), 0) / points.length;
  const [x, y] = [mean((at) => at.x), mean((at) => at.y)];
  const [xx, xy, yy] = [
    mean((at) => (at.x - x) ** 2),
    mean((at) => (at.x - x) * (at.y - y)),
    mean((at) => (at.y - y) ** 2),
  ];
  return xx * yy - xy * xy;
}

/** A shift of whole pixels is made exactly that. */
function settle(found: Found): Found {
  const { model, matrix } = found.explanation;
  const rounded = matrix.map(Math.round);
  if (model !== 'shift' || Math.hypot(matrix[2] - rounded[2], matrix[5] - rounded[5]) > WHOLE) return found;
  return { ...found, explanation: { ...found.explanation, matrix: rounded } };
}

/** Where to look: chosen once on a middling level, anew when the placement has moved. */
class Choice {
  readonly pair: Pair;
  readonly level: number;
  readonly #base: ToneSignal;
  readonly #frame: ToneSignal;
  readonly #wanted: (at: Point) => number;
  #last: { placement: Matrix3; places: readonly Point[] } | undefined;

  constructor(pair: Pair, level: number, base: ToneSignal, frame: ToneSignal, wanted: (at: Point) => number) {
    this.pair = pair;
    this.level = level;
    this.#base = base;
    this.#frame = frame;
    this.#wanted = wanted;
  }

  /** Places of the base at full size. */
  places(placement: Matrix3): readonly Point[] {
    const { size } = this.pair.base;
    const near = NEARBY * Math.max(size.width, size.height);
    if (this.#last && cornerDistance(this.#last.placement, placement, size) < near) return this.#last.places;
    this.#last = { placement, places: this.#chosen(placement) };
    return this.#last.places;
  }

  #chosen(placement: Matrix3): Point[] {
    const found = candidates(this.#base, this.#frame, atLevel(placement, this.level), this.#wanted);
    return found.map((at) => mapPoint(fromLevel(this.level), at));
  }
}

/** Matches patches of a level and takes the placement that explains them. */
function refine(
  scene: Choice,
  start: Matrix3,
  level: number,
  size: Size,
  onProgress: (share: number) => void = () => undefined,
): Found | undefined {
  const matched = matchAll(scene.pair, scene.places(start), level, start, onProgress);
  const scale = 2 ** level;
  const explanation = chooseModel(matched.matches, size, start, { loose: 0.6 * scale, least: LEAST_NOISE * scale });
  return explanation && { explanation, matched };
}

function matchAll(
  pair: Pair,
  places: readonly Point[],
  level: number,
  placement: Matrix3,
  onProgress: (share: number) => void,
): Matched {
  const toLevel = invert3(fromLevel(level));
  const seen = new Set<number>();
  const matched: Matched = { matches: [], unlike: [] };
  for (const [index, place] of places.entries()) {
    const at = mapPoint(toLevel, place);
    const centre = { x: Math.round(at.x), y: Math.round(at.y) };
    // On coarse levels neighbours fall together.
    const name = Math.round(centre.y / 6) * 65536 + Math.round(centre.x / 6);
    if (seen.has(name)) continue;
    seen.add(name);
    const found = matchPatch(pair, level, centre, placement);
    if (found === 'unlike') matched.unlike.push(place);
    else if (found !== 'empty') matched.matches.push(found.match);
    if (index % 16 === 0) onProgress(index / places.length);
  }
  return matched;
}
