import { decodeSrgb } from '../color/srgb.ts';
import type { FrameId } from '../ids.ts';
import type { Found } from './checkedBlock.ts';

/** Stops by which one place is clearly darker than another in the light itself, and encoded tone by which the blend shows it brighter. */
const DARKER = 0.8;
const BRIGHTER = 0.035;
/** Cells between places that are held against each other: what is seen together. */
const DISTANCES = [2, 4, 7] as const;
const WAYS = [
  [1, 0],
  [0, 1],
  [1, 1],
  [1, -1],
  [-1, 0],
  [0, -1],
  [-1, -1],
  [-1, 1],
] as const;

/** A coarse picture in encoded tone, row by row, and how bright it was taken in stops. */
export interface LitFrame {
  id: FrameId;
  tone: Float32Array;
  ev: number;
  /** How much of the blend comes from it. */
  weight: Float32Array;
}

/** The true light of a view in stops, merged of its frames: log exposures weighted by a hat over the code (Debevec and Malik 1997,
 * "Recovering high dynamic range radiance maps from photographs", equations 4 and 6). Where all are clipped, what the nearest frame says. */
export function trueLight(frames: readonly LitFrame[], samples: number): Float32Array {
  return Float32Array.from({ length: samples }, (_, i) => {
    let [sum, weights] = [0, 0];
    for (const { tone, ev } of frames) {
      const code = Math.min(1, Math.max(0, tone[i]));
      const weight = Math.max(1e-4, Math.min(code, 1 - code));
      sum += weight * (Math.log2(decodeSrgb(code) + 1e-5) - ev);
      weights += weight;
    }
    return sum / weights;
  });
}

/** Wrong light: places that are clearly darker than others near them in the light itself, and that the blend shows brighter: a land brighter
 * than its sky, a reflection brighter than what it mirrors (common practice, no source). Only where different frames, or masks, show can that be.
 * @param treated - How much of each thing that is laid counts, place by place.
 * @param cells - Columns and rows of the coarse picture, and scene pixels of each. */
export function wrongLight(
  blend: Float32Array,
  frames: readonly LitFrame[],
  treated: readonly Float32Array[],
  { columns, rows, px }: { columns: number; rows: number; px: number },
): Found[] {
  const light = trueLight(frames, columns * rows);
  const found: Found[] = [];
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < columns; x++) {
      const at = y * columns + x;
      let worst: Found | undefined;
      for (const distance of DISTANCES)
        for (const [dx, dy] of WAYS) {
          const [ox, oy] = [x + dx * distance, y + dy * distance];
          if (ox < 0 || oy < 0 || ox >= columns || oy >= rows) continue;
          const other = oy * columns + ox;
          const [stops, tone] = [light[other] - light[at], blend[at] - blend[other]];
          if (stops < DARKER || tone < BRIGHTER || !differ(treated, at, other)) continue;
          const strength = Math.sqrt((stops / DARKER) * (tone / BRIGHTER));
          if (worst && worst.strength >= strength) continue;
          const facts = { stops, tone, otherX: (ox + 0.5) * px, otherY: (oy + 0.5) * px };
          worst = {
            check: 'light',
            x: (x + 0.5) * px,
            y: (y + 0.5) * px,
            reach: px / 2,
            strength,
            frame: most(frames, at),
            other: most(frames, other),
            facts,
          };
        }
      if (worst) found.push(worst);
    }
  return found;
}

const differ = (treated: readonly Float32Array[], a: number, b: number): boolean =>
  treated.some((share) => Math.abs(share[a] - share[b]) > 0.1);

const most = (frames: readonly LitFrame[], at: number): FrameId =>
  frames.reduce((a, b) => (b.weight[at] > a.weight[at] ? b : a)).id;
