import { createHash } from 'node:crypto';
import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { randomScene } from '../../tests/randomScene.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { clamp, edit, nodeOf, paint } from '../../tests/renderScene.ts';
import { type PixelSource, type SmallScene, smallScene } from '../../tests/smallScene.ts';
import { ItemId } from '../ids.ts';
import { BLOCKS } from '../kernels/digestBlocks.ts';
import { plainPart } from '../parts/partBase.ts';
import { Arena } from '../raster/arena.ts';
import { allTiles } from '../raster/region.ts';
import { TILE, TILE_SAMPLES } from '../raster/size.ts';
import { keyText } from '../raster/tileKey.ts';
import { setItem } from '../scene/edits/items.ts';
import { addPart } from '../scene/edits/masks.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { addAdjustment, setAdjustment } from '../scene/edits/stack.ts';
import type { Scene } from '../scene/scene.ts';
import { activeLeaves } from '../scene/tree.ts';
import { BaseNode } from './nodes/baseNode.ts';
import { StopsNode } from './nodes/stopsNode.ts';
import { PlanMemory } from './plan/planMemory.ts';
import { evenAt } from './tiles/contentKeys.ts';
import { BLOCK_WORDS, type Content, Contents, WHOLE_WORDS } from './tiles/contents.ts';
import { type RenderContext, type TileNode, withTile } from './tiles/renderContext.ts';

const size = { width: 900, height: 380 };
const view =
  (gain: number): PixelSource =>
  (x, y) => {
    const grain = ((x * 7919 + y * 104729) % 251) * 6;
    const tone = gain * (6000 + 18 * x + 4000 * Math.sin(x / 30) * Math.cos(y / 41) + 12 * y + grain);
    return [clamp(tone), clamp(0.85 * tone), clamp(0.7 * tone + 700)];
  };
const sources = [view(0.5), view(1), view(2)];

/** Adjustments that look around themselves, and so widely that their surroundings lie at other levels than they do. */
const AROUND = [
  ['ends', { darks: { stops: 0.8, reach: -3 }, brights: { stops: -0.4, reach: -2.5 } }],
  ['haze', { amount: 0.3, veil: { red: 0.8, green: 0.8, blue: 0.85 } }],
  ['localContrast', { fine: { amount: 0.4, radius: 5 }, broad: { amount: 0.3, radius: 44 } }],
  ['contrast', { slope: 1.2, middle: -2.5, of: 'base' }],
  ['softGlow', { strength: 0.2, radius: 12 }],
] as const;

/** A card of an adjustment at the top of the stack. */
function withAround(scene: Scene, kind: (typeof AROUND)[number], number: number): Scene {
  const id = ItemId.parse(`around-${number}`);
  const above = activeLeaves(scene).at(-1)?.item.id ?? null;
  return edit(
    scene,
    addAdjustment({ id, kind: kind[0], above }),
    setAdjustment({ id, change: structuredClone(kind[1]) as never }),
  );
}

/** What all pixels of a picture are at some levels. */
function pixelsOf(node: TileNode, context: RenderContext): string {
  const digest = createHash('sha1');
  for (const level of [1, 0])
    for (const { tx, ty } of allTiles(size, level))
      withTile(node, { level, tx, ty }, context, ({ slots, form, value }) => {
        digest.update(`${form} ${value}`);
        for (const slot of slots) digest.update(context.table.slab.plane(slot));
      });
  return digest.digest('hex');
}

/** A scene of two threads' own: one that goes on, and one that makes everything anew and knows where pixels come from only. */
function twice(): { going: SmallScene; plain: SmallScene; same: (scene: Scene, what: string) => void } {
  const [going, plain] = [smallScene(size, sources), smallScene(size, sources)];
  const memory = new PlanMemory();
  const same = (scene: Scene, what: string) => {
    plain.table.dropDerived();
    const anew = pixelsOf(nodeOf(scene, { what: 'result' }), { ...plain.context, byContent: false });
    const known = pixelsOf(nodeOf(scene, { what: 'result' }, memory), going.context);
    expect(known === anew, what).toBe(true);
  };
  return { going, plain, same };
}

describe('tiles that are found again by what lies around them', () => {
  it.each(['a', 'b'])('are the ones that would be made: painted, undone, hidden, changed: %s', (seed) => {
    const random = alea(seed);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
    const { going, plain, same } = twice();
    let scene = randomStack(randomScene(going.scene, seed, { layers: 3, parts: 2 }), seed);
    for (let i = 0; i < 5; i++) {
      scene = withAround(scene, pick(AROUND), i);
      if (random() < 0.5) continue;
      const at = () => ({ x: size.width * random(), y: size.height * random() });
      const gradient = { ...plainPart('gradient'), start: at(), end: at(), profile: 'smooth', middle: 0.5 } as const;
      scene = edit(
        scene,
        addPart({ owner: ItemId.parse(`around-${i}`), part: { kind: 'gradient', ...gradient, join: 'intersect' } }),
      );
    }
    const undone: Scene[] = [];
    for (let step = 0; step < 5; step++) {
      const owner = pick(activeLeaves(scene)).item.id;
      const kind = random();
      if (kind < 0.6) {
        // A stroke that grows point by point.
        const points = () => [size.width * random(), size.height * random(), 1, 0];
        const first = points();
        const stroke = paint(going, [[first[0], first[1]]], { size: 20 + 100 * random() });
        plain.context.strokes.append(stroke.id, Float32Array.from(first));
        undone.push(scene);
        scene = edit(scene, addStroke({ owner, stroke }));
        for (let grown = 0; grown < 2; grown++) {
          const more = Float32Array.from([first[0] + 30 * random(), first[1] + 30 * random(), 1, 0]);
          for (const { context } of [going, plain]) context.strokes.append(stroke.id, more);
          same(scene, `${seed}, ${step}: stroke ${grown}`);
        }
      } else if (kind < 0.75 && undone.length > 0) scene = undone.pop() as Scene;
      else if (kind < 0.85) scene = edit(scene, setItem({ id: owner, change: { visible: random() < 0.5 } }));
      else scene = edit(scene, setItem({ id: owner, change: { opacity: random() } }));
      same(scene, `${seed}, ${step}`);
    }
  });

  /** Some cards that look around themselves, and how many tiles are made for the picture after a dab on the base's layer. */
  function madeAfterDab(byContent: boolean): number {
    const made = smallScene(size, sources);
    const context = { ...made.context, byContent };
    let scene = made.scene;
    const owner = activeLeaves(scene)[0].item.id;
    for (let i = 0; i < 4; i++) scene = withAround(scene, AROUND[[0, 3, 0, 3][i]], i);
    const memory = new PlanMemory();
    const draw = (now: Scene) => pixelsOf(nodeOf(now, { what: 'result' }, memory), context);
    draw(scene);
    const before = made.table.size;
    draw(edit(scene, addStroke({ owner, stroke: paint(made, [[3.5 * TILE, 2.5 * TILE]], { size: 20 }) })));
    return made.table.size - before;
  }

  it('are most of them where a dab lies in the middle of a tile', () => {
    const [found, anew] = [true, false].map(madeAfterDab);
    expect(found).toBeGreaterThan(4);
    expect(found).toBeLessThan(anew / 2);
  });

  it('are asked for in vain where a mask hides what looks at them: nothing is made for it', () => {
    const made = smallScene(size, sources);
    let scene = withAround(made.scene, AROUND[0], 0);
    const id = ItemId.parse('around-0');
    const start = { x: 2 * TILE, y: 0 };
    const gradient = {
      ...plainPart('gradient'),
      start,
      end: { x: 3 * TILE, y: 0 },
      profile: 'linear',
      middle: 0.5,
    } as const;
    scene = edit(scene, addPart({ owner: id, part: { kind: 'gradient', ...gradient, join: 'intersect' } }));
    const node = nodeOf(scene, { what: 'result' });
    const madeAt = (tx: number) => {
      const before = made.table.size;
      withTile(node, { level: 0, tx, ty: 1 }, made.context, () => undefined);
      return made.table.size - before;
    };
    const hidden = madeAt(6);
    expect(madeAt(0) - hidden).toBeGreaterThan(8);
    expect(hidden).toBeLessThan(6);
  });
});

describe('keys of what is seen', () => {
  it('are the same of pictures that came about otherwise, and others of another size or another pixel within reach', () => {
    const made = smallScene(size, sources);
    const owner = activeLeaves(made.scene)[1].item.id;
    const stroke = { ...paint(made, [[100, 100]]), strength: 0 };
    const seen = edit(made.scene, addStroke({ owner, stroke }));
    const dab = (x: number, y: number) =>
      edit(made.scene, addStroke({ owner, stroke: paint(made, [[x, y]], { size: 6 }) }));
    const baseOf = (scene: Scene) =>
      new BaseNode(new StopsNode(nodeOf(scene, { what: 'result' }), scene.workingSpace), 6);
    const keyAt = (scene: Scene) => keyText(baseOf(scene).keyAt({ level: 0, tx: 1, ty: 1 }, made.context));
    const plain = keyAt(made.scene);
    expect(keyAt(seen)).toBe(plain);
    expect(keyAt(dab(3.5 * TILE, 1.5 * TILE))).toBe(plain);
    expect(keyAt(dab(2.1 * TILE, 1.5 * TILE))).not.toBe(plain);
    expect(keyAt(dab(1.5 * TILE, 1.5 * TILE))).not.toBe(plain);
  });

  it('remember what a tile holds by its key and place, and a tile that is even by its value', () => {
    const made = smallScene({ width: 200, height: 150 }, [() => [30000, 20000, 10000]]);
    const stops = new StopsNode(nodeOf(made.scene, { what: 'result' }), 'srgb');
    const spot = { level: 0, tx: 0, ty: 0 };
    expect(evenAt(stops, spot, made.context)).toBe(null);
    const { kernels } = made.context;
    const contents = new Contents(new Arena(made.memory.buffer, made.memory.buffer.byteLength - 4096, 4096));
    const [key, other] = [Uint32Array.of(1, 2, 3, 4), Uint32Array.of(1, 2, 3, 5)];
    const plane = made.table.slab.plane(0);
    const before = plane.slice();
    const samples = alea('content');
    for (let i = 0; i < TILE_SAMPLES; i++) plane[i] = 65536 * samples();
    const content = contents.note(key, 7, plane, kernels);
    expect(contents.find(key, 7)?.content).toBe(content);
    expect(contents.find(other, 7)).toBeUndefined();
    expect(contents.find(key, 8)).toBeUndefined();
    // One sample of one block.
    plane[40 * TILE + 70] ^= 1;
    const changed = contents.note(other, 7, plane, kernels);
    const wholeOf = ({ words, at }: Content) => [...words.subarray(at, at + WHOLE_WORDS)];
    const blocksOf = ({ words, at }: Content) => [
      ...words.subarray(at + WHOLE_WORDS, at + WHOLE_WORDS + BLOCK_WORDS * BLOCKS ** 2),
    ];
    const blocks = blocksOf(content);
    const differing = blocksOf(changed).flatMap((word, i) => (word === blocks[i] ? [] : [Math.floor(i / 2)]));
    expect(new Set(differing)).toEqual(new Set([4 * 1 + 2]));
    expect(wholeOf(changed)).not.toEqual(wholeOf(content));
    plane.set(before);
    const even = contents.note(key, 9, 5, kernels);
    expect(wholeOf(even)).toEqual(wholeOf(contents.note(other, 9, 5, kernels)));
    expect(new Set(blocksOf(even)).size).toBe(2);
    expect(contents.find(other, 9)?.even).toBe(5);
  });
});
