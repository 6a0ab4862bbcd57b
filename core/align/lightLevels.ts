import { decodeSrgb } from '../color/srgb.ts';
import { levelSize } from '../raster/size.ts';
import { overThree } from './overThree.ts';
import { binomial } from './patchMatch.ts';
import type { PixelSource } from './tileSource.ts';
import { type ToneSignal, TRUST } from './toneSignal.ts';

/** Linear light of a whole picture at a level, 0..1, and how much each place is to be trusted, 0..1. */
export interface LightSignal {
  width: number;
  height: number;
  light: Float32Array;
  weight: Float32Array;
}

const LIGHT = Float32Array.from({ length: 65536 }, (_, code) => decodeSrgb(code / 65535));
/** Codes above it that are not trusted are clipped; those below, noise. */
const MIDDLE = 32768;
/** Rows that are read at a time. */
const STRIP = 256;
/** A place of which this share is clipped is none. */
const MOST_CLIPPED = 0.1;

/** Averages the light of full size. A pyramid of encoded pixels will not do: the mean of noise, encoded, is darker than it is, the
 * more so the darker the tone, and edges of which one side is darker seem to have moved by tenths of a pixel.
 * @param onProgress - Called strip by strip. */
export function lightAt(source: PixelSource, level: number, onProgress: (share: number) => void): LightSignal {
  const { width, height } = levelSize(source.size, level);
  const [light, trust, clipped, count] = Array.from({ length: 4 }, () => new Float32Array(width * height));
  for (let top = 0; top < source.size.height; top += STRIP) {
    onProgress(top / source.size.height);
    const rows = Math.min(STRIP, source.size.height - top);
    const [red, green, blue] = source.area(0, { x: 0, y: top, width: source.size.width, height: rows });
    let i = 0;
    for (let y = top; y < top + rows; y++) {
      const row = (y >> level) * width;
      for (let x = 0; x < source.size.width; x++, i++) {
        const at = row + (x >> level);
        const [r, g, b] = [red[i], green[i], blue[i]];
        light[at] += LIGHT[r] + 2 * LIGHT[g] + LIGHT[b];
        const most = Math.max(r, g, b);
        const trusted = TRUST[most];
        trust[at] += trusted;
        if (most > MIDDLE) clipped[at] += 1 - trusted;
        count[at]++;
      }
    }
  }
  const weight = trust;
  for (let i = 0; i < light.length; i++) {
    light[i] /= 4 * count[i];
    weight[i] = (trust[i] / count[i]) * Math.max(0, 1 - clipped[i] / count[i] / MOST_CLIPPED);
  }
  return { width, height, light, weight };
}

/** The next coarser level. */
export function halveLight(signal: LightSignal): LightSignal {
  const [width, height] = [Math.ceil(signal.width / 2), Math.ceil(signal.height / 2)];
  const half = (plane: Float32Array) =>
    Float32Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [2 * (i % width), 2 * Math.floor(i / width)];
      const [right, below] = [Math.min(x + 1, signal.width - 1), Math.min(y + 1, signal.height - 1)];
      const [row, next] = [y * signal.width, below * signal.width];
      return (plane[row + x] + plane[row + right] + plane[next + x] + plane[next + right]) / 4;
    });
  return { width, height, light: half(signal.light), weight: half(signal.weight) };
}

/** Tones of smooth light: noise that is smoothed before it becomes stops does not darken them.
 * @param floor - Light to add: see `toneSignal`. */
export function tonesOf({ width, height, light, weight }: LightSignal, floor: number): ToneSignal {
  const twice = (plane: Float32Array, join: typeof binomial) =>
    overThree(overThree(plane, width, height, join), width, height, join);
  return {
    width,
    height,
    value: twice(light, binomial).map((each) => Math.log2(each + floor)),
    weight: twice(weight, Math.min),
  };
}
