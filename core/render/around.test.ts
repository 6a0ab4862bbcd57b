import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { nodeOf } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import { stopsOfLight, toneOfCode } from '../color/toneCodes.ts';
import { developFrames } from '../scene/edits/developing.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { StopsNode } from './nodes/stopsNode.ts';
import { VeilNode } from './nodes/veilNode.ts';

type Rgb = readonly [number, number, number];
type Develop = Parameters<typeof developFrames>[0]['change'];

const size = { width: 300, height: 200 };
const coded = (rgb: Rgb) =>
  rgb.map((light) =>
    Math.round(65535 * encodeSrgb(Math.min(1, Math.max(0, light)))),
  ) as unknown as ReturnType<PixelSource>;

/** A scene of one picture in light, and planes of it as taken or developed, in light. */
function sceneOf(lightAt: (x: number, y: number) => Rgb) {
  const made = smallScene(size, [(x, y) => coded(lightAt(x, y))]);
  const [id] = made.frameIds;
  const taken = nodeOf(made.scene, { what: 'frame', at: id, taken: true });
  const developed = (change: Develop): Float64Array[] => {
    const scene = applyEdit(made.scene, developFrames({ frameIds: [id], change }));
    const node = nodeOf(scene, { what: 'result' });
    return [0, 1, 2].map((plane) =>
      Float64Array.from(planeOfNode(node, plane, 0, size, made.context), (code) => decodeSrgb(code / 65535)),
    );
  };
  return { made, taken, developed };
}
const at = (x: number, y: number) => y * size.width + x;
const stops = ([r, g, b]: readonly Float64Array[], i: number) =>
  Math.log2(0.2126 * r[i] + 0.7152 * g[i] + 0.0722 * b[i]);
const grey = (light: number): Rgb => [light, light, light];

describe('tones without detail', () => {
  it.each([1, 2, 3, 4])(
    'of an edge of %i stops overshoot by no more than 2 per cent when detail is doubled, of one stop by 10',
    (high) => {
      // The edge of a lens: three pixels soft.
      const edge = (x: number) => 1 / (1 + Math.exp(-(x - 150) / 0.8));
      const { developed } = sceneOf((x) => grey(0.05 * 2 ** (high * edge(x))));
      for (const [part, radius] of [
        ['fine', 12],
        ['broad', 60],
      ] as const) {
        const none = { amount: 0, radius: part === 'fine' ? 60 : 12 };
        const detail = { amount: 1, radius };
        const planes = developed({
          localContrast: part === 'fine' ? { fine: detail, broad: none } : { fine: none, broad: detail },
        });
        const row = Array.from({ length: size.width }, (_, x) => stops(planes, at(x, 100)));
        const low = Math.log2(0.05);
        const over = Math.max(...row) - (low + high);
        const under = low - Math.min(...row);
        expect(Math.max(over, under) / high, `${part} ${over} ${under}`).toBeLessThan(high === 1 ? 0.1 : 0.02);
      }
    },
  );

  it('keep detail as it is while ends are opened and held, and tones in order', () => {
    const random = alea('detail');
    const grain = Float64Array.from({ length: size.width * size.height }, () => 0.1 * (random() - 0.5));
    // Six steps from dark to bright, each with a little detail.
    const tone = (x: number) => -8 + 1.4 * Math.floor(x / 50);
    const { developed } = sceneOf((x, y) => grey(2 ** (tone(x) + grain[at(x, y)])));
    const planes = developed({ ends: { darks: { stops: 2, reach: -3 }, brights: { stops: -0.8, reach: -3 } } });
    let before = Number.NEGATIVE_INFINITY;
    for (let step = 0; step < 6; step++) {
      const places = Array.from({ length: 900 }, (_, i) => at(step * 50 + 10 + (i % 30), 30 + 4 * Math.floor(i / 30)));
      const means = [0, 0];
      let [own, both] = [0, 0];
      for (const i of places) means[0] += stops(planes, i) / places.length;
      for (const i of places) means[1] += grain[i] / places.length;
      for (const i of places) {
        own += (grain[i] - means[1]) ** 2;
        both += (grain[i] - means[1]) * (stops(planes, i) - means[0]);
      }
      expect(means[0]).toBeGreaterThan(before);
      before = means[0];
      // Encoded to 16 bits the darkest tones lose a little.
      expect(both / own, `step ${step}`).toBeCloseTo(1, 1);
    }
    expect(stops(planes, at(25, 100))).toBeGreaterThan(-7);
  });

  it('are kept while light is moved: no tile of theirs is made again', () => {
    const { made } = sceneOf((x, y) => grey(0.05 + 0.001 * x + 0.0005 * y));
    const [id] = made.frameIds;
    const ends = { darks: { stops: 1, reach: -3 }, brights: { stops: -1, reach: -3 } };
    const draw = (stopsUp: number) => {
      const change = {
        exposure: { stops: stopsUp },
        ends,
        haze: { amount: 0.3, veil: { red: 0.8, green: 0.8, blue: 0.8 } },
      };
      const scene = applyEdit(made.scene, developFrames({ frameIds: [id], change }));
      const before = made.context.table.size;
      planeOfNode(nodeOf(scene, { what: 'result' }), 0, 0, size, made.context);
      return made.context.table.size - before;
    };
    const first = draw(0.5);
    const second = draw(1);
    // Floats of the last pass and the rounded result, against the veil, its tones, and those of the picture without it as well.
    expect(second).toBeLessThan(first / 2);
  });
});

describe('a veil', () => {
  const veil = [0.75, 0.8, 0.9] as const;
  const random = alea('land');
  const patches = Float64Array.from({ length: 60 * 40 * 3 }, () => random() ** 2);
  /** Land of many colours, some of them dark, that goes away to the top. */
  const land = (x: number, y: number): Rgb => {
    const patch = (Math.floor(y / 5) * 60 + Math.floor(x / 5)) * 3;
    return [0.02 + 0.5 * patches[patch], 0.02 + 0.5 * patches[patch + 1], 0.02 + 0.4 * patches[patch + 2]];
  };
  const through = (y: number) => 0.25 + (0.7 * y) / size.height;
  const hazy = (x: number, y: number): Rgb =>
    land(x, y).map((light, i) => light * through(y) + veil[i] * (1 - through(y))) as unknown as Rgb;

  it('is as thick as the paper says, worked out plainly: the darkest channel around, fitted to tones', () => {
    const { made, taken } = sceneOf(hazy);
    const tonesNode = new StopsNode(taken, 'srgb');
    const node = new VeilNode(taken, tonesNode, veil);
    const found = planeOfNode(node, 0, 0, size, made.context);
    const codes = planeOfNode(tonesNode, 0, 0, size, made.context);
    const inside = (x: number, y: number) =>
      at(Math.min(size.width - 1, Math.max(0, x)), Math.min(size.height - 1, Math.max(0, y)));
    const light = [0, 1, 2].map((plane) =>
      Float64Array.from(planeOfNode(taken, plane, 0, size, made.context), (code) => decodeSrgb(code / 65535)),
    );
    const darkest = Float64Array.from(light[0], (_, i) => Math.min(1, ...light.map((plane, c) => plane[i] / veil[c])));
    // 0.0117 of 300 pixels is 4; windows of the fit are three times as wide.
    const [r, fit] = [4, 12];
    const least = (x: number, y: number) => {
      let value = 1;
      for (let dy = -r; dy <= r; dy++)
        for (let dx = -r; dx <= r; dx++) value = Math.min(value, darkest[inside(x + dx, y + dy)]);
      return value;
    };
    const around = new Map<number, number>();
    const leastAt = (x: number, y: number) => {
      const key = y * 4096 + x;
      if (!around.has(key)) around.set(key, least(x, y));
      return around.get(key) as number;
    };
    const tone = (x: number, y: number) => codes[inside(x, y)] / 65535;
    for (const [px, py] of [
      [150, 100],
      [77, 60],
      [222, 140],
    ]) {
      let [slope, offset] = [0, 0];
      for (let wy = py - fit; wy <= py + fit; wy++)
        for (let wx = px - fit; wx <= px + fit; wx++) {
          let [t, d, tt, td] = [0, 0, 0, 0];
          for (let y = wy - fit; y <= wy + fit; y++)
            for (let x = wx - fit; x <= wx + fit; x++) {
              const [own, dark] = [tone(x, y), leastAt(x, y)];
              t += own;
              d += dark;
              tt += own * own;
              td += own * dark;
            }
          const n = (2 * fit + 1) ** 2;
          const a = (td / n - (t / n) * (d / n)) / (tt / n - (t / n) ** 2 + 0.02 ** 2);
          slope += a / n;
          offset += (d / n - (a * t) / n) / n;
        }
      expect(Math.abs(found[at(px, py)] / 65535 - (slope * tone(px, py) + offset))).toBeLessThan(2e-3);
    }
  });

  it('that is taken away leaves the land nearly as it was, and a little of one is left by less', () => {
    const { developed } = sceneOf(hazy);
    const off = (amount: number) => {
      const planes = developed({ haze: { amount, veil: { red: veil[0], green: veil[1], blue: veil[2] } } });
      let sum = 0;
      for (let y = 20; y < 180; y += 3)
        for (let x = 20; x < 280; x += 3)
          sum += land(x, y).reduce((all, light, c) => all + Math.abs(planes[c][at(x, y)] - light), 0);
      return sum;
    };
    const [before, half, whole, more] = [off(0), off(0.5), off(1), off(-0.5)];
    expect(half).toBeLessThan(0.75 * before);
    expect(whole).toBeLessThan(0.3 * before);
    expect(more).toBeGreaterThan(before);
  });
});

it('stops of tones are coded within a thousandth of a stop', () => {
  const { made, taken } = sceneOf((x, y) => [0.001 + 0.003 * x, 0.9 - 0.004 * y, 0.2]);
  const codes = planeOfNode(new StopsNode(taken, 'srgb'), 0, 0, size, made.context);
  const light = [0, 1, 2].map((plane) => planeOfNode(taken, plane, 0, size, made.context));
  for (let i = 0; i < codes.length; i += 97) {
    const [r, g, b] = light.map((plane) => decodeSrgb(plane[i] / 65535));
    expect(Math.abs(toneOfCode(codes[i]) - stopsOfLight(0.2126 * r + 0.7152 * g + 0.0722 * b))).toBeLessThan(1e-3);
  }
});
