import { TELLING } from './limits.ts';
import { lightOf, type Sketch } from './sketch.ts';

/** Share of the picture that two frames must have in common to be compared. */
const LEAST_SHARED = 0.004;

/** Places that are looked at: enough for a median. */
const MOST_PLACES = 16384;

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
  // Places in steps that share no divisor with the rows, so that all columns have their turn.
  const step = Math.max(1, Math.floor(pixels / MOST_PLACES)) | 1;
  const ratios = new Float64Array(Math.ceil(pixels / step));
  let [count, places] = [0, 0];
  for (let pixel = 0; pixel < pixels; pixel += step, places++) {
    if (tells(a, pixel) && tells(b, pixel)) ratios[count++] = lightOf(b, pixel) / lightOf(a, pixel);
  }
  const shared = count / places;
  if (shared < LEAST_SHARED) return undefined;
  const sorted = ratios.subarray(0, count).sort();
  return { stops: Math.log2(sorted[Math.floor(count / 2)]), shared };
}

function tells({ rgba }: Sketch, pixel: number): boolean {
  const green = rgba[pixel * 4 + 1];
  return green >= TELLING.from && Math.max(green, rgba[pixel * 4], rgba[pixel * 4 + 2]) <= TELLING.to;
}

/** Brightnesses of all frames in stops. What is known stays; the rest is found by going from frame to frame over the pairs
 * that have most in common, so that frames too far apart to compare are reached through those between them.
 * @param known - null where the camera wrote nothing. When nothing is known at all, the first frame counts as 0.
 * @returns null for frames that nothing leads to. */
export function estimateEvs(sketches: readonly Sketch[], known: readonly (number | null)[]): (number | null)[] {
  const evs = known.every((ev) => ev === null) ? known.map((_, index) => (index === 0 ? 0 : null)) : [...known];
  /** For each unknown frame what it shares most with. */
  const nearest = new Map<number, { ev: number; shared: number }>();
  const lookFrom = (from: number, ev: number) => {
    for (const [to, other] of evs.entries()) {
      if (other !== null) continue;
      const ratio = exposureRatio(sketches[from], sketches[to]);
      if (ratio && ratio.shared > (nearest.get(to)?.shared ?? 0))
        nearest.set(to, { ev: ev + ratio.stops, shared: ratio.shared });
    }
  };
  for (const [index, ev] of evs.entries()) if (ev !== null) lookFrom(index, ev);
  while (nearest.size > 0) {
    const [[index, { ev }]] = [...nearest].sort(([, a], [, b]) => b.shared - a.shared);
    nearest.delete(index);
    evs[index] = ev;
    lookFrom(index, ev);
  }
  return evs;
}
