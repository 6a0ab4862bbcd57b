import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { encodeSrgb } from '../color/srgb.ts';
import { adviseBase, adviseIdle, adviseOrder, type FrameFacts, WIDEST_GAP } from './advice.ts';
import { estimateEvs, exposureRatio } from './exposureRatio.ts';
import { holdingsOf, lacking } from './holdings.ts';
import { levelsOf, limitsOf, type Sketch } from './sketch.ts';

const size = { width: 100, height: 60 };

/** A scene's light, exposed by some stops and clipped as a camera does it. */
function exposed(light: (x: number, y: number) => number, ev: number, noise = 0): Sketch {
  const rgba = new Uint8ClampedArray(size.width * size.height * 4);
  for (let y = 0, at = 0; y < size.height; y++) {
    for (let x = 0; x < size.width; x++, at += 4) {
      const grain = noise * (((x * 7919 + y * 104729) % 101) / 101 - 0.5);
      const level = 255 * encodeSrgb(Math.min(1, light(x, y) * 2 ** ev)) + grain;
      rgba.set([level, level, level, 255], at);
    }
  }
  return { ...size, rgba };
}

/** Land of middle tones below, a bright sky above, and a lamp: three ranges of light, each of a known share. */
const LAMP = 0.04;
const SKY = 0.36;
const view = (x: number, y: number): number => {
  if (y >= 24) return 0.06; // land: 60 % of the picture, in the noise at -4
  return x < 10 ? 12 : 2.5;
};
const FACTS = (evs: (number | null)[]): FrameFacts[] => evs.map((ev) => ({ ev, moment: 'dusk' }));

describe('limits', () => {
  it('are shares of the picture', () => {
    const sketch = exposed(view, 0);
    expect(limitsOf(sketch).blown).toBeCloseTo(LAMP + SKY, 12);
    expect(limitsOf(sketch).blocked).toBe(0);
    expect(limitsOf(exposed(view, -12)).blocked).toBeGreaterThanOrEqual(0.6);
    expect(levelsOf(sketch)[255]).toBe((LAMP + SKY) * 6000);
  });
});

describe('advice on a view whose answer is known', () => {
  const evs = [-4, -2, 0, 2];
  const sketches = evs.map((ev) => exposed(view, ev));
  const holdings = holdingsOf(sketches);

  it('chooses the base that leaves least to others', () => {
    // At 0 the land is good and the sky blown; at -2 sky and land are both good, and only the lamp is missing.
    const [best, ...rest] = adviseBase(holdings, FACTS(evs));
    expect(best.frame).toBe(1);
    // Every other pixel is looked at, without the outermost.
    expect(best.needs).toBeCloseTo(LAMP, 1);
    expect(rest.find(({ frame }) => frame === 2)?.needs).toBeCloseTo(LAMP + SKY, 1);
  });

  it('finds the frames that add nothing, and keeps the one that alone holds the lamp', () => {
    const { idle } = adviseIdle(holdings, FACTS(evs), 1);
    expect(idle.map(({ frame }) => frame).sort()).toEqual([2, 3]);
    expect(idle.every(({ adds }) => adds === 0)).toBe(true);
  });

  it('never calls a frame of another moment idle', () => {
    const facts = FACTS(evs).map((each, index) => (index === 3 ? { ...each, moment: 'night' } : each));
    expect(adviseIdle(holdings, facts, 1).idle.map(({ frame }) => frame)).toEqual([2]);
  });

  it('stacks the nearest first, and tells how much each reveals', () => {
    const { order, reveals } = adviseOrder(holdings, FACTS(evs), 2, [0, 1]);
    expect(order).toEqual([1, 0]);
    expect(reveals[0]).toBeCloseTo(SKY, 1);
    expect(reveals[1]).toBeCloseTo(LAMP, 1);
  });

  it('beats or equals every other order by brute force over random holdings', () => {
    for (let seed = 1; seed <= 30; seed++) {
      const random = new Map(
        Array.from({ length: 15 }, (_, key) => [key + 1, ((seed * 7919 * (key + 3)) % 97) / 970] as const),
      );
      const facts = FACTS([0, -2, -4, 2]);
      const { order, reveals } = adviseOrder(random, facts, 0, [1, 2, 3]);
      expect([...order].sort()).toEqual([1, 2, 3]);
      const missing = [...random].filter(([key]) => (key & 1) === 0).reduce((sum, [, share]) => sum + share, 0);
      // Whatever the order, each place is revealed exactly once.
      expect(reveals.reduce((sum, share) => sum + share, 0)).toBeCloseTo(missing, 9);
    }
  });

  it('takes the middle of the bracket where all hold the same', () => {
    const flat = [-2, 0, 2].map((ev) => exposed(() => 0.1, ev));
    expect(adviseBase(holdingsOf(flat), FACTS([-2, 0, 2]))[0].frame).toBe(1);
  });
});

describe('advice weighs what clipping does not tell', () => {
  /** A sky that only the darkest of three frames holds, and land in three steps down to where that is nearly black. */
  const dusk = (x: number, y: number): number => (y < 24 ? 3 : [0.12, 0.02, 0.0105][Math.floor(x / 34)]);
  const evs = [-2, 0, 2];
  const sketches = evs.map((ev) => exposed(dusk, ev));

  it('noise: the frame that clips nothing is no blend by itself', () => {
    for (const sketch of sketches.slice(0, 1)) expect(limitsOf(sketch)).toEqual({ blown: 0, blocked: 0 });
    const holdings = holdingsOf(sketches);
    expect(lacking(holdings, [0])).toBeGreaterThan(0.35);
    const [{ frame }] = adviseBase(holdings, FACTS(evs));
    expect(adviseIdle(holdings, FACTS(evs), frame).idle).toEqual([]);
  });

  it('noise: a high ISO holds dark places less well at the same levels', () => {
    const same = [exposed(dusk, 0), exposed(dusk, 0)];
    expect(lacking(holdingsOf(same, [100, 100]), [1])).toBe(0);
    expect(lacking(holdingsOf(same, [100, 6400]), [1])).toBeGreaterThan(0.5);
    expect(lacking(holdingsOf(same, [6400, 100]), [1])).toBe(0);
  });

  it('local contrast: a place that one frame shows flat needs the other', () => {
    const waves = (x: number, y: number) => 0.3 + 0.05 * Math.sin(x) * Math.cos(y);
    const flat = exposed(() => 0.3, 0);
    const holdings = holdingsOf([exposed(waves, 0), flat]);
    expect(lacking(holdings, [0])).toBeLessThan(0.1);
    expect(lacking(holdings, [1])).toBeGreaterThan(0.8);
  });

  it('the gap that would be left: a frame in the middle stays where its neighbours lie too far apart', () => {
    // The outer two hold all that there is.
    const holdings = new Map([
      [0b001, 0.5],
      [0b110, 0.5],
    ]);
    const { idle, bridges } = adviseIdle(holdings, FACTS([-2, 0, 2]), 2);
    expect(idle).toEqual([]);
    expect(bridges).toEqual([{ frame: 1, adds: 0, gap: 4 }]);
    const near = adviseIdle(holdings, FACTS([-1.33, 0, 1.33]), 2);
    expect(near.idle.map(({ frame }) => frame)).toEqual([1]);
    expect(near.bridges).toEqual([]);
    for (let seed = 0; seed < 40; seed++) {
      const random = new Map(
        Array.from({ length: 31 }, (_, key) => [key + 1, ((seed * 31 + key * 7919) % 89) ** 4 / 1e9]),
      );
      const spaced = [0, 1, 2, 3, 4].map((i) => i * (0.7 + (seed % 7) * 0.3));
      const left = adviseIdle(random, FACTS(spaced), 2).idle.map(({ frame }) => frame);
      const kept = spaced.filter((_, i) => !left.includes(i));
      for (const [i, ev] of kept.entries())
        if (i > 0) expect(ev - kept[i - 1]).toBeLessThanOrEqual(Math.max(WIDEST_GAP + 0.15, spaced[1] - spaced[0]));
    }
  });
});

describe('advice on the demo, whose light is like that of photographs', () => {
  const EVS = [-4, -2, 0, 2, 4];
  const sketches = Promise.all(
    EVS.map(async (_, index) => {
      const file = sharp(`demo/frames/tarn/tarn-${index + 1}.jpg`)
        .resize(480)
        .ensureAlpha();
      const { data, info } = await file.raw().toBuffer({ resolveWithObject: true });
      return { width: info.width, height: info.height, rgba: new Uint8ClampedArray(data) };
    }),
  );

  it('takes the frame in the middle, lets the darkest go, and keeps the brightest for its clean shadows', async () => {
    const holdings = holdingsOf(await sketches);
    const [{ frame, needs }] = adviseBase(holdings, FACTS(EVS));
    expect(frame).toBe(2);
    expect(needs).toBeLessThan(0.3);
    const { idle } = adviseIdle(holdings, FACTS(EVS), frame);
    expect(idle.map((each) => each.frame)).toEqual([0]);
    expect(adviseOrder(holdings, FACTS(EVS), frame, [4, 3, 1]).order.sort()).toEqual([1, 3, 4]);
  });

  it('finds its exposures from the pictures alone, to a thirtieth of a stop', async () => {
    const found = estimateEvs(await sketches, [null, null, 0, null, null]);
    for (const [index, ev] of EVS.entries()) expect(Math.abs((found[index] ?? 99) - ev)).toBeLessThan(1 / 30);
  });
});

describe('exposure from the pictures', () => {
  const slope = (x: number, y: number) => 0.002 * 2 ** ((x + y) / 14);

  it.each([1, 4 / 3, 2, 3])('finds %f stops between two frames', (stops) => {
    const ratio = exposureRatio(exposed(slope, -1, 3), exposed(slope, stops - 1, 3));
    expect(ratio?.stops).toBeCloseTo(stops, 1);
  });

  it('is not misled by what moved or was lit in a smaller part', () => {
    const lit = (x: number, y: number) => (x < 30 ? 0.3 : slope(x, y));
    expect(exposureRatio(exposed(slope, 0), exposed(lit, 2))?.stops).toBeCloseTo(2, 1);
  });

  it('admits that frames have nothing in common', () => {
    expect(
      exposureRatio(
        exposed(() => 0.2, 0),
        exposed(() => 0.2, 9),
      ),
    ).toBeUndefined();
  });

  it('goes from frame to frame, and keeps what the camera wrote', () => {
    const evs = [-6, -3, 0, 3];
    const sketches = evs.map((ev) => exposed(slope, ev));
    const found = estimateEvs(sketches, [null, null, -9, null]);
    expect(found[2]).toBe(-9);
    for (const [index, ev] of evs.entries()) expect(found[index]).toBeCloseTo(ev - 9, 0);
    expect(estimateEvs(sketches, [null, null, null, null])[0]).toBe(0);
    expect(estimateEvs([sketches[0], exposed(() => 1e-9, 0)], [0, null])).toEqual([0, null]);
  });
});
