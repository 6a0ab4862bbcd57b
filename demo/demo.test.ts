import { describe, expect, it } from 'vitest';
import { decodeSrgb } from '#core/color/srgb.ts';
import { chanceBeyond } from '../bench/align/noiseBound.ts';
import { expose, lightNoise, placeInFirst, STILL } from './camera/camera.ts';
import { mosaicOf, SENSOR, seenBySensor } from './camera/dng.ts';
import { RadianceCanvas } from './radiance/canvas.ts';
import { fbm, noiseOf } from './radiance/noise.ts';
import { radianceOfObservatory } from './radiance/observatory/observatory.ts';
import { radianceOfTarn } from './radiance/tarn.ts';
import { DEMO_SETS } from './sets.ts';

const still = STILL;

/** An even field of light. */
function field(light: number, width = 240, height = 160): RadianceCanvas {
  const canvas = new RadianceCanvas(width, height);
  canvas.rgb.fill(light);
  return canvas;
}

/** Mean and standard deviation of linear values 0..1. */
function statistics(samples: Uint16Array): { mean: number; deviation: number } {
  const linear = Array.from(samples, (code) => decodeSrgb(code / 65535));
  const mean = linear.reduce((sum, value) => sum + value, 0) / linear.length;
  const deviation = Math.sqrt(linear.reduce((sum, value) => sum + (value - mean) ** 2, 0) / linear.length);
  return { mean, deviation };
}

describe('the camera', () => {
  it('doubles the light with every stop, until the sensor is full', () => {
    for (const [ev, expected] of [
      [-2, 0.02],
      [0, 0.08],
      [2, 0.32],
      [4, 1],
    ]) {
      expect(
        statistics(expose(field(0.08), { ev, iso: 100, placement: still, seed: 1 }, () => undefined)).mean,
      ).toBeCloseTo(expected, 3);
    }
  });

  // Photon noise: a Poisson count of N electrons has a standard deviation of the square root of N (textbook fact).
  it('has photon noise of the square root of the electrons, more at higher ISO', () => {
    for (const [iso, well] of [
      [100, 42000],
      [1600, 42000 / 16],
    ]) {
      const { deviation } = statistics(expose(field(0.4), { ev: 0, iso, placement: still, seed: 3 }, () => undefined));
      const expected = Math.sqrt(0.4 * well + 3.2 ** 2) / well;
      expect(deviation / expected).toBeGreaterThan(0.95);
      expect(deviation / expected).toBeLessThan(1.05);
    }
  });

  it('knows the noise that its pictures have, and where a photosite may be filled', () => {
    for (const shot of [
      { ev: 0, iso: 800 },
      { ev: 2, iso: 3200 },
    ]) {
      const taken = expose(field(0.08), { ...shot, placement: still, seed: 5 }, () => undefined);
      const { deviation } = statistics(taken);
      expect(lightNoise(0.08, shot) / (deviation / 2 ** shot.ev)).toBeCloseTo(1, 1);
    }
    expect(lightNoise(1, { ev: 0, iso: 100 })).toBe(Number.POSITIVE_INFINITY);
  });

  it('has noise without pattern: neighbours know nothing of each other', () => {
    const samples = expose(field(0.3), { ev: 0, iso: 800, placement: still, seed: 5 }, () => undefined);
    const { mean, deviation } = statistics(samples);
    const linear = Array.from(samples, (code) => decodeSrgb(code / 65535) - mean);
    for (const lag of [1, 2, 3, 240 * 3, 240 * 3 + 3, 64 * 3]) {
      let sum = 0;
      for (let i = lag; i < linear.length; i++) sum += linear[i] * linear[i - lag];
      expect(Math.abs(sum / (linear.length - lag) / deviation ** 2)).toBeLessThan(0.02);
    }
  });

  it('takes the same picture with the same seed, and another with another', () => {
    const shot = { ev: 0, iso: 400, placement: still, seed: 9 };
    const first = expose(field(0.2), shot, () => undefined);
    expect(expose(field(0.2), shot, () => undefined)).toEqual(first);
    expect(expose(field(0.2), { ...shot, seed: 10 }, () => undefined)).not.toEqual(first);
  });

  it('has dust where it lies on the sensor, wherever the camera stands', () => {
    const dust = [{ u: 0.25, v: 0.5, radius: 100, depth: 0.2 }];
    for (const placement of [still, { ...STILL, shiftX: 60, turnDegrees: 3 }]) {
      const taken = (specks?: typeof dust) =>
        expose(field(0.4), { ev: 0, iso: 100, placement, seed: 7, dust: specks }, () => undefined, 'linear');
      const [clean, dusty] = [taken(), taken(dust)];
      const shareAt = (x: number, y: number) => dusty[(y * 240 + x) * 3] / clean[(y * 240 + x) * 3];
      expect(shareAt(60, 80)).toBeCloseTo(0.8, 1);
      expect(shareAt(66, 80)).toBeCloseTo(0.8, 1);
      expect(shareAt(72, 80)).toBe(1);
      expect(dusty.slice(0, 60 * 240 * 3)).toEqual(clean.slice(0, 60 * 240 * 3));
    }
  });

  it('stands where its placement says: shifted and turned about the middle', () => {
    const size = { width: 2400, height: 1600 };
    expect(placeInFirst(1199.5, 799.5, size, { ...STILL, shiftX: 1.5, shiftY: -2, turnDegrees: 30 })).toEqual([
      1201.5, 798,
    ]);
    const [x, y] = placeInFirst(2199.5, 799.5, size, { ...STILL, shiftX: 0, shiftY: 0, turnDegrees: 90 });
    expect(x).toBeCloseTo(1200, 9);
    expect(y).toBeCloseTo(1800, 9);
  });
});

describe('a camera that leans', () => {
  it('makes a homography: straight lines stay straight', () => {
    const size = { width: 2400, height: 1600 };
    const leaning = { ...STILL, shiftX: 12, turnDegrees: 0.6, zoom: 0.002, tiltX: 0.01, tiltY: -0.02 };
    const [a, b, c] = [100, 900, 2300].map((x) => placeInFirst(x, 200 + x * 0.4, size, leaning));
    const cross = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    expect(Math.abs(cross) / Math.hypot(c[0] - a[0], c[1] - a[1])).toBeLessThan(1e-9);
  });
});

describe('Tarn', () => {
  const small = radianceOfTarn(480, 1, () => undefined);
  const tones = Array.from(
    { length: small.width * small.height },
    (_, i) => 0.2126 * small.rgb[3 * i] + 0.7152 * small.rgb[3 * i + 1] + 0.0722 * small.rgb[3 * i + 2],
  ).sort((a, b) => a - b);

  it('spans at least 13 stops between shadow and glow', () => {
    const shadow = tones[Math.floor(tones.length * 0.002)];
    expect(Math.log2((tones.at(-1) as number) / shadow)).toBeGreaterThan(13);
  });

  it('is real light everywhere: positive and finite', () => {
    expect(tones[0]).toBeGreaterThan(0);
    expect(small.rgb.every(Number.isFinite)).toBe(true);
  });

  it('keeps its glow in the darkest frame and its shore in the brightest', () => {
    expect((tones.at(-1) as number) * 2 ** -4).toBeLessThan(1);
    const shore = tones[Math.floor(tones.length * 0.1)];
    expect(shore * 2 ** 4).toBeGreaterThan(0.02);
  });

  it('is the same each time', () => {
    expect(radianceOfTarn(120, 1, () => undefined).rgb).toEqual(radianceOfTarn(120, 1, () => undefined).rgb);
  });

  it('has a bird pass while the middle frame is taken, and nothing of it in the next', () => {
    const [{ passing }] = DEMO_SETS;
    const light = radianceOfTarn(480, 1, () => undefined);
    expect(passing?.(light, 1)).toBeUndefined();
    const putBack = passing?.(light, 2);
    expect(light.rgb.filter((value, i) => value < 0.5 * small.rgb[i]).length).toBeGreaterThan(10);
    putBack?.();
    expect(light.rgb.every((value, i) => value === small.rgb[i])).toBe(true);
  });

  it('is photographed five times, two stops apart, with a drift of up to 2 pixels', () => {
    const [{ shots }] = DEMO_SETS;
    expect(shots.map(({ ev }) => ev)).toEqual([-4, -2, 0, 2, 4]);
    for (const { exposureTime, ev, placement } of shots) {
      expect(Math.log2(exposureTime)).toBe(ev - 2);
      if (ev !== 0) expect(Math.hypot(placement.shiftX, placement.shiftY)).toBeGreaterThan(0.5);
      expect(Math.hypot(placement.shiftX, placement.shiftY)).toBeLessThanOrEqual(2);
    }
  });
});

describe('Observatory', () => {
  const [, observatory] = DEMO_SETS;
  const shots = [0, 1, 2].map((shot) => radianceOfObservatory(240, 1, () => undefined, shot));

  it('is real light everywhere, over at least 10 stops', () => {
    for (const { rgb } of shots) expect(rgb.every((light) => Number.isFinite(light) && light > 0)).toBe(true);
    const light = Float32Array.from(shots[1].rgb).sort();
    expect(Math.log2((light.at(-1) as number) / light[Math.floor(light.length * 0.01)])).toBeGreaterThan(10);
  });

  it('has ground that stands still, and clouds and a bird that move', () => {
    const [a, b] = shots;
    const differs = (row: number) => {
      let most = 0;
      for (let i = row * a.width * 3; i < (row + 1) * a.width * 3; i++)
        most = Math.max(most, Math.abs(a.rgb[i] - b.rgb[i]) / a.rgb[i]);
      return most;
    };
    expect(differs(Math.floor(a.height * 0.12))).toBeGreaterThan(0.2);
    expect(differs(Math.floor(a.height * 0.95))).toBeLessThan(0.02); // glare of the sky aside
  });

  it('is photographed out of the hand: up to 25 pixels and 0.7 degrees, three stops apart', () => {
    expect(observatory.shots.map(({ ev }) => ev)).toEqual([-3, 0, 3]);
    for (const { placement } of observatory.shots) {
      expect(Math.hypot(placement.shiftX, placement.shiftY)).toBeLessThanOrEqual(25);
      expect(Math.abs(placement.turnDegrees)).toBeLessThanOrEqual(0.7);
    }
  });
});

describe('a raw file of the demo', () => {
  it('holds each colour where the sensor has it, between black and white level', () => {
    const linear = Uint16Array.from({ length: 4 * 2 * 3 }, (_, i) => [65535, 32768, 0][i % 3]);
    const { blackLevel, whiteLevel } = SENSOR;
    const green = blackLevel + Math.round((32768 / 65535) * (whiteLevel - blackLevel));
    expect([...mosaicOf(linear, { width: 4, height: 2 })]).toEqual([
      whiteLevel,
      green,
      whiteLevel,
      green,
      green,
      blackLevel,
      green,
      blackLevel,
    ]);
  });

  it('tells of light above white in red and blue, of which its sensor sees less', () => {
    const shot = { ev: 0, iso: 100, placement: still, seed: 5, look: seenBySensor() };
    const seen = expose(field(1.4), shot, () => undefined, 'linear');
    const means = [0, 1, 2].map((channel) => {
      const values = seen.filter((_, i) => i % 3 === channel);
      return values.reduce((sum, value) => sum + value / 65535, 0) / values.length;
    });
    for (const [channel, mean] of means.entries())
      expect(mean).toBeCloseTo(Math.min(1, 1.4 * SENSOR.asShotNeutral[channel]), 3);
  });
});

describe('what noise leaves of an alignment', () => {
  // Bumps of light, so that every freedom shows.
  const size = { width: 240, height: 160 };
  const canvas = new RadianceCanvas(size.width + 24, size.height + 24);
  for (let i = 0; i < canvas.rgb.length; i++) {
    const [x, y] = [Math.floor(i / 3) % canvas.width, Math.floor(i / 3 / canvas.width)];
    canvas.rgb[i] = 0.1 + 0.05 * Math.sin(x / 9) * Math.cos(y / 11);
  }
  const chance = (limit: number, iso: number) => {
    const frame = { ev: 0, iso, placement: { ...STILL, shiftX: 4 } };
    return chanceBeyond(limit, { name: '', asks: 'fair', frame, base: { ev: 0, iso } }, canvas, size);
  };

  it('is more with more noise, as its deviation, and the less likely the farther off', () => {
    // Without read noise to speak of four times the sensitivity is twice the deviation.
    for (const limit of [0.02, 0.04]) {
      const [low, high] = [chance(limit, 400), chance(2 * limit, 1600)];
      expect(Math.abs(low - high)).toBeLessThan(0.04);
      expect(chance(limit, 1600)).toBeGreaterThan(low);
    }
    expect(chance(0.02, 400)).toBeGreaterThan(chance(0.04, 400));
    expect(chance(5, 400)).toBe(0);
  });
});

describe('noise of the scenery', () => {
  it('depends on its seed alone and stays in bounds', () => {
    const [a, b, c] = ['one', 'one', 'two'].map(noiseOf);
    let differs = false;
    for (let i = 0; i < 500; i++) {
      const [x, y] = [i * 0.37, i * 0.91];
      expect(a(x, y)).toBe(b(x, y));
      differs ||= a(x, y) !== c(x, y);
      expect(Math.abs(fbm(a, x, y, 8))).toBeLessThanOrEqual(1);
    }
    expect(differs).toBe(true);
  });
});
