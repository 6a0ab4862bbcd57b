import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { randomScene } from '../../../tests/randomScene.ts';
import { randomStack } from '../../../tests/randomStack.ts';
import { edit, paint, resultOf, setUp } from '../../../tests/renderScene.ts';
import { ItemId, SpotId } from '../../ids.ts';
import { plainPart } from '../../parts/partBase.ts';
import { newTonePart } from '../../parts/tone.ts';
import { keyText } from '../../raster/tileKey.ts';
import { setItem } from '../../scene/edits/items.ts';
import { addPart } from '../../scene/edits/masks.ts';
import { addStroke } from '../../scene/edits/painting.ts';
import { addSpots } from '../../scene/edits/retouching.ts';
import { addAdjustment, setAdjustment } from '../../scene/edits/stack.ts';
import type { Scene } from '../../scene/scene.ts';
import type { TileNode } from '../tiles/renderContext.ts';
import { compilePlan } from './plan.ts';
import { PlanMemory } from './planMemory.ts';

const { made, dark, whole } = setUp();
const id = (name: string) => ItemId.parse(name);
const BLEND = { blend: true } as const;
const SPOTS = [
  { level: 0, tx: 0, ty: 0 },
  { level: 0, tx: 1, ty: 1 },
  { level: 0, tx: 2, ty: 0 },
];

function keysOf(scene: Scene, memory: PlanMemory, selected?: ItemId): string[] {
  const result = compilePlan(scene, memory, selected)?.node({ what: 'result' });
  return SPOTS.map((spot) => keyText(result?.keyAt(spot, made.context) ?? new Uint32Array(4)));
}

describe('what a plan remembers of the one before', () => {
  const slide = (stops: number) => setAdjustment({ id: id('exposure'), change: { stops } });
  const finished = (scene: Scene): Scene =>
    edit(
      scene,
      addAdjustment({ id: id('exposure'), kind: 'exposure', above: BLEND }),
      slide(0.3),
      addAdjustment({ id: id('curve'), kind: 'levels', above: id('exposure') }),
      setAdjustment({ id: id('curve'), change: { outBlack: 0.1 } }),
    );

  it.each(['a', 'b', 'c', 'd', 'e'])('changes no key, whatever is changed, undone and worked on: %s', (seed) => {
    const random = alea(seed);
    const first = finished(randomStack(randomScene(made.scene, seed, { layers: 4, parts: 4 }), seed));
    const memory = new PlanMemory();
    const scenes = [first];
    const items = [...first.stack, ...first.finish].map((item) => item.id);
    const changes = [
      (scene: Scene) => edit(scene, slide(random())),
      (scene: Scene) => edit(scene, slide(random())),
      (scene: Scene) => edit(scene, setItem({ id: id('curve'), change: { opacity: random() } })),
      (scene: Scene) => edit(scene, setItem({ id: scene.stack[0].id, change: { opacity: random() } })),
      (scene: Scene) => edit(scene, setItem({ id: scene.stack[1].id, change: { visible: random() < 0.5 } })),
      (scene: Scene) =>
        edit(scene, addStroke({ owner: scene.stack[0].id, stroke: paint(made, [[150 * random(), 90]], { size: 60 }) })),
      (scene: Scene) => {
        const path = [{ x: 100 * random() + 50, y: 70 }];
        const how = { radius: 9, soft: 0.3, how: 'clone', by: { x: 40, y: 30 }, flip: 'none' } as const;
        const spot = { id: SpotId.parse(`s-${random()}`), path, ...how, frame: null, stops: 0, opacity: 1 };
        return edit(scene, addSpots({ spots: [{ ...spot, visible: true }] }));
      },
    ];
    for (let step = 0; step < 14; step++) {
      const isUndone = random() < 0.3;
      const last = scenes[scenes.length - 1];
      const scene = isUndone
        ? scenes[Math.floor(random() * scenes.length)]
        : changes[Math.floor(random() * changes.length)](last);
      scenes.push(scene);
      const selected = random() < 0.5 ? id('exposure') : items[Math.floor(random() * items.length)];
      expect(keysOf(scene, memory, selected)).toEqual(keysOf(scene, new PlanMemory(), selected));
    }
  });

  it('is not the blend whose masks look at what finishes it', () => {
    const tones = { ...newTonePart('below'), join: 'intersect' as const };
    const scene = edit(
      finished(made.scene),
      addPart({ owner: id('curve'), part: tones }),
      addPart({
        owner: dark,
        part: { kind: 'reference', ...plainPart('reference'), join: 'add', to: { item: id('curve') } },
      }),
    );
    const memory = new PlanMemory();
    const planes = (of: Scene, with_?: PlanMemory) => whole(resultOf(of, with_));
    const before = planes(scene, memory);
    const after = edit(scene, slide(1.5));
    expect(keysOf(after, memory)).toEqual(keysOf(after, new PlanMemory()));
    expect(keysOf(after, memory)).not.toEqual(keysOf(scene, new PlanMemory()));
    expect(planes(after, memory).every((value, i) => value === before[i])).toBe(false);
    expect(planes(scene, memory).every((value, i) => value === before[i])).toBe(true);
  });

  it('makes the blend once while what finishes it is changed', () => {
    const memory = new PlanMemory();
    let count = 0;
    const make = () => {
      count++;
      return resultOf(made.scene);
    };
    const ask = (scene: Scene, selected = -1) => memory.blend(scene, selected, () => true, make);
    const scene = finished(made.scene);
    const node = ask(scene);
    expect(ask(edit(scene, slide(1)))).toBe(node);
    expect(ask({ ...scene, finish: [] })).toBe(node);
    expect(count).toBe(1);
    ask(edit(scene, setItem({ id: scene.stack[0].id, change: { opacity: 0.3 } })));
    ask(scene, 1);
    expect(count).toBe(3);
    memory.blend(made.scene, -1, () => false, make);
    memory.blend(made.scene, -1, () => false, make);
    expect(count).toBe(5);
  });

  it('keeps masks that follow from nothing but themselves, and no others', () => {
    const looking = edit(
      finished(made.scene),
      addPart({ owner: id('curve'), part: { ...newTonePart('below'), join: 'intersect' as const } }),
    );
    const memory = new PlanMemory();
    const maskOf = (scene: Scene, owner: string) => compilePlan(scene, memory)?.node({ what: 'mask', at: id(owner) });
    const [own, seen] = [maskOf(looking, 'exposure'), maskOf(looking, 'curve')];
    const after = edit(looking, slide(1));
    expect(maskOf(after, 'exposure')).toBe(own);
    expect(maskOf(after, 'curve')).not.toBe(seen);
    const painted = edit(after, addStroke({ owner: id('exposure'), stroke: paint(made, [[70, 90]], { size: 40 }) }));
    expect(maskOf(painted, 'exposure')).not.toBe(own);
    // The same mask over a picture of another size is another.
    const { of, node } = { of: after.finish[0].mask, node: own as TileNode };
    memory.keepMask('one', of, { width: 20, height: 10 }, node);
    expect(memory.mask('one', of, { width: 20, height: 10 })).toBe(node);
    expect(memory.mask('one', of, { width: 10, height: 20 })).toBeUndefined();
  });

  it('tells settings that are being changed from those that stay', () => {
    const memory = new PlanMemory();
    const [one, other] = [{ stops: 1 }, { stops: 2 }];
    expect(memory.isChanging(id('exposure'), one)).toBe(false);
    expect(memory.isChanging(id('exposure'), other)).toBe(true);
    expect(memory.isChanging(id('exposure'), other)).toBe(false);
    expect(memory.isChanging(id('curve'), one)).toBe(false);
  });
});
