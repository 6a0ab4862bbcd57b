import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newTonePart } from '../parts/tone.ts';
import { curveLike, toneCoverage, toneTable } from './toneCurve.ts';

const whole = newTonePart('base');
const tone = fc.double({ min: 0, max: 1, noNaN: true });

describe('tone coverage', () => {
  // Common practice, no source: light is the tone itself, dark its opposite, each narrower step multiplies once more.
  it('is the tone itself for light, its opposite for dark, a product for middle', () => {
    fc.assert(
      fc.property(tone, (t) => {
        expect(toneCoverage(whole, t)).toBeCloseTo(t, 12);
        expect(toneCoverage({ ...whole, side: 'dark' }, t)).toBeCloseTo(1 - t, 12);
        expect(toneCoverage({ ...whole, side: 'middle' }, t)).toBeCloseTo(4 * t * (1 - t), 12);
      }),
    );
  });

  it.each([1, 2, 3, 5])('multiplies itself %i more times when narrowed', (narrowing) => {
    fc.assert(
      fc.property(tone, (t) => {
        expect(toneCoverage({ ...whole, narrowing }, t)).toBeCloseTo(t ** (narrowing + 1), 12);
      }),
    );
  });

  it('is whole within its range, half way along a shoulder half, and nothing beyond', () => {
    const part = { ...whole, from: 0.4, to: 0.6, fromShoulder: 0.2, toShoulder: 0.1 };
    const share = (t: number) => toneCoverage(part, t) / t;
    expect(share(0.4)).toBeCloseTo(1, 12);
    expect(share(0.6)).toBeCloseTo(1, 12);
    expect(share(0.3)).toBeCloseTo(0.5, 12);
    expect(share(0.65)).toBeCloseTo(0.5, 12);
    expect(share(0.19)).toBe(0);
    expect(share(0.71)).toBe(0);
  });

  it('is the drawn curve where it is one, whatever the range says', () => {
    const curve = [
      { x: 0.2, y: 0.1 },
      { x: 0.5, y: 0.9 },
      { x: 0.8, y: 0 },
    ];
    const part = { ...whole, side: 'curve', curve, from: 0.4, to: 0.45, narrowing: 3 } as const;
    for (const { x, y } of curve) expect(toneCoverage(part, x)).toBeCloseTo(y, 12);
    expect(toneCoverage(part, 0)).toBe(0.1);
    expect(toneCoverage(part, 1)).toBe(0);
    const table = toneTable(part);
    const worst = table.reduce(
      (most, value, code) => Math.max(most, Math.abs(value - 65535 * toneCoverage(part, code / 65535))),
      0,
    );
    expect(worst).toBeLessThan(1);
  });

  it('without points is the tone itself, and goes on from what another side covered', () => {
    expect(toneCoverage({ ...whole, side: 'curve' }, 0.3)).toBe(0.3);
    expect(curveLike(whole)).toEqual([
      { x: 0, y: 0 },
      { x: 1, y: 1 },
    ]);
    const narrow = { ...whole, side: 'middle', narrowing: 2 } as const;
    const drawn = { ...whole, side: 'curve', curve: curveLike(narrow) } as const;
    for (const tone of [0, 0.1, 0.3, 0.5, 0.9])
      expect(Math.abs(toneCoverage(drawn, tone) - toneCoverage(narrow, tone))).toBeLessThan(0.05);
  });

  it('cuts off hard without shoulders', () => {
    const part = { ...whole, from: 0.5 };
    expect(toneCoverage(part, 0.4999)).toBe(0);
    expect(toneCoverage(part, 0.5)).toBe(0.5);
  });

  it.each([
    { side: 'dark' as const, narrowing: 1.5, from: 0.1, to: 0.7, toShoulder: 0.2 },
    { narrowing: 0.1 },
    { narrowing: 8, from: 0.9, fromShoulder: 0.01 },
    { side: 'middle' as const, narrowing: 3, to: 0.5, toShoulder: 0.001 },
    { from: 0.4, to: 0.4 },
  ])('tabulates every 16-bit tone within a step: %j', (change) => {
    const part = { ...whole, ...change };
    const table = toneTable(part);
    let worst = 0;
    for (let code = 0; code < 65536; code++) {
      worst = Math.max(worst, Math.abs(table[code] - 65535 * toneCoverage(part, code / 65535)));
    }
    expect(worst).toBeLessThan(0.75);
  });
});
