import { AlignCancelled } from '../align/cancelled.ts';
import { mapPoint, type Point } from '../align/placement.ts';
import { LINEAR, lightOf, type Sketch } from '../checks/sketch.ts';
import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import { WindowSums } from './windowSums.ts';

/** A frame as it was taken, placed in the scene: its small picture, and the way from its own pixels to the scene's, both at full size. */
export interface DustFrame {
  sketch: Sketch;
  placement: Matrix3;
}

/** A place that is darker than what is around it in all frames that can tell, in pixels of the sensor. */
export interface Dust extends Point {
  radius: number;
  /** Share of the light that it takes, in the frame where it takes least. */
  depth: number;
  /** How often that is the least that would be told from what is around it, in the frame that shows it best. */
  clear: number;
}

/** Radii that are looked for, in pixels of sketches. */
const RADII = [2, 3, 5, 8] as const;
/** Light that dust takes at least (common practice, no source: it is seen in skies and water). */
const LEAST_DEPTH = 0.02;
/** What takes more is no dust but a thing. */
const MOST_DEPTH = 0.5;
/** How much that is against the deviation of what is around it. */
const LEAST_AGAINST_NOISE = 5;
/** Where it is that dark or bright a frame tells nothing: codes of 8 bits are too far apart there, or white hides it. */
const DARKEST = LINEAR[24];
const BRIGHTEST = LINEAR[250];
/** Dust takes the same share of light in all frames; placements and noise leave so much of it. */
const SAME = 0.4;
/** Frames that have to show it, where there are so many. */
const LEAST_SEEN = 2;
/** Dust ends where the ring begins that it was judged against, at twice the radius that was looked for: this covers it. */
const COVERS = 2.25;
const MOST_FOUND = 60;

/** Spots that stand at one place of the sensor, before frames are aligned: dust. A frame that is blown, too dark or uneven at a place is not asked;
 * of all others none may lack it. Those that stand out most clearly first.
 * @param step - Pixels of a frame for one of its sketch.
 * @throws {AlignCancelled} */
export function findDust(
  frames: readonly DustFrame[],
  step: number,
  { isCancelled, onProgress }: { isCancelled: () => boolean; onProgress: (share: number) => void },
): Dust[] {
  const inSketch = (at: number) => (at + 0.5) / step - 0.5;
  const onSensor = (at: number) => (at + 0.5) * step - 0.5;
  // Twice through all frames, one at a time: sums of a large sketch fill much memory.
  let candidates: Candidate[] = [];
  for (const [index, frame] of frames.entries()) {
    if (isCancelled()) throw new AlignCancelled();
    const toSensor = invert3(frame.placement);
    for (const { x, y, ...place } of darkPlaces(sumsOf(frame.sketch)))
      candidates.push({ ...mapPoint(toSensor, { x: onSensor(x), y: onSensor(y) }), ...place, seen: 0 });
    onProgress((index + 1) / (2 * frames.length));
  }
  for (const [index, { sketch, placement }] of frames.entries()) {
    if (isCancelled()) throw new AlignCancelled();
    const sums = sumsOf(sketch);
    candidates = candidates.flatMap((candidate) => {
      const at = mapPoint(placement, candidate);
      const told = toldAt(sums, Math.round(inSketch(at.x)), Math.round(inSketch(at.y)), candidate);
      if (told === undefined) return [candidate];
      if (told < Math.max(LEAST_DEPTH, SAME * candidate.depth)) return [];
      return [{ ...candidate, depth: Math.min(candidate.depth, told), seen: candidate.seen + 1 }];
    });
    onProgress(0.5 + (index + 1) / (2 * frames.length));
  }
  const least = Math.min(LEAST_SEEN, frames.length);
  return clearest(
    candidates
      .filter(({ seen }) => seen >= least)
      .map(({ seen: _, ...place }) => ({ ...place, radius: COVERS * place.radius * step })),
  );
}

/** A place of the sensor; its radius in pixels of sketches. */
interface Candidate extends Dust {
  seen: number;
}

function sumsOf(sketch: Sketch): WindowSums {
  const { width, height } = sketch;
  return new WindowSums(width, height, (i) => lightOf(sketch, i));
}

const areaOf = (reach: number) => (2 * reach + 1) ** 2;
/** Sum of the squares of how far right, or down, of the middle the pixels of a square lie. */
const momentOf = (reach: number) => (areaOf(reach) * (reach * (reach + 1))) / 3;
/** The ring that a place is judged against lies between these, in pixels to each side. */
const innerOf = (radius: number) => 2 * radius;
const outerOf = (radius: number) => 3 * radius + 1;
const ringArea = (radius: number) => areaOf(outerOf(radius)) - areaOf(innerOf(radius));
const edgeOf = (radius: number) => outerOf(radius) + 1;

/** Mean light of the ring; undefined where it is too dark or blown. */
function ringAt(sums: WindowSums, x: number, y: number, radius: number): number | undefined {
  const light = sums.sum(x, y, outerOf(radius)) - sums.sum(x, y, innerOf(radius));
  const mean = light / ringArea(radius);
  return mean < DARKEST || mean > BRIGHTEST ? undefined : mean;
}

/** Share of its ring's light that a place lacks, in its middle as well: beside something dark it does not. */
function lackAt(sums: WindowSums, x: number, y: number, radius: number, ring: number): number {
  const middle = radius >> 1;
  const most = Math.max(sums.sum(x, y, radius) / areaOf(radius), sums.sum(x, y, middle) / areaOf(middle));
  return 1 - most / ring;
}

/** The least share that is told from what is uneven in the ring: what is left of its light when it rises evenly in one direction, as a sky does. */
function noiseAt(sums: WindowSums, x: number, y: number, radius: number, ring: number): number {
  const [outer, inner] = [outerOf(radius), innerOf(radius)];
  const light = ring * ringArea(radius);
  const squares = sums.squares(x, y, outer) - sums.squares(x, y, inner);
  const across = sums.across(x, y, outer) - sums.across(x, y, inner) - x * light;
  const down = sums.down(x, y, outer) - sums.down(x, y, inner) - y * light;
  const rise = (across ** 2 + down ** 2) / (momentOf(outer) - momentOf(inner));
  const left = (squares - rise) / ringArea(radius) - ring * ring;
  return (LEAST_AGAINST_NOISE * Math.sqrt(Math.max(0, left))) / ring;
}

const isInside = ({ width, height }: WindowSums, x: number, y: number, edge: number) =>
  x >= edge && y >= edge && x < width - edge && y < height - edge;

/** Places of a sketch that dust may be at: of those that lie in one square the clearest. */
function darkPlaces(sums: WindowSums): Dust[] {
  const { width, height } = sums;
  const found: Dust[] = [];
  for (const radius of RADII) {
    const edge = edgeOf(radius);
    const side = 2 * radius + 1;
    const columns = Math.ceil(width / side);
    const best = new Map<number, Dust>();
    for (let y = edge; y < height - edge; y++)
      for (let x = edge; x < width - edge; x++) {
        const ring = ringAt(sums, x, y, radius);
        if (ring === undefined) continue;
        const depth = lackAt(sums, x, y, radius, ring);
        if (depth < LEAST_DEPTH) continue;
        const clear = depth / noiseAt(sums, x, y, radius, ring);
        const square = Math.floor(y / side) * columns + Math.floor(x / side);
        if (clear > Math.max(1, best.get(square)?.clear ?? 0)) best.set(square, { x, y, radius, depth, clear });
      }
    found.push(...best.values());
  }
  return found;
}

/** Share of light that a frame lacks at a place or just beside it, since placements are not exact; undefined where it cannot tell. */
function toldAt(sums: WindowSums, x: number, y: number, { radius, depth }: Candidate): number | undefined {
  let most: number | undefined;
  for (let dy = -1; dy <= 1; dy++)
    for (let dx = -1; dx <= 1; dx++) {
      const [column, row] = [x + dx, y + dy];
      const ring = isInside(sums, column, row, edgeOf(radius)) ? ringAt(sums, column, row, radius) : undefined;
      if (ring === undefined || noiseAt(sums, column, row, radius, ring) >= depth) continue;
      most = Math.max(most ?? 0, lackAt(sums, column, row, radius, ring));
    }
  return most;
}

/** Of places that touch each other the clearest; but where one is a thing, none. */
function clearest(found: readonly Dust[]): Dust[] {
  const touches = (one: Dust) => (other: Dust) =>
    Math.hypot(other.x - one.x, other.y - one.y) <= other.radius + one.radius;
  const things = found.filter(({ depth }) => depth > MOST_DEPTH);
  const kept: Dust[] = [];
  for (const each of [...found].sort((a, b) => b.clear - a.clear)) {
    if (kept.length >= MOST_FOUND) break;
    if (!things.some(touches(each)) && !kept.some(touches(each))) kept.push(each);
  }
  return kept;
}
