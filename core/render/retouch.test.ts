import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { edit, resultOf, size } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { SpotId } from '../ids.ts';
import { membraneBytes } from '../kernels/membrane.ts';
import { levelSize } from '../raster/size.ts';
import { addSpots, removeSpots, setSpot } from '../scene/edits/retouching.ts';
import { openScene } from '../scene/readScene.ts';
import type { RetouchSpot } from '../scene/retouch.ts';
import type { Scene } from '../scene/scene.ts';
import { RetouchNode } from './nodes/retouchNode.ts';
import { RoundedNode } from './nodes/roundedNode.ts';
import type { TileNode } from './tiles/renderContext.ts';
import { MEMBRANE_BYTES } from './tiles/scratch.ts';

const NOISE = 250;
const random = alea('retouch');
const noise = Float64Array.from(
  { length: size.width * size.height },
  () => NOISE * (random() + random() + random() - 1.5) * 2,
);
/** A sky that grows brighter, with noise; and the same with a dark spot of dust. */
const clean = (x: number, y: number) => 20_000 + 60 * x + 40 * y;
const DUST = { x: 150, y: 100, radius: 9 };
const shade = (x: number, y: number) => (Math.hypot(x + 0.5 - DUST.x, y + 0.5 - DUST.y) < DUST.radius ? 0.8 : 1);
const noisy: PixelSource = (x, y) => {
  const tone = Math.round(clean(x, y) + noise[y * size.width + x]);
  return [tone, tone, tone];
};
const dusty: PixelSource = (x, y) =>
  noisy(x, y).map((value) => Math.round(value * shade(x, y))) as [number, number, number];
const shifted: PixelSource = (x, y) => noisy(x, y).map((value) => Math.round(value * 0.5)) as [number, number, number];
const made = smallScene(size, [shifted, dusty, noisy]);

const spotAt = (change: Partial<RetouchSpot> = {}): RetouchSpot => ({
  id: SpotId.parse('spot'),
  path: [{ x: DUST.x, y: DUST.y }],
  radius: 14,
  soft: 0.2,
  how: 'heal',
  by: { x: 60, y: 20 },
  flip: 'none',
  frame: null,
  stops: 0,
  opacity: 1,
  visible: true,
  ...change,
});
const planeOf = (scene: Scene, level = 0) =>
  planeOfNode(resultOf(scene), 0, level, levelSize(size, level), made.context);
const bare = planeOf(made.scene);
const near = (radius: number, from = DUST) =>
  Array.from({ length: size.width * size.height }, (_, at) => at).filter(
    (at) => Math.hypot((at % size.width) + 0.5 - from.x, Math.floor(at / size.width) + 0.5 - from.y) < radius,
  );
const rms = (values: readonly number[]) =>
  Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / values.length);

describe('retouching', () => {
  it('heals planted dust to less than twice the noise of the picture', () => {
    const healed = planeOf(edit(made.scene, addSpots({ spots: [spotAt()] })));
    const truth = planeOf({ ...made.scene, base: made.frameIds[2], stack: [] });
    const off = (plane: Uint16Array) =>
      rms(near(12).map((at) => plane[at] - clean(at % size.width, Math.floor(at / size.width))));
    const own = rms(near(12).map((at) => truth[at] - clean(at % size.width, Math.floor(at / size.width))));
    expect(off(bare)).toBeGreaterThan(5 * own);
    expect(off(healed)).toBeLessThan(2 * own);
    // Around it nothing changes.
    const inside = new Set(near(15));
    expect(near(40).filter((at) => !inside.has(at) && healed[at] !== bare[at])).toEqual([]);
  });

  it('heals what is wider than a thread has room for as well, over all edges of the picture', () => {
    const wide = (radius: number) =>
      planeOf(edit(made.scene, addSpots({ spots: [spotAt({ radius, by: { x: 0, y: 0 }, frame: made.frameIds[2] })] })));
    const places = near(150);
    // The sky is a plane, so that a membrane that is held anywhere on it is none.
    for (const radius of [100, 178]) {
      const healed = wide(radius);
      const off = places.map((at) => healed[at] - clean(at % size.width, Math.floor(at / size.width)));
      expect(rms(off)).toBeLessThan(2 * NOISE);
    }
    expect(membraneBytes(358, 358).all).toBeGreaterThan(MEMBRANE_BYTES);
  });

  it('copies a place as it is, turned over if it is to, and as strongly as it says', () => {
    const clone = spotAt({ how: 'clone', soft: 0 });
    const at = (x: number, y: number) => y * size.width + x;
    const plain = planeOf(edit(made.scene, addSpots({ spots: [clone] })));
    expect(plain[at(150, 100)]).toBe(bare[at(210, 120)]);
    const across = planeOf(edit(made.scene, addSpots({ spots: [{ ...clone, flip: 'across' }] })));
    expect(across[at(146, 103)]).toBe(bare[at(299 - 146 + 60, 123)]);
    const half = planeOf(edit(made.scene, addSpots({ spots: [{ ...clone, opacity: 0.5 }] })));
    expect(Math.abs(half[at(150, 100)] - (bare[at(150, 100)] + bare[at(210, 120)]) / 2)).toBeLessThanOrEqual(1);
  });

  it('takes a place of another frame, brighter by stops, where that shows no dust', () => {
    const frame = made.frameIds[2];
    const spot = spotAt({ frame, by: { x: 0, y: 0 }, how: 'clone', soft: 0 });
    const taken = planeOf(edit(made.scene, addSpots({ spots: [spot] })));
    for (const at of near(12)) expect(taken[at]).toBe(noisy(at % size.width, Math.floor(at / size.width))[0]);
  });

  it('covers ways of a brush, places one over the other, and sees those before', () => {
    const way = spotAt({
      path: [
        { x: 130, y: 95 },
        { x: 170, y: 105 },
      ],
      radius: 16,
      id: SpotId.parse('way'),
    });
    const after = planeOf(edit(made.scene, addSpots({ spots: [way] })));
    expect(rms(near(9).map((at) => after[at] - clean(at % size.width, Math.floor(at / size.width))))).toBeLessThan(
      2 * NOISE,
    );
    // The second copies what the first has healed.
    const copy = spotAt({
      id: SpotId.parse('copy'),
      how: 'clone',
      soft: 0,
      path: [{ x: 60, y: 60 }],
      by: { x: 90, y: 40 },
      radius: 10,
    });
    const both = planeOf(edit(made.scene, addSpots({ spots: [way, copy] })));
    expect(both[60 * size.width + 60]).toBe(both[100 * size.width + 150]);
    const other = planeOf(edit(made.scene, addSpots({ spots: [copy, way] })));
    expect(other[60 * size.width + 60]).toBe(bare[100 * size.width + 150]);
  });

  it('leaves tiles that no spot touches alone, to the key, with 200 of them', () => {
    const chance = alea('many');
    const spots = Array.from({ length: 200 }, (_, i) =>
      spotAt({
        id: SpotId.parse(`spot-${i}`),
        path: [{ x: 4 + 100 * chance(), y: 4 + 100 * chance() }],
        radius: 3 + 5 * chance(),
        by: { x: 12 * chance(), y: 12 },
      }),
    );
    const scene = edit(made.scene, addSpots({ spots }));
    const keys = (of: Scene, tx: number) => [...resultOf(of).keyAt({ level: 0, tx, ty: 0 }, made.context)];
    const one = edit(made.scene, addSpots({ spots: [spotAt({ path: [{ x: 50, y: 50 }] })] }));
    expect(keys(scene, 2)).toEqual(keys(one, 2));
    expect(keys(scene, 0)).not.toEqual(keys(one, 0));
    const whole = planeOf(scene);
    expect(planeOf(edit(scene, setSpot({ id: SpotId.parse('spot-3'), change: { visible: false } })))).not.toEqual(
      whole,
    );
    // Coarse levels show what the fine ones are, but for noise.
    const [coarse, fine] = [planeOf(scene, 1), whole];
    for (let y = 2; y < 50; y += 5)
      for (let x = 2; x < 50; x += 5) {
        const mean = [0, 1, size.width, size.width + 1].reduce(
          (sum, by) => sum + fine[2 * y * size.width + 2 * x + by] / 4,
          0,
        );
        expect(Math.abs(coarse[y * 150 + x] - mean)).toBeLessThan(6 * NOISE);
      }
  });

  it('covers one place hundreds of times without running out of room', () => {
    const spots = Array.from({ length: 300 }, (_, i) =>
      spotAt({ id: SpotId.parse(`again-${i}`), radius: 6, how: 'clone', by: { x: 30 + (i % 7), y: 12 } }),
    );
    const plane = planeOf(edit(made.scene, addSpots({ spots })));
    expect(Math.abs(plane[100 * size.width + 150] - clean(150, 100))).toBeLessThan(4000);
  });

  it('is what spots are that are laid one picture over the other, wherever they lie and whatever they read, at any level', () => {
    const chance = alea('one over the other');
    const below = resultOf(made.scene);
    const other = resultOf({ ...made.scene, base: made.frameIds[2], stack: [] });
    const pick = <T>(of: readonly T[]): T => of[Math.floor(of.length * chance())];
    for (let round = 0; round < 6; round++) {
      // Many in a corner or along an edge, over and beyond it, some far away.
      const spread = round % 2 === 0 ? 70 : 300;
      const spots = Array.from({ length: 24 }, () => {
        const at = { x: spread * chance() - 10, y: (spread * chance()) / 2 - 5 };
        return {
          spot: {
            path: chance() < 0.7 ? [at] : [at, { x: at.x + 50 * chance(), y: at.y + 30 * chance() }],
            ...{ radius: 1 + 14 * chance(), soft: chance(), opacity: 0.4 + 0.6 * chance() },
            how: pick(['heal', 'heal', 'clone'] as const),
            by: { x: 160 * chance() - 80, y: 90 * chance() - 45 },
            flip: pick(['none', 'across', 'down'] as const),
          },
          frame: chance() < 0.2 ? other : undefined,
        };
      });
      const joint = RetouchNode.of(below, spots);
      const nested = spots.reduce<TileNode>((under, spot) => RetouchNode.of(under, [spot]), below);
      for (const level of [0, 1, 2])
        for (const channel of [0, 1, 2]) {
          const [found, wanted] = [joint, nested].map((node) =>
            planeOfNode(new RoundedNode(node), channel, level, levelSize(size, level), made.context),
          );
          expect(found.every((value, at) => value === wanted[at])).toBe(true);
        }
    }
  });

  it('is undone as it was done, is read again, and refuses a spot outside or of a frame that is not there', () => {
    const scene = edit(made.scene, addSpots({ spots: [spotAt()] }));
    expect(edit(scene, removeSpots({ ids: [SpotId.parse('spot')] })).retouch).toEqual([]);
    expect(openScene(JSON.parse(JSON.stringify(scene))).scene).toEqual(scene);
    const outside = addSpots({ spots: [spotAt({ path: [{ x: -40, y: 10 }] }), spotAt({ frame: 'none' as never })] });
    expect(edit(made.scene, outside)).toBe(made.scene);
    expect(edit(scene, setSpot({ id: SpotId.parse('spot'), change: { path: [{ x: 900, y: 900 }] } }))).toBe(scene);
  });
});
