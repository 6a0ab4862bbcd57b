import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { compileSteps } from '../color/pointSteps.ts';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import { DARKEST_STOPS, stopsOfLight, TONE_SPAN } from '../color/toneCodes.ts';
import { chromaticityOf, whiteMatrix } from '../color/whitePoint.ts';
import { bringCloser } from '../develop/bringCloser.ts';
import { endsCurve } from '../develop/ends.ts';
import { type Develop, stepsOf } from '../develop/list.ts';
import { proposeEnds } from '../develop/proposeEnds.ts';
import { invert3, times3 } from '../raster/matrix3.ts';
import { COMPARED } from './limits.ts';
import { pairDistance } from './pairDistance.ts';
import type { Sketch } from './sketch.ts';

const [width, height] = [320, 200];
type Rgb = [number, number, number];

/** Light of a made view: slopes, texture and colours, from 0.002 to over white. */
function viewOf(seed: string): Rgb[] {
  const random = alea(seed);
  const [p, q] = [random() * 9, random() * 9];
  return Array.from({ length: width * height }, (_, i): Rgb => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const light = 2 ** (-6 + (5 * x) / width + 0.7 * Math.sin(x / 5 + p) * Math.cos(y / 4 + q) + (y > 90 ? -1 : 0.6));
    return [light * (1 + 0.2 * Math.sin(x / 17)), light, light * (1 + 0.3 * Math.cos(y / 23))];
  });
}

/** Eight bits of it, as a camera writes them. */
function sketchOf(view: readonly Rgb[], change: (rgb: Rgb) => readonly number[]): Sketch {
  const rgba = new Uint8ClampedArray(4 * view.length);
  for (const [i, rgb] of view.entries())
    for (const [channel, light] of change(rgb).entries()) rgba[4 * i + channel] = 255 * encodeSrgb(Math.min(1, light));
  return { width, height, rgba };
}

/** A picture of eight bits as it is developed. */
function developed({ rgba }: Sketch, develop: Develop): Sketch {
  const planes = [0, 1, 2].map((channel) =>
    Float32Array.from({ length: width * height }, (_, i) => decodeSrgb(rgba[4 * i + channel] / 255)),
  );
  // As if tones had no detail: their base is what they are.
  const base = Uint16Array.from(planes[0], (red, i) => {
    const light = 0.2126 * red + 0.7152 * planes[1][i] + 0.0722 * planes[2][i];
    return Math.round(((stopsOfLight(light) - DARKEST_STOPS) / TONE_SPAN) * 65535);
  });
  const bases = new Map([['picture' as const, base]]);
  compileSteps(stepsOf(develop, 'srgb'), 'srgb')([planes[0], planes[1], planes[2]], { bases });
  return sketchOf(
    Array.from(planes[0], (_, i): Rgb => [planes[0][i], planes[1][i], planes[2][i]]),
    (rgb) => rgb.map((light) => Math.max(0, light)),
  );
}
const same = (rgb: Rgb) => rgb;
/** A mask that goes over from nothing to all in the middle. */
const seam = Float32Array.from({ length: width * height }, (_, i) =>
  Math.min(1, Math.max(0, ((i % width) - 130) / 60)),
);

describe('how far two pictures lie apart', () => {
  it.each([
    [2.1, 5600, 0],
    [-1.4, 7400, 6],
    [0.8, 6504, 0],
    [3, 5000, -8],
  ])('is found within 0.05 stops and 50 K on made frames: %s stops, %s K', (stops, kelvin, tint) => {
    for (const mask of [seam, undefined]) {
      const view = viewOf(`${stops} ${kelvin}`);
      // The frame is lit by another light: white of the space looks like that.
      const lit = invert3(whiteMatrix({ kelvin, tint }, 'srgb'));
      const other = sketchOf(view, same);
      const own = sketchOf(view, (rgb) => times3(lit, rgb).map((light) => light * 2 ** stops));
      const found = pairDistance(own, own, other, mask, 'srgb');
      expect(found?.along).toBe(mask ? 'seam' : 'edges');
      expect(Math.abs((found?.kelvin ?? 0) - (6504 - kelvin))).toBeLessThan(50);
      const green = Math.log2(times3(lit, [1, 1, 1])[1]);
      expect(Math.abs((found?.stops ?? 0) - stops - green)).toBeLessThan(0.05);
    }
  });

  it('is gone after a full match, within 1 %, and lessened by a part of one', () => {
    const view = viewOf('match');
    const lit = invert3(whiteMatrix({ kelvin: 5400, tint: 4 }, 'srgb'));
    const other = sketchOf(view, same);
    const taken = sketchOf(view, (rgb) => times3(lit, rgb).map((light) => light * 2 ** 1.3));
    const before = pairDistance(taken, taken, other, seam, 'srgb');
    if (!before) throw new Error('nothing found');
    for (const [share, left] of [
      [1, 0],
      [0.6, 0.4],
    ]) {
      const own = developed(taken, bringCloser({}, before, share, 'srgb'));
      const after = pairDistance(own, taken, other, seam, 'srgb');
      // 0.01435 stops are one per cent of light; the settings are rounded to a tenth of the tint and a hundredth of a stop.
      expect(Math.abs((after?.stops ?? 9) - left * before.stops)).toBeLessThan(share === 1 ? 0.0144 : 0.05);
      expect(Math.abs((after?.kelvin ?? 9999) - left * before.kelvin)).toBeLessThan(120);
      for (const light of after?.cast ?? [0]) if (share === 1) expect(Math.abs(light - 1)).toBeLessThan(0.01);
    }
    // From settings that it has already the same is reached.
    const begun = { exposure: { stops: 0.5 }, whiteBalance: { kelvin: 8000, tint: -3 } };
    const now = pairDistance(developed(taken, begun), taken, other, seam, 'srgb');
    if (!now) throw new Error('nothing found');
    const anew = bringCloser(begun, now, 1, 'srgb');
    const straight = bringCloser({}, before, 1, 'srgb');
    expect(Math.abs(anew.exposure.stops - straight.exposure.stops)).toBeLessThan(0.1);
    expect(Math.abs(anew.whiteBalance.kelvin - straight.whiteBalance.kelvin)).toBeLessThan(100);
  });

  it('of darks and of brights is closed by ends of the darker frame, and its middle tones stay matched', () => {
    const view = viewOf('ends');
    const other = sketchOf(view, same);
    // The darker frame: two stops less light, its darks sunk and its brights pushed apart from its middle.
    const steep = endsCurve({ darks: { stops: -1.2, reach: -3.5 }, brights: { stops: 0.7, reach: -3.5 } });
    const taken = sketchOf(view, (rgb) => {
      const tone = Math.log2(rgb[1]) - 2;
      return rgb.map((light) => light * 2 ** (steep(Math.max(-11, tone)) - tone - 2));
    });
    const before = pairDistance(taken, taken, other, seam, 'srgb');
    if (!before) throw new Error('nothing found');
    expect(before.darks.stops).toBeLessThan(before.stops - 0.25);
    const closer = bringCloser({}, before, 1, 'srgb');
    const proposed = proposeEnds({}, before, closer.exposure.stops, 1);
    if (!proposed) throw new Error('nothing proposed');
    expect(proposed.ends.darks.stops).toBeGreaterThan(0.2);
    const alone = pairDistance(developed(taken, closer), taken, other, seam, 'srgb');
    const exposure = { stops: closer.exposure.stops + proposed.besides };
    const all = { ...closer, exposure, ends: proposed.ends };
    const both = pairDistance(developed(taken, all), taken, other, seam, 'srgb');
    if (!alone || !both) throw new Error('nothing found');
    expect(Math.abs(both.darks.stops)).toBeLessThan(0.4 * Math.abs(alone.darks.stops));
    expect(Math.abs(both.brights.stops)).toBeLessThan(0.4 * Math.abs(alone.brights.stops));
    // One per cent of light, and the settings' hundredths of a stop.
    expect(Math.abs(both.stops)).toBeLessThan(0.025);
    // Seen from the brighter frame it is the other that is opened, as far.
    const turned = pairDistance(other, other, taken, seam, 'srgb');
    const opened = turned && proposeEnds({}, turned, 0, 1);
    expect(opened?.ends.darks.stops ?? 0).toBeGreaterThan(0.2);
    // Where both differ by light alone nothing is opened or held.
    const plain = sketchOf(view, (rgb) => rgb.map((light) => light / 4));
    const even = pairDistance(plain, plain, other, seam, 'srgb');
    expect(even && proposeEnds({}, even, 2, 1)).toBeUndefined();
  });

  it('goes by what did not move, and does not count what is clipped as taken', () => {
    const view = viewOf('moved');
    const other = sketchOf(view, same);
    const own = sketchOf(view, (rgb) => rgb.map((light) => 2 * light));
    for (let i = 0; i < own.rgba.length; i += 4)
      if ((i / 4) % width < 150 && i / 4 > 20000) own.rgba.fill(90, i, i + 3);
    expect(pairDistance(own, own, other, seam, 'srgb')?.stops).toBeCloseTo(1, 1);
    const clipped = sketchOf(view, () => [1, 1, 1]);
    expect(pairDistance(other, clipped, other, seam, 'srgb')).toBeUndefined();
    expect(pairDistance(clipped, clipped, other, undefined, 'srgb')).toBeUndefined();
  });

  it.each([1, 2, 3, 4, 5, 6])('counts to what sorting all places comes to: random pictures %i', (seed) => {
    const random = alea(`sorted ${seed}`);
    const [view, gain] = [viewOf(`sorted ${seed}`), 0.4 + 2 * random()];
    const noisy = (rgb: Rgb) => rgb.map((light) => light * (0.9 + 0.2 * random()));
    const own = sketchOf(view, (rgb) => noisy(rgb).map((light) => light * gain));
    const other = sketchOf(view, noisy);
    const mask = seed % 2 ? undefined : Float32Array.from(view, () => random());
    const found = pairDistance(own, own, other, mask, 'srgb');
    const level = (sketch: Sketch, at: number, channel = 1) => sketch.rgba[4 * at + channel] ?? 1;
    const stops = (sketch: Sketch, at: number, channel = 1) =>
      Math.log2(decodeSrgb(Math.max(1, level(sketch, at, channel)) / 255));
    const slope = (sketch: Sketch, at: number) =>
      Math.abs(stops(sketch, at + 1) - stops(sketch, at)) + Math.abs(stops(sketch, at + width) - stops(sketch, at));
    const holds = (sketch: Sketch, at: number) =>
      [0, 1, 2].every((channel) => {
        const value = level(sketch, at, channel);
        return value >= COMPARED.from && value <= COMPARED.to;
      });
    const held = view.map((_, at) => at).filter((at) => holds(own, at) && holds(other, at));
    const strength = (at: number) => Math.fround(Math.min(slope(own, at), slope(other, at)));
    const places = mask
      ? held.filter((at) => mask[at] > 0.05 && mask[at] < 0.95)
      : [...held].sort((a, b) => strength(b) - strength(a)).slice(0, Math.round(0.1 * held.length));
    const median = (values: number[]) => {
      values.sort((a, b) => a - b);
      return (values[(values.length - 1) >> 1] + values[values.length >> 1]) / 2;
    };
    const apart = (some: readonly number[]) => median(some.map((at) => stops(own, at) - stops(other, at)));
    const darker = apart(places) < 0 ? own : other;
    const sorted = places.sort((a, b) => a - b).sort((a, b) => level(darker, a) - level(darker, b));
    const third = Math.floor(sorted.length / 3);
    expect(found?.along).toBe(mask ? 'seam' : 'edges');
    expect(found?.share).toBe(places.length / view.length);
    expect(found?.stops).toBeCloseTo(apart(places), 9);
    expect(found?.darks.stops).toBeCloseTo(apart(sorted.slice(0, third)), 9);
    expect(found?.brights.stops).toBeCloseTo(apart(sorted.slice(-third)), 9);
    expect(found?.brights.tone).toBeCloseTo(median(sorted.slice(-third).map((at) => stops(darker, at))), 9);
    expect(found?.middle).toBeCloseTo(median(sorted.map((at) => stops(darker, at))), 9);
    expect(found?.sample.length).toBe(Math.min(301, places.length));
  });

  it('is told of a light: daylight of 5,600 K lies where CIE 15 puts it', () => {
    // CIE 15:2018, equations 4.5 and 4.7, worked by hand for 5,600 K.
    expect(chromaticityOf({ kelvin: 5600, tint: 0 }).x).toBeCloseTo(0.3302, 3);
  });
});
