import { decodeSrgb } from '../color/srgb.ts';
import { betweenSpaces, type OutputSpace, type WorkingSpace } from '../color/workingSpace.ts';
import { leastAround } from '../kernels/leastAround.ts';
import { times3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';

/** Half the window of the darkest channel, as a share of the longest side, and the share of places where it is brightest that tell the
 * veil (He, Sun and Tang 2009, section 4.3: 15 pixels of 600, the brightest 0.1 %). */
const SHARE = 0.0117;
const BRIGHTEST = 0.001;

const LIGHT = Float64Array.from({ length: 256 }, (_, code) => decodeSrgb(code / 255));

/** The light of a veil: of the places where even the darkest channel around is bright, the mean.
 * @param rgba - A picture as it is drawn, four bytes a pixel.
 * @param drawnIn - Space of its bytes.
 * @returns Linear light in the working space; undefined for a black picture. */
export function findVeil(
  rgba: Uint8ClampedArray,
  { width, height }: Size,
  drawnIn: OutputSpace,
  space: WorkingSpace,
): [number, number, number] | undefined {
  const least = new Uint8Array(width * height);
  for (let i = 0; i < least.length; i++) least[i] = Math.min(rgba[4 * i], rgba[4 * i + 1], rgba[4 * i + 2]);
  const radius = Math.max(1, Math.round(SHARE * Math.max(width, height)));
  leastAround(least, new Uint8Array(least.length), width, height, radius);
  const counts = new Uint32Array(256);
  for (const value of least) counts[value]++;
  let [from, found] = [255, counts[255]];
  while (from > 0 && found < BRIGHTEST * least.length) found += counts[--from];
  if (from === 0) return undefined;
  const sum = [0, 0, 0];
  let count = 0;
  for (let i = 0; i < least.length; i++) {
    if (least[i] < from) continue;
    for (const channel of [0, 1, 2]) sum[channel] += LIGHT[rgba[4 * i + channel]];
    count++;
  }
  const [r, g, b] = sum.map((light) => light / count);
  return times3(betweenSpaces(drawnIn, space), [r, g, b]);
}
