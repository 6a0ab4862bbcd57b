import { decodeSrgb } from '../color/srgb.ts';
import { isUsable } from './limits.ts';
import { brightest, type Sketch } from './sketch.ts';

/** Shares of the picture by the frames that hold it well: bit `i` of the key stands for frame `i`. */
export type Holdings = ReadonlyMap<number, number>;

/** Most frames that are weighed against each other. */
export const MOST_FRAMES = 16;

/** Electrons that fill a photosite at ISO 100, and read noise in electrons (common practice, no source). */
const FULL_WELL = 42000;
const READ_NOISE = 3.2;

/** Signal to noise that is excellent, and as far below acceptable as that lies above it, in doublings (ISO 12232:2019 takes 40 and
 * 10 for excellent and acceptable). */
const EXCELLENT = Math.log2(40);
const USELESS = Math.log2(2.5);

/** Least share of the best frame's signal, in doublings above the useless, that holds a place as well. */
const AS_CLEAN = 0.8;
/** Least share of the best frame's local contrast in stops that does. */
const AS_RICH = 0.5;
/** Contrast in stops that does not count: steps of 8 bits, and noise. */
const FLAT = 0.06;
/** Light below which differences are noise, for contrast. */
const FLOOR = 0.0015;

const LEVELS = Array.from({ length: 256 }, (_, level) => decodeSrgb(level / 255));
const STOPS = Float64Array.from(LEVELS, (light) => Math.log2(light + FLOOR));

/** How clean levels are, 0 to 1, by photon and read noise.
 * @param iso - Of the frame. */
function cleanness(iso: number): Float64Array {
  const well = (FULL_WELL * 100) / iso;
  return Float64Array.from(LEVELS, (light) => {
    const electrons = light * well;
    const signal = Math.log2(Math.max(1, electrons / Math.sqrt(electrons + READ_NOISE ** 2)));
    return Math.min(1, Math.max(0, (signal - USELESS) / (EXCELLENT - USELESS)));
  });
}

/** Mean difference in stops between a pixel's green and the eight around it. */
function contrastAt({ width, rgba }: Sketch, pixel: number): number {
  const own = STOPS[rgba[pixel * 4 + 1]];
  let sum = 0;
  for (const row of [-width, 0, width])
    for (let column = -1; column <= 1; column++) sum += Math.abs(STOPS[rgba[(pixel + row + column) * 4 + 1]] - own);
  return sum / 8;
}

/** Divides the picture up by which frames hold it well: neither clipped nor blocked, nearly as clean as the cleanest, and with nearly
 * as much local contrast as the richest of them. Every other pixel of every other row is looked at.
 * @param isos - Of the frames; 100 where none is known. */
export function holdingsOf(sketches: readonly Sketch[], isos: readonly (number | null)[] = []): Holdings {
  const judged = sketches.slice(0, MOST_FRAMES);
  const cleannesses = judged.map((_, index) => cleanness(isos[index] ?? 100));
  const [{ width, height }] = sketches;
  const counts = new Map<number, number>();
  const [clean, rich] = [new Float64Array(judged.length), new Float64Array(judged.length)];
  let pixels = 0;
  for (let y = 1; y < height - 1; y += 2) {
    for (let x = 1; x < width - 1; x += 2, pixels++) {
      const pixel = y * width + x;
      for (const [index, sketch] of judged.entries()) {
        const level = brightest(sketch, pixel);
        clean[index] = isUsable(level) ? cleannesses[index][level] : 0;
        rich[index] = isUsable(level) ? contrastAt(sketch, pixel) + FLAT : 0;
      }
      const [cleanest, richest] = [Math.max(...clean), Math.max(...rich)];
      let key = 0;
      for (let index = 0; index < judged.length; index++) {
        if (rich[index] > 0 && clean[index] >= AS_CLEAN * cleanest && rich[index] >= AS_RICH * richest)
          key |= 1 << index;
      }
      counts.set(key, (counts.get(key) ?? 0) + 1);
    }
  }
  return new Map([...counts].map(([key, count]) => [key, count / pixels]));
}

/** Share of the picture that some frame holds well and none of the given ones does. */
export function lacking(holdings: Holdings, frames: readonly number[]): number {
  const own = frames.reduce((bits, index) => bits | (1 << index), 0);
  let share = 0;
  for (const [key, part] of holdings) if (key !== 0 && (key & own) === 0) share += part;
  return share;
}
