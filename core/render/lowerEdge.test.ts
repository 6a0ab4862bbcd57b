import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { PlainPixel } from '../../tests/plainRender.ts';
import { randomScene } from '../../tests/randomScene.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { edit, resultOf, sources } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, type SmallScene, smallScene } from '../../tests/smallScene.ts';
import { ItemId } from '../ids.ts';
import { plainPart } from '../parts/partBase.ts';
import { setItem } from '../scene/edits/items.ts';
import { addPart } from '../scene/edits/masks.ts';
import { addAdjustment, setAdjustment } from '../scene/edits/stack.ts';
import type { Scene } from '../scene/scene.ts';
import { compilePlan } from './plan/plan.ts';
import { sampleAt } from './plan/readings.ts';
import { isUpperOnly } from './tiles/pictureTile.ts';

/** Of the lower row of tiles only the upper half lies in the picture; each halving has whole rows. */
const size = { width: 300, height: 176 };
const mirrored = (source: PixelSource): PixelSource => {
  return (x, y) => source(x, size.height - 1 - y);
};
const upright = smallScene(size, sources);
const turnedOver = smallScene(size, sources.map(mirrored));

/** Steps of all kinds that tiles are halved for. */
const STEPS = {
  levels: { all: { black: 0.02, white: 0.9, power: 1.2 } },
  ends: { darks: { stops: 1.2, reach: -3 } },
  colour: { saturation: 0.3 },
  localContrast: { fine: { amount: 0.5, radius: 6 }, broad: { amount: -0.4, radius: 40 } },
  softGlow: { strength: 0.5, radius: 12 },
  highPass: { strength: 0.7, radius: 3 },
  haze: { amount: 0.3 },
  exposure: { stops: 0.4 },
  edges: { stops: -1 },
} as const;

function finished({ scene: first }: SmallScene, seed: string, isTurnedOver: boolean): Scene {
  const random = alea(seed);
  let scene = first;
  for (const kind of (Object.keys(STEPS) as (keyof typeof STEPS)[]).sort(() => random() - 0.5)) {
    const id = ItemId.parse(kind);
    const above = scene.finish.at(-1)?.id ?? ({ blend: true } as const);
    scene = edit(scene, addAdjustment({ id, kind, above }), setAdjustment({ id, change: STEPS[kind] as never }));
    const mode = random() < 0.3 ? 'multiply' : 'normal';
    scene = edit(scene, setItem({ id, change: { opacity: 0.5 + 0.5 * random(), mode } }));
    const place = () => {
      const [x, y] = [size.width * random(), size.height * random()];
      return { x, y: isTurnedOver ? size.height - y : y };
    };
    const gradient = { kind: 'gradient' as const, ...plainPart('gradient', kind), join: 'intersect' as const };
    const part = { ...gradient, start: place(), end: place(), profile: 'smooth' as const, middle: 0.5 };
    if (random() < 0.6) scene = edit(scene, addPart({ owner: id, of: 'mask', part }));
  }
  return scene;
}

function planesOf(made: SmallScene, scene: Scene, selected: ItemId | undefined, level: number, interactive: boolean) {
  const { context } = made;
  context.table.dropDerived();
  const result = compilePlan(scene, undefined, selected)?.node({ what: 'result' });
  if (!result) throw new RangeError('The scene has no result');
  context.interactive = interactive;
  const of = { width: size.width / 2 ** level, height: size.height / 2 ** level };
  const planes = [0, 1, 2].map((plane) => planeOfNode(result, plane, level, of, context));
  context.transient.drop();
  context.interactive = true;
  return { planes, of };
}

describe('tiles whose lower half lies below the picture', () => {
  it('are those at the lower edge', () => {
    const extent = { size, toScene: null };
    expect(isUpperOnly({ level: 0, tx: 0, ty: 0 }, extent)).toBe(false);
    expect(isUpperOnly({ level: 0, tx: 0, ty: 1 }, extent)).toBe(true);
    expect(isUpperOnly({ level: 1, tx: 0, ty: 0 }, extent)).toBe(false);
    expect(isUpperOnly({ level: 2, tx: 0, ty: 0 }, extent)).toBe(true);
  });

  it.each(['a', 'b', 'c', 'd'])('show what the upper edge of the picture turned over shows: %s', (seed) => {
    const selected = ItemId.parse(Object.keys(STEPS)[seed.charCodeAt(0) % Object.keys(STEPS).length]);
    const [scene, other] = [finished(upright, seed, false), finished(turnedOver, seed, true)];
    for (const level of [0, 2])
      for (const interactive of [true, false]) {
        const { planes, of } = planesOf(upright, scene, selected, level, interactive);
        const turned = planesOf(turnedOver, other, selected, level, interactive).planes;
        let [worst, sum] = [0, 0];
        for (const [which, plane] of planes.entries())
          for (let y = 0; y < of.height; y++)
            for (let x = 0; x < of.width; x++) {
              const over = turned[which][(of.height - 1 - y) * of.width + x];
              const apart = Math.abs(plane[y * of.width + x] - over);
              worst = Math.max(worst, apart);
              sum += apart;
            }
        // Areas are gathered from other tiles, and fitted at other places.
        expect(worst).toBeLessThanOrEqual(80);
        expect(sum / (3 * of.width * of.height)).toBeLessThanOrEqual(8);
      }
  });

  it.each([2, 5, 8])('show what a second computation in plain doubles makes: %i layers and more', (layers) => {
    const frames = new Map(upright.frameIds.map((id, index) => [id, sources[index]]));
    for (const seed of ['k', 'l', 'm']) {
      const name = `${seed} ${layers}`;
      const scene = randomStack(randomScene(upright.scene, name, { layers, parts: 3 }), name);
      const result = resultOf(scene);
      for (let i = 0; i < 12; i++) {
        const [x, y] = [10 + ((i * 97) % 280), 122 + ((i * 31) % 53)];
        const expected = new PlainPixel(scene, frames, x, y).result;
        for (const [channel, value] of sampleAt(result, x, y, upright.context).entries())
          expect(Math.abs(value - 65535 * expected[channel])).toBeLessThanOrEqual(16);
      }
    }
  });
});
