import alea from 'alea';
import { converter } from 'culori';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { developedPlainly, stopsOf as stopsOfRgb } from '../../tests/plainDevelop.ts';
import { randomDevelop } from '../../tests/randomDevelop.ts';
import { basesOf, compileSteps, veilOf } from '../color/pointSteps.ts';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import { chromaticityOf, WORKING_WHITE, whiteMatrix, whiteOf, whiteOfGrey } from '../color/whitePoint.ts';
import { times3 } from '../raster/matrix3.ts';
import { endsCurve } from './ends.ts';
import {
  ADJUSTMENT_NAMES,
  ADJUSTMENTS,
  type AdjustmentName,
  type Develop,
  faultOf,
  isAtRest,
  stepsBefore,
  stepsOf,
} from './list.ts';

type Rgb = [number, number, number];

/** Encoded pixels as they are developed. */
function developed(pixels: readonly Rgb[], develop: Develop): Rgb[] {
  const planes = [0, 1, 2].map((channel) => Float32Array.from(pixels, (rgb) => decodeSrgb(rgb[channel])));
  // As if all around were the same.
  const tones = Uint16Array.from(pixels, (rgb) => Math.round(((stopsOfRgb(rgb) + 12) / 16) * 65535));
  const steps = stepsOf(develop, 'srgb');
  const bases = new Map(basesOf(steps).map((radius) => [radius, tones] as const));
  const light = veilOf(steps);
  const veil = Uint16Array.from(pixels, (rgb) =>
    light ? Math.round(65535 * Math.min(1, ...rgb.map((value, i) => decodeSrgb(value) / light[i]))) : 0,
  );
  compileSteps(steps, 'srgb')([planes[0], planes[1], planes[2]], { tones, bases, veil });
  return pixels.map((_, i) => planes.map((plane) => (plane[i] < 0 ? 12.92 * plane[i] : encodeSrgb(plane[i]))) as Rgb);
}
const rest = <Name extends AdjustmentName>(name: Name): (typeof ADJUSTMENTS)[Name]['rest'] => ADJUSTMENTS[name].rest;
const greys = Array.from({ length: 256 }, (_, i): Rgb => [i / 255, i / 255, i / 255]);
const toOklab = converter('oklab');

describe('adjustments', () => {
  it('at rest are no step at all, and settings of the schema', () => {
    for (const name of ADJUSTMENT_NAMES) {
      expect(isAtRest(name, rest(name))).toBe(true);
      expect(faultOf({ [name]: rest(name) })).toBeUndefined();
      expect(stepsOf({ [name]: rest(name) }, 'srgb')).toEqual([]);
    }
  });

  it('together are what they are one by one in plain doubles, for colours of any kind', () => {
    const random = alea('colours');
    for (let seed = 0; seed < 60; seed++) {
      const develop = randomDevelop(`develop ${seed}`);
      expect(faultOf(develop)).toBeUndefined();
      const pixels = Array.from({ length: 40 }, (): Rgb => [random(), random(), random() ** 3]);
      for (const [i, rgb] of developed(pixels, develop).entries()) {
        const plain = developedPlainly(pixels[i], develop);
        // Within four steps of 16 bits; beside light beyond white, within as small a share of that. What lies outside the space is cut off.
        const share = 6e-5 * Math.max(1, ...plain) ** 4;
        for (const channel of [0, 1, 2])
          expect(Math.abs(Math.max(0, rgb[channel]) - Math.max(0, plain[channel]))).toBeLessThan(share);
      }
    }
  });

  it('before one of them are those of light before those of colour', () => {
    const develop = randomDevelop('before');
    const all = { ...develop, exposure: { stops: 1 }, colour: { ...rest('colour'), saturation: 0.5 } };
    const { exposure, whiteBalance, ends, contrast, localContrast, levels, curve } = all;
    const light = JSON.parse(
      JSON.stringify({ whiteBalance, exposure, ends, contrast, localContrast, levels, curve }),
    ) as Develop;
    const kinds = (steps: ReturnType<typeof stepsOf>) => steps.map(({ step }) => step);
    expect(kinds(stepsBefore('colour', all, 'srgb'))).toEqual(kinds(stepsOf(light, 'srgb')));
    expect(stepsBefore('whiteBalance', all, 'srgb')).toEqual([]);
  });

  it('that are unknown, or out of their range, are named', () => {
    expect(faultOf({ sparkle: {} })).toContain('sparkle');
    expect(faultOf({ toString: {} })).toContain('toString');
    expect(faultOf({ exposure: { stops: 9 } })).toContain('stops');
    expect(faultOf({ exposure: { stops: 1, more: 1 } })).toContain('exposure');
    expect(faultOf({ levels: { ...rest('levels'), all: { black: 0.5, white: 0.5, power: 1 } } })).toContain('white');
    expect(
      faultOf({
        curve: {
          ...rest('curve'),
          all: [
            { x: 0.5, y: 0 },
            { x: 0.5, y: 1 },
          ],
        },
      }),
    ).toContain('right');
  });
});

describe('a veil', () => {
  const veil = { red: 0.7, green: 0.75, blue: 0.9 };
  it.each([1, 0.5, -0.4])('taken away or laid by %s is what the formula says', (amount) => {
    const random = alea('veil');
    const pixels = Array.from({ length: 60 }, (): Rgb => [random(), random(), random()]);
    for (const [i, rgb] of developed(pixels, { haze: { amount, veil } }).entries()) {
      const plain = developedPlainly(pixels[i], { haze: { amount, veil } });
      for (const channel of [0, 1, 2]) expect(rgb[channel]).toBeCloseTo(plain[channel], 3);
    }
  });
});

describe('ends', () => {
  it('never put tones in another order, whatever is asked for, and leave the middle alone', () => {
    const random = alea('ends');
    for (let go = 0; go < 200; go++) {
      const end = () => ({ stops: 8 * random() - 4, reach: -7 + 6 * random() });
      const settings = { darks: end(), brights: end() };
      const curve = endsCurve(settings);
      for (let stops = -12; stops < 3; stops += 0.02)
        expect(curve(stops + 0.02) - curve(stops), JSON.stringify({ settings, stops })).toBeGreaterThan(0);
    }
    const apart = endsCurve({ darks: { stops: 2, reach: -5 }, brights: { stops: -2, reach: -3 } });
    for (const stops of [-5, -4.3, -3]) expect(apart(stops)).toBeCloseTo(stops, 9);
    expect(apart(-9)).toBeCloseTo(-7, 9);
    expect(apart(0)).toBeCloseTo(-2, 9);
    expect(apart(1)).toBeCloseTo(-1, 9);
  });
});

describe('light', () => {
  it('of an exposure is doubled by a stop, and beyond white is kept', () => {
    const [rgb] = developed([[0.5, 0.25, 1]], { exposure: { stops: 1 } });
    for (const [channel, value] of [0.5, 0.25, 1].entries())
      expect(decodeSrgb(rgb[channel])).toBeCloseTo(2 * decodeSrgb(value), 4);
    // There and back again nothing is lost.
    const up = stepsOf({ exposure: { stops: 3 } }, 'srgb');
    const down = stepsOf({ exposure: { stops: -3 } }, 'srgb');
    const planes = [0, 1, 2].map(() => Float32Array.of(0.1, 0.9, 1));
    compileSteps([...up, ...down], 'srgb')([planes[0], planes[1], planes[2]]);
    expect([...planes[0]]).toEqual([...Float32Array.of(0.1, 0.9, 1)]);
  });

  it('is scaled and lifted by levels as by sharp, the image library', async () => {
    const values = Uint8Array.from({ length: 256 }, (_, i) => i);
    const scale = 1.25;
    const lift = -20;
    const theirs = await sharp(values, { raw: { width: 256, height: 1, channels: 1 } })
      .linear(scale, lift)
      .toColourspace('b-w')
      .raw()
      .toBuffer();
    const black = -lift / scale / 255;
    const white = (255 - lift) / scale / 255;
    const ours = developed(greys, {
      levels: { ...rest('levels'), all: { black, white: Math.min(1, white), power: 1 } },
    });
    for (let i = 0; i < 256; i++) expect(Math.abs(Math.min(1, ours[i][0]) * 255 - theirs[i])).toBeLessThan(1.01);
  });

  it('keeps its order through levels, curves and contrast', () => {
    for (let seed = 0; seed < 40; seed++) {
      const { contrast, levels, curve } = randomDevelop(`order ${seed}`);
      const all = { contrast, levels, curve: { ...rest('curve'), all: curve?.all ?? [] } };
      const out = developed(greys, JSON.parse(JSON.stringify(all))).map(([, green]) => green);
      for (let i = 1; i < out.length; i++) expect(out[i]).toBeGreaterThanOrEqual(out[i - 1] - 1e-6);
    }
  });

  it('at the middle of contrast stays, and is moved by the slope in stops elsewhere', () => {
    const at = (stops: number): Rgb => [1, 1, 1].map(() => encodeSrgb(2 ** stops)) as Rgb;
    const out = developed([at(-2.5), at(-4.5), at(-1)], { contrast: { slope: 1.5, middle: -2.5 } });
    const stops = out.map(([value]) => Math.log2(decodeSrgb(value)));
    expect(stops[0]).toBeCloseTo(-2.5, 3);
    expect(stops[1]).toBeCloseTo(-5.5, 3);
    expect(stops[2]).toBeCloseTo(-0.25, 3);
  });
});

describe('white', () => {
  // CIE 15:2018, table T.3: chromaticities of illuminants; correlated colour temperatures of daylight from the same.
  it.each([
    [5003, 0.3457, 0.3585],
    [5503, 0.3324, 0.3474],
    [6504, 0.3127, 0.329],
    [7504, 0.299, 0.3149],
  ])('of daylight at %i K is that of the table', (kelvin, x, y) => {
    const at = chromaticityOf({ kelvin, tint: 0 });
    expect(at.x).toBeCloseTo(x, 3);
    expect(at.y).toBeCloseTo(y, 3);
  });

  // Illuminant A, a black body at 2,856 K: CIE 15:2018, table T.3. The formula is within 8e-5 of the black body in u (Krystek 1985).
  it('of a black body is that of illuminant A', () => {
    const at = chromaticityOf({ kelvin: 2856, tint: 0 });
    expect(Math.abs(at.x - 0.44758)).toBeLessThan(5e-4);
    expect(Math.abs(at.y - 0.40745)).toBeLessThan(5e-4);
  });

  it('is found again, wherever it lies', () => {
    const random = alea('whites');
    for (let i = 0; i < 60; i++) {
      const kelvin = 1 / (1 / 20000 + random() * (1 / 2200 - 1 / 20000));
      const tint = 30 * (random() - 0.5);
      const found = whiteOf(chromaticityOf({ kelvin, tint }));
      expect(Math.abs(found.kelvin / kelvin - 1)).toBeLessThan(0.004);
      expect(Math.abs(found.tint - tint)).toBeLessThan(0.3);
    }
  });

  it('of the working spaces changes nothing', () => {
    for (const space of ['srgb', 'bt2020'] as const)
      for (const [i, value] of whiteMatrix(WORKING_WHITE, space).entries())
        expect(value).toBeCloseTo(i % 4 === 0 ? 1 : 0, 12);
  });

  it('that a spot says makes the spot grey, in either space', () => {
    for (const space of ['srgb', 'bt2020'] as const)
      for (const rgb of [
        [0.3, 0.24, 0.15],
        [0.2, 0.25, 0.36],
        [0.21, 0.26, 0.2],
      ] as Rgb[]) {
        const [r, g, b] = times3(whiteMatrix(whiteOfGrey(rgb, space), space), rgb);
        expect(r / g).toBeCloseTo(1, 2);
        expect(b / g).toBeCloseTo(1, 2);
      }
  });

  // Lindbloom, "Chromatic Adaptation", the Bradford matrix from D65 to D50, from memory; CSS Color Module Level 4, section 18, has the same.
  it('goes from D65 to D50 by the published Bradford matrix', async () => {
    const { adaptXyz } = await import('../color/adaptation.ts');
    const published = [1.0479, 0.0229, -0.0502, 0.0296, 0.9904, -0.0171, -0.0092, 0.0151, 0.7519];
    const own = adaptXyz([0.95047, 1, 1.08883], [0.96422, 1, 0.82521]);
    for (const [i, value] of own.entries()) expect(Math.abs(value - published[i])).toBeLessThan(3e-4);
  });

  it('of a higher temperature makes a picture warmer, of a greener one more magenta', () => {
    const [warm] = developed([[0.5, 0.5, 0.5]], { whiteBalance: { kelvin: 8000, tint: 0 } });
    expect(warm[0]).toBeGreaterThan(warm[2]);
    const [magenta] = developed([[0.5, 0.5, 0.5]], { whiteBalance: { kelvin: 6504, tint: 15 } });
    expect(magenta[1]).toBeLessThan(Math.min(magenta[0], magenta[2]));
  });
});

describe('colour', () => {
  const pixels: Rgb[] = [
    [0.6, 0.4, 0.3],
    [0.2, 0.5, 0.3],
    [0.3, 0.35, 0.7],
  ];
  it('of more saturation has so much more chroma by a colour library, lightness and hue kept', () => {
    const out = developed(pixels, { colour: { ...rest('colour'), saturation: 0.4, spare: 0 } });
    for (const [i, rgb] of out.entries()) {
      const [r, g, b] = rgb.map((value) => (value < 0 ? value / 12.92 : decodeSrgb(value)));
      const [before, after] = [
        toOklab({ mode: 'rgb', r: pixels[i][0], g: pixels[i][1], b: pixels[i][2] }),
        toOklab({ mode: 'lrgb', r, g, b }),
      ];
      expect(after.l).toBeCloseTo(before.l, 3);
      expect(after.a).toBeCloseTo(1.4 * before.a, 3);
      expect(after.b).toBeCloseTo(1.4 * before.b, 3);
    }
  });

  it('balanced keeps lightness; without saturation, and as a grey mix, it is grey', () => {
    const tinted = developed(pixels, {
      colourBalance: {
        ...rest('colourBalance'),
        darks: { hue: 250, chroma: 0.05 },
        brights: { hue: 80, chroma: 0.04 },
      },
    });
    for (const [i, [r, g, b]] of tinted.entries())
      expect(toOklab({ mode: 'rgb', r, g, b }).l).toBeCloseTo(
        toOklab({ mode: 'rgb', r: pixels[i][0], g: pixels[i][1], b: pixels[i][2] }).l,
        3,
      );
    const none = developed(pixels, { colour: { ...rest('colour'), saturation: -1, spare: 0 } });
    const mixed = developed(pixels, { grey: { ...rest('grey'), strength: 1 } });
    for (const [r, g, b] of [...none, ...mixed]) expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(2e-3);
  });
});
