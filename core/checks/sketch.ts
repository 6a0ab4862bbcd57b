import { decodeSrgb } from '../color/srgb.ts';
import { levelCount, levelForScale, type Size } from '../raster/size.ts';
import { BLOCKED_TO, BLOWN_FROM } from './limits.ts';

/** A small picture of a frame, 8 bits as on screen: enough to judge how its tones lie. All sketches of a scene are of one size. */
export interface Sketch {
  width: number;
  height: number;
  /** Interleaved red, green, blue and something else. */
  rgba: Uint8ClampedArray;
}

/** Least longest side of a sketch in pixels; a level of the pyramid has at most twice as many. */
const SIDE = 512;

/** The level of the pyramid that pictures are judged at, wherever limits are told. */
export const sketchLevel = (size: Size): number =>
  levelForScale(SIDE / Math.max(size.width, size.height), levelCount(size));

/** Linear light of the 256 levels of sRGB. */
export const LINEAR = Float64Array.from({ length: 256 }, (_, level) => decodeSrgb(level / 255));

/** The brightest channel of a pixel, 0..255. */
export function brightest({ rgba }: Sketch, pixel: number): number {
  const at = pixel * 4;
  return Math.max(rgba[at], rgba[at + 1], rgba[at + 2]);
}

/** Linear light of a pixel's green, in which all cameras see most. */
export function lightOf({ rgba }: Sketch, pixel: number): number {
  return LINEAR[rgba[pixel * 4 + 1]];
}

/** Shares of a picture that are blown and blocked, 0..1. */
export function limitsOf(sketch: Sketch): { blown: number; blocked: number } {
  const pixels = sketch.width * sketch.height;
  let [blown, blocked] = [0, 0];
  for (let pixel = 0; pixel < pixels; pixel++) {
    const level = brightest(sketch, pixel);
    if (level >= BLOWN_FROM) blown++;
    else if (level <= BLOCKED_TO) blocked++;
  }
  return { blown: blown / pixels, blocked: blocked / pixels };
}

/** Counts of the levels of the brightest channel. */
export function levelsOf(sketch: Sketch): Uint32Array {
  const counts = new Uint32Array(256);
  for (let pixel = 0; pixel < sketch.width * sketch.height; pixel++) counts[brightest(sketch, pixel)]++;
  return counts;
}
