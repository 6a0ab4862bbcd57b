import type { Size } from '#core/raster/size.ts';

/** Lights that a sensor clipped in one or two of its colours are continued from those that it did not, and from the hues around. Light is
 * that of the sensor's own colours, balanced to white: three samples a pixel, 16 bits. */

/** A colour is full from this share of where it clips: noise takes it below. */
const FULL = 0.97;
/** What is fuller than this may as well be a little fuller than it looks. */
const NEARLY = 0.92;
/** Hues are known by blocks of so many pixels each way; of these every other one each way tells. */
const BLOCK = 8;
const APART = 2;
/** What is nearly full tells most, by this power of how full it is, but less the nearer it comes to being cut, since of that only the
 * weaker part is left; and so many pixels of a block that would be full are all that it takes. */
const POWER = 6;
const NEAR_FULL = 0.35;
const DARKEST = 0.25;
const ENOUGH = 2;
/** From this share of its clip on what still tells is thought to be white in the end, as lights are whose colours are all full. */
const WHITE_FROM = 0.75;
const LEAST = 1;

/** Logarithms of colours against each other: green against the mean of red and blue, which morning, noon and shade change little; green
 * against red; blue against red. */
const HUES = 3;

interface HueMap extends Size {
  /** How much is known, 0..1. */
  weight: Float32Array;
  hues: Float32Array[];
}

/** Continues clipped lights, in place; clipped pixels of all colours become white. Hues of blocks that know none come from the blocks around
 * (pull-push: Gortler, Grzeszczuk, Szeliski and Cohen 1996, "The Lumigraph").
 * @param clip - Where each colour clips, 0..65535. */
export function continueHighlights(light: Uint16Array, size: Size, clip: readonly [number, number, number]): void {
  const full = clip.map((value) => FULL * value);
  const isCut = (at: number) => light[at] >= full[0] || light[at + 1] >= full[1] || light[at + 2] >= full[2];
  let first = 0;
  while (first < light.length && !isCut(first)) first += 3;
  if (first >= light.length) return;
  const isWhite = (at: number) => light[at] >= full[0] && light[at + 1] >= full[1] && light[at + 2] >= full[2];
  const map = huesOf(light, size, clip, isCut, isWhite);
  fillIn(map);
  const hues = new Float64Array(HUES);
  const [red, green, blue] = clip;
  const put = (at: number, value: number) => {
    light[at] = Math.min(65535, value + 0.5);
  };
  for (let at = first; at < light.length; at += 3) {
    if (!isCut(at)) continue;
    const pixel = at / 3;
    const [isRed, isGreen, isBlue] = [light[at] < full[0], light[at + 1] < full[1], light[at + 2] < full[2]];
    const r = Math.max(LEAST, Math.min(red, light[at]));
    const g = Math.max(LEAST, Math.min(green, light[at + 1]));
    const b = Math.max(LEAST, Math.min(blue, light[at + 2]));
    // All colours full is white; nothing may leap on the way there.
    const share = 1 - whiteness(r / red) * whiteness(g / green) * whiteness(b / blue);
    if (share > 0) hueAt(map, pixel % size.width, Math.floor(pixel / size.width), hues);
    const [mean, greenRed, blueRed] = [Math.exp(share * hues[0]), Math.exp(share * hues[1]), Math.exp(share * hues[2])];
    // What they come to is told by those that are not cut; where none is left, by whichever says most. A colour is only ever raised: where
    // it clips is the least that it may be. One that is nearly full beside others that are goes over to what these say, lest it leap when it is.
    const told = isGreen ? g / greenRed : isBlue ? b / blueRed : isRed ? r : Math.max(g / greenRed, b / blueRed);
    const reds = raised(r, isRed ? nearness(r / red) : 1, told);
    const blues = raised(b, isBlue ? nearness(b / blue) : 1, reds * blueRed);
    put(at, reds);
    put(at + 1, raised(g, isGreen ? nearness(g / green) : 1, mean * Math.sqrt(reds * blues)));
    put(at + 2, blues);
  }
}

/** A value raised to another as far as a share says. */
const raised = (value: number, share: number, to: number): number => value + share * Math.max(0, to - value);

/** How little of what is so full of its clip is still believed, 0..1. */
const nearness = (full: number): number => smooth((full - NEARLY) / (FULL - NEARLY));

/** How white what is so full of its clip is thought to be, 0..1. */
const whiteness = (full: number): number => smooth((full - WHITE_FROM) / (1 - WHITE_FROM));

/** Hues of blocks, by their pixels of which no colour is cut. */
function huesOf(
  light: Uint16Array,
  { width, height }: Size,
  clip: readonly number[],
  isCut: (at: number) => boolean,
  isWhite: (at: number) => boolean,
): HueMap {
  const map = emptyMap({ width: Math.ceil(width / BLOCK), height: Math.ceil(height / BLOCK) });
  const { weight, hues } = map;
  for (let y = 0; y < height; y += APART)
    for (let x = 0; x < width; x += APART) {
      const at = (y * width + x) * 3;
      const block = Math.floor(y / BLOCK) * map.width + Math.floor(x / BLOCK);
      // What is white in the end is so to its neighbours: branches before it are not tinted by the hill behind.
      if (isWhite(at)) weight[block]++;
      const how = Math.max(light[at] / clip[0], light[at + 1] / clip[1], light[at + 2] / clip[2]);
      if (how < DARKEST || isCut(at)) continue;
      const much = how ** POWER * Math.min(1, (FULL - how) / NEAR_FULL);
      const r = Math.log(Math.max(LEAST, light[at]));
      const g = Math.log(Math.max(LEAST, light[at + 1]));
      const b = Math.log(Math.max(LEAST, light[at + 2]));
      weight[block] += much;
      hues[0][block] += much * (g - (r + b) / 2);
      hues[1][block] += much * (g - r);
      hues[2][block] += much * (b - r);
    }
  for (let block = 0; block < weight.length; block++) {
    if (weight[block] > 0) for (const plane of hues) plane[block] /= weight[block];
    weight[block] = Math.min(1, weight[block] / ENOUGH);
  }
  return map;
}

const emptyMap = (size: Size): HueMap => ({
  ...size,
  weight: new Float32Array(size.width * size.height),
  hues: Array.from({ length: HUES }, () => new Float32Array(size.width * size.height)),
});

/** Fills in what is not known, from maps of half the size. */
function fillIn(map: HueMap): void {
  const { width, height, weight, hues } = map;
  if (width * height === 1) return;
  const coarse = halved(map);
  fillIn(coarse);
  const around = new Float64Array(HUES);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (weight[i] >= 1) continue;
      between(coarse, (x - 0.5) / 2, (y - 0.5) / 2, around);
      for (let hue = 0; hue < HUES; hue++) hues[hue][i] += (1 - weight[i]) * (around[hue] - hues[hue][i]);
    }
}

function halved({ width, height, weight, hues }: HueMap): HueMap {
  const half = emptyMap({ width: Math.ceil(width / 2), height: Math.ceil(height / 2) });
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const to = (y >> 1) * half.width + (x >> 1);
      half.weight[to] += weight[i];
      for (let hue = 0; hue < HUES; hue++) half.hues[hue][to] += weight[i] * hues[hue][i];
    }
  for (let i = 0; i < half.weight.length; i++) {
    if (half.weight[i] > 0) for (const plane of half.hues) plane[i] /= half.weight[i];
    half.weight[i] = Math.min(1, half.weight[i]);
  }
  return half;
}

const hueAt = (map: HueMap, x: number, y: number, out: Float64Array): void =>
  between(map, (x + 0.5) / BLOCK - 0.5, (y + 0.5) / BLOCK - 0.5, out);

/** Hues between the middles of blocks. */
function between({ width, height, hues }: HueMap, x: number, y: number, out: Float64Array): void {
  const [left, top] = [Math.max(0, Math.min(width - 1, x)), Math.max(0, Math.min(height - 1, y))];
  const [x0, y0] = [Math.floor(left), Math.floor(top)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [fx, fy] = [left - x0, top - y0];
  for (let hue = 0; hue < HUES; hue++) {
    const plane = hues[hue];
    const upper = plane[y0 * width + x0] + fx * (plane[y0 * width + x1] - plane[y0 * width + x0]);
    const lower = plane[y1 * width + x0] + fx * (plane[y1 * width + x1] - plane[y1 * width + x0]);
    out[hue] = upper + fy * (lower - upper);
  }
}

function smooth(t: number): number {
  const cut = Math.min(1, Math.max(0, t));
  return cut * cut * (3 - 2 * cut);
}
