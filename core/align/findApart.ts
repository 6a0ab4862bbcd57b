import { middleOf } from '../raster/lens.ts';
import type { Matrix3 } from '../raster/matrix3.ts';
import { levelSize, type Region } from '../raster/size.ts';
import { AlignCancelled } from './cancelled.ts';
import { candidates } from './candidates.ts';
import { median } from './localFit.ts';
import { matchPatch, PATCH } from './patchMatch.ts';
import { compose, fromLevel, mapPoint, type Point, scaleMatrix, shiftMatrix } from './placement.ts';
import type { PixelSource, Planes } from './tileSource.ts';
import { FLOOR, wholeSignal } from './toneSignal.ts';

/** How much larger than green the lens drew red and blue, as shares; see `Lens`. */
export interface ChannelsApart {
  red: number;
  blue: number;
  /** Patches that it was found of, of the channel with fewer. */
  patches: number;
}

/** Longest side of the level at which places are chosen. */
const CHOOSING_SIDE = 1400;
/** Levels that are gone down through, so that channels may lie farther apart than a patch looks. */
const STEPS = 2;
/** Patches nearer to the middle than this share of half the diagonal tell little. */
const NEAR = 0.25;
const LEAST_PATCHES = 8;
/** Patches farther than so many median misses from the common scale do not count. */
const OUTLYING = 3;
const ROUNDS = 3;
/** Scales that no lens reaches, and at which something else was found. */
const LARGEST = 0.005;

/** One channel of a picture in place of all three. */
class ChannelSource implements PixelSource {
  readonly size: PixelSource['size'];
  readonly levels: number;
  readonly #of: PixelSource;
  readonly #channel: 0 | 1 | 2;

  constructor(of: PixelSource, channel: 0 | 1 | 2) {
    this.size = of.size;
    this.levels = of.levels;
    this.#of = of;
    this.#channel = channel;
  }

  area(level: number, region: Region): Planes {
    const plane = this.#of.area(level, region)[this.#channel];
    return [plane, plane, plane];
  }
}

/** Registers red and blue with green by the aligner's patches, and fits the scale about the picture's middle by which their distances from it
 * differ.
 * @returns Undefined when too little of the picture tells.
 * @throws {AlignCancelled} */
export function findApart(
  frame: PixelSource,
  { isCancelled, onProgress }: { isCancelled: () => boolean; onProgress: (share: number) => void },
): ChannelsApart | undefined {
  const [red, green, blue] = ([0, 1, 2] as const).map((channel) => new ChannelSource(frame, channel));
  const places = chosenPlaces(green);
  const found = [red, blue].map((channel, index) =>
    scaleBetween(green, channel, places, (share) => {
      if (isCancelled()) throw new AlignCancelled();
      onProgress((index + share) / 2);
    }),
  );
  const [first, second] = found;
  if (!first || !second) return undefined;
  return { red: first.scale, blue: second.scale, patches: Math.min(first.patches, second.patches) };
}

/** Places that can be found again, in pixels of full size, away from the middle. */
function chosenPlaces(green: PixelSource): Point[] {
  const level = levelWithin(green, CHOOSING_SIDE);
  const signal = wholeSignal(green, level, FLOOR);
  const { x, y, radius } = middleOf(green.size);
  return candidates(signal, signal, scaleMatrix(1), () => 1)
    .map((at) => mapPoint(fromLevel(level), at))
    .filter((at) => Math.hypot(at.x - x, at.y - y) > NEAR * radius);
}

function levelWithin({ size, levels }: PixelSource, side: number): number {
  let level = 0;
  while (level < levels - 1 && Math.max(...Object.values(levelSize(size, level))) > side) level++;
  return level;
}

function scaleBetween(
  green: PixelSource,
  channel: PixelSource,
  places: readonly Point[],
  onProgress: (share: number) => void,
): { scale: number; patches: number } | undefined {
  const { x, y, radius } = middleOf(green.size);
  const pair = { base: green, frame: channel, floors: [FLOOR, FLOOR] as const };
  const start = Math.min(STEPS, levelWithin(green, 2 * PATCH));
  let found: { scale: number; patches: number } = { scale: 0, patches: 0 };
  for (let level = start; level >= 0; level--) {
    // Channel pixels to green's.
    const placement: Matrix3 = compose(shiftMatrix(-x, -y), scaleMatrix(1 / (1 + found.scale)), shiftMatrix(x, y));
    const step = 2 ** level;
    const measured: { scale: number; weight: number }[] = [];
    for (const [index, place] of places.entries()) {
      onProgress((start - level + index / places.length) / (start + 1));
      const centre = {
        x: Math.round((place.x - (step - 1) / 2) / step),
        y: Math.round((place.y - (step - 1) / 2) / step),
      };
      const patch = matchPatch(pair, level, centre, placement);
      if (typeof patch === 'string') continue;
      const { from, to } = patch.match;
      const [dx, dy] = [to.x - x, to.y - y];
      const distance = Math.hypot(dx, dy);
      if (distance < NEAR * radius) continue;
      const outwards = ((from.x - to.x) * dx + (from.y - to.y) * dy) / distance;
      measured.push({ scale: outwards / distance, weight: distance ** 2 });
    }
    const fitted = robustMean(measured);
    if (!fitted || Math.abs(fitted.scale) > LARGEST) return undefined;
    found = fitted;
  }
  return found;
}

/** A weighed mean, of what lies near the median. */
function robustMean(measured: readonly { scale: number; weight: number }[]) {
  if (measured.length < LEAST_PATCHES) return undefined;
  let scale = median(measured.map((each) => each.scale));
  const spread = median(measured.map((each) => Math.abs(each.scale - scale)));
  let kept = measured;
  for (let round = 0; round < ROUNDS; round++) {
    const now = scale;
    kept = measured.filter((each) => Math.abs(each.scale - now) <= OUTLYING * spread);
    const mass = kept.reduce((all, { weight }) => all + weight, 0);
    scale = kept.reduce((all, each) => all + each.weight * each.scale, 0) / mass;
  }
  return kept.length < LEAST_PATCHES ? undefined : { scale, patches: kept.length };
}
