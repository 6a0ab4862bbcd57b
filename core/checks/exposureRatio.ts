import { lightOf, type Sketch } from './sketch.ts';

/** Levels between which a tone tells of the exposure: neither near white, where cameras bend it, nor in the noise. */
const LOWEST = 20;
const HIGHEST = 235;
/** Share of the picture that two frames must have in common to be compared. */
const LEAST_SHARED = 0.004;

export interface ExposureRatio {
  /** Stops by which the second frame is brighter. */
  stops: number;
  /** Share of the picture that both hold in tones that tell. */
  shared: number;
}

/** How much brighter one frame is than another, from the pictures alone: the median of the ratio of light over the places
 * that both hold unclipped, so that what moved or was lit between them does not count while it is the smaller part.
 * @returns undefined when they have too little in common. */
export function exposureRatio(a: Sketch, b: Sketch): ExposureRatio | undefined {
  const pixels = a.width * a.height;
  const ratios: number[] = [];
  for (let pixel = 0; pixel < pixels; pixel++) {
    if (tells(a, pixel) && tells(b, pixel)) ratios.push(lightOf(b, pixel) / lightOf(a, pixel));
  }
  const shared = ratios.length / pixels;
  if (shared < LEAST_SHARED) return undefined;
  ratios.sort((x, y) => x - y);
  return { stops: Math.log2(ratios[Math.floor(ratios.length / 2)]), shared };
}

function tells({ rgba }: Sketch, pixel: number): boolean {
  const green = rgba[pixel * 4 + 1];
  return green >= LOWEST && Math.max(green, rgba[pixel * 4], rgba[pixel * 4 + 2]) <= HIGHEST;
}

/** Brightnesses of all frames in stops. What is known stays; the rest is found by going from frame to frame over the pairs
 * that have most in common, so that frames too far apart to compare are reached through those between them.
 * @param known - null where the camera wrote nothing. When nothing is known at all, the first frame counts as 0.
 * @returns null for frames that nothing leads to. */
export function estimateEvs(sketches: readonly Sketch[], known: readonly (number | null)[]): (number | null)[] {
  const evs = known.every((ev) => ev === null) ? known.map((_, index) => (index === 0 ? 0 : null)) : [...known];
  for (;;) {
    let best: { index: number; ev: number; shared: number } | undefined;
    for (const [from, ev] of evs.entries()) {
      if (ev === null) continue;
      for (const [to, other] of evs.entries()) {
        if (other !== null) continue;
        const ratio = exposureRatio(sketches[from], sketches[to]);
        if (ratio && (!best || ratio.shared > best.shared))
          best = { index: to, ev: ev + ratio.stops, shared: ratio.shared };
      }
    }
    if (!best) return evs;
    evs[best.index] = best.ev;
  }
}
