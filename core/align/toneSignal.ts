import { trustIn } from '../checks/limits.ts';
import { decodeSrgb } from '../color/srgb.ts';
import { levelSize } from '../raster/size.ts';
import { overThree } from './overThree.ts';
import type { PixelSource, Planes } from './tileSource.ts';

/** Tones of a piece of a picture as alignment compares them: stops of light, and how much each is to be trusted. */
export interface ToneSignal {
  width: number;
  height: number;
  value: Float32Array;
  /** 0 (noise, or clipped) to 1. */
  weight: Float32Array;
}

const tables = new Map<number, Float32Array>();

/** Stops of all 16-bit codes with some light added. Two floors are in use at a time. */
function stopsOf(floor: number): Float32Array {
  const known = tables.get(floor);
  if (known) return known;
  if (tables.size > 3) tables.clear();
  const table = Float32Array.from({ length: 65536 }, (_, code) => Math.log2(decodeSrgb(code / 65535) + floor));
  tables.set(floor, table);
  return table;
}

/** Trust in all 16-bit codes. */
export const TRUST = Float32Array.from({ length: 65536 }, (_, code) => trustIn(code));

/** Light that is added before stops are taken, so that noise in the dark does not become large steps. */
export const FLOOR = 0.002;

/** @param floor - Light to add, in the picture's own scale: with FLOOR times the ratio of two exposures, both of them become the
 * same tones but for a constant. */
export function toneSignal([red, green, blue]: Planes, width: number, height: number, floor: number): ToneSignal {
  const value = new Float32Array(width * height);
  const weight = new Float32Array(width * height);
  const stops = stopsOf(floor);
  for (let i = 0; i < value.length; i++) {
    const r = red[i];
    const g = green[i];
    const b = blue[i];
    value[i] = stops[(r + 2 * g + b) >> 2];
    weight[i] = TRUST[Math.max(r, g, b)];
  }
  // Pixels beside clipped ones are half clipped themselves.
  return { width, height, value, weight: overThree(weight, width, height, Math.min) };
}

/** Tones of a whole picture at a level. */
export function wholeSignal(source: PixelSource, level: number, floor: number): ToneSignal {
  const { width, height } = levelSize(source.size, level);
  return toneSignal(source.area(level, { x: 0, y: 0, width, height }), width, height, floor);
}

/** Light to add to each of two pictures, so that both become the same tones but for a constant; the darker one sets it.
 * @param stops - By which the second is brighter. */
export function floorsFor(stops: number): [number, number] {
  const gain = 2 ** stops;
  return gain > 1 ? [FLOOR, FLOOR * gain] : [FLOOR / gain, FLOOR];
}

/** Stops by which a second picture is brighter, from the tones that both hold: as many pixels are brighter than a tone in one as
 * are brighter than its counterpart in the other, whatever moved. 0 when they share too little.
 * @param a - Signals of whole pictures, made with `FLOOR`. */
export function exposureStops(a: ToneSignal, b: ToneSignal): number {
  const [first, second] = [sorted(a), sorted(b)];
  const differences: number[] = [];
  // Bounds well inside what both hold, in stops of light.
  const [low, high] = [Math.log2(0.006), Math.log2(0.75)];
  for (let i = 1; i < 200; i++) {
    const [p, q] = [first[Math.floor((i / 200) * first.length)], second[Math.floor((i / 200) * second.length)]];
    if (p > low && p < high && q > low && q < high) differences.push(q - p);
  }
  differences.sort((p, q) => p - q);
  return differences.length < 6 ? 0 : differences[differences.length >> 1];
}

const sorted = ({ value }: ToneSignal): Float32Array => Float32Array.from(value).sort();
