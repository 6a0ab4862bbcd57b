import { beforeAll, describe, expect, it } from 'vitest';
import { findingsOf } from '../../tests/checkScene.ts';
import { openStudio, type Planted, planted, type Studio, wellBlended } from '../../tests/plantedFaults.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { edit, nodeOf, paint, setUp } from '../../tests/renderScene.ts';
import { planeOfNode } from '../../tests/smallScene.ts';
import { CHECKS, type CheckName } from '../checks/checkedBlock.ts';
import { jobsOf } from '../checks/jobs.ts';
import { visitsOf } from '../checks/visits.ts';
import { ItemId } from '../ids.ts';
import { plainPart } from '../parts/partBase.ts';
import type { Region } from '../raster/size.ts';
import { keyText } from '../raster/tileKey.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { setItem } from '../scene/edits/items.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { addSpots } from '../scene/edits/retouching.ts';
import { addAdjustment } from '../scene/edits/stack.ts';
import type { Scene } from '../scene/scene.ts';
import { readCoverage, readRegion } from './nodes/readRegion.ts';
import { type BlendLook, blendLook, type CheckScope } from './plan/blendLook.ts';
import { keyOfJob } from './plan/checking.ts';
import { compilePlan } from './plan/plan.ts';

/** Pictures of the demo's light, small enough for all tests; `npm run checks` makes the whole table at a larger size. */
const WIDTH = 900;
let studio: Studio;
beforeAll(() => {
  studio = openStudio(WIDTH);
}, 120_000);

const visitsIn = (scene: Scene) => findingsOf(scene, studio.made.context).visits;
const isAt = (fault: Planted) => (visit: { check: CheckName; x: number; y: number; radius: number }) =>
  visit.check === fault.check && Math.hypot(visit.x - fault.x, visit.y - fault.y) < fault.radius + visit.radius;

describe('the checks', () => {
  it('find nothing in blends that are made well', () => {
    const told = wellBlended(studio).flatMap(({ name, scene }) =>
      visitsIn(scene).map(({ check }) => `${check} in ${name}`),
    );
    // At most one visit in a picture of a megapixel; there are four megapixels here.
    expect(told.length, told.join(', ')).toBeLessThanOrEqual(3);
  });

  it('find nothing where one frame shows alone, but for limits that another holds', () => {
    const [{ scene }] = wellBlended(studio);
    const base = scene.frames.filter(({ id }) => id === scene.base);
    expect(visitsIn({ ...scene, frames: base, stack: [] })).toEqual([]);
    const alone = [
      { ...scene, stack: [] },
      { ...scene, stack: scene.stack.map((item) => ({ ...item, visible: false })) },
    ];
    for (const each of alone) expect(visitsIn(each).filter(({ check }) => check !== 'limits')).toEqual([]);
  });

  // Strength by strength: a stronger fault is never told as weaker by more than a twentieth.
  it.each(CHECKS.map((check) => [check]))('find %s where they were planted, the stronger the worse', (check) => {
    const families = new Map<string, Planted[]>();
    for (const fault of planted(studio, [check], [0.6, 1]))
      families.set(fault.name, [...(families.get(fault.name) ?? []), fault]);
    // All kinds of them are in the table that `npm run checks` makes.
    const hits = [...families.values()].slice(0, check === 'rims' ? 2 : 1).map((faults) => {
      const strengths = faults.map((fault) =>
        Math.max(
          0,
          ...visitsIn(fault.scene)
            .filter(isAt(fault))
            .map(({ strength }) => strength),
        ),
      );
      for (const [index, strength] of strengths.entries())
        if (index > 0 && strengths[index - 1] > 0)
          expect(strength, faults[0].name).toBeGreaterThan(0.95 * strengths[index - 1] - 0.01);
      return strengths.at(-1) as number;
    });
    for (const strength of hits) expect(strength).toBeGreaterThan(0);
  });

  it('say nothing of what a spot covers', () => {
    const [fault] = [...planted(studio, ['seams'], [1])];
    expect(visitsIn(fault.scene).some(isAt(fault))).toBe(true);
    const spot = {
      ...{
        id: 'spot',
        path: [{ x: fault.x, y: fault.y }],
        radius: 1.5 * fault.radius,
        soft: 0.3,
        how: 'clone' as const,
      },
      ...{ by: { x: 60, y: 0 }, flip: 'none' as const, frame: null, stops: 0, opacity: 1, visible: true },
    };
    const scene = applyEdit(fault.scene, addSpots({ spots: [spot as never] }));
    expect(scene.retouch).toHaveLength(1);
    expect(visitsIn(scene).some(isAt(fault))).toBe(false);
  });

  it('can be held to where a card counts', () => {
    const [fault] = [...planted(studio, ['seams'], [1])];
    const [item] = fault.scene.stack;
    const { found } = findingsOf(fault.scene, studio.made.context, { within: { what: 'effect', at: item.id } });
    const sky = planeOfNode(
      nodeOf(fault.scene, { what: 'effect', at: item.id }),
      0,
      0,
      studio.size,
      studio.made.context,
    );
    expect(found.length).toBeGreaterThan(0);
    for (const { x, y } of found)
      expect(sky[Math.floor(y) * studio.size.width + Math.floor(x)]).toBeGreaterThanOrEqual(32767);
  });
});

describe('checks of the finished picture', () => {
  /** A well made blend, and one step of it within a hard outline. */
  const finished = () => {
    const [{ scene }] = wellBlended(studio);
    const { width, height } = studio.size;
    const part = {
      ...{ kind: 'radial' as const, ...plainPart('radial', 'round'), centre: { x: 0.3 * width, y: 0.12 * height } },
      ...{ radiusX: 0.12 * width, radiusY: 0.08 * height, turn: 0, feather: 0.02 },
    };
    const id = ItemId.parse('step');
    return edit(scene, addAdjustment({ id, kind: 'exposure', above: { blend: true }, settings: { stops: 0.6 }, part }));
  };

  it('find what a step does, which those of the blend know nothing of', () => {
    const scene = finished();
    const told = (of: { finished: boolean }) =>
      findingsOf(scene, studio.made.context, of).visits.filter(({ item }) => item === 'step');
    expect(told({ finished: false })).toEqual([]);
    expect(told({ finished: true }).length).toBeGreaterThan(0);
    const hidden = edit(scene, setItem({ id: ItemId.parse('step'), change: { visible: false } }));
    expect(findingsOf(hidden, studio.made.context, { finished: true }).visits).toEqual(
      findingsOf(hidden, studio.made.context).visits,
    );
  });
});

describe('what checks look at', () => {
  const { made } = setUp();
  const look = (scene: Scene, scope?: CheckScope) => {
    const plan = compilePlan(scene);
    const found = plan && blendLook(scene, plan, scope);
    if (!found) throw new Error('nothing is blended');
    return found;
  };

  /** What is laid one by one, laid. */
  function mixOf({ bottom, items }: BlendLook, region: Region): Float32Array[] {
    const mixed = readRegion(bottom, 0, region, made.context);
    for (const { content, share } of items) {
      const [over, by] = [readRegion(content, 0, region, made.context), readCoverage(share, 0, region, made.context)];
      for (const [channel, plane] of mixed.entries())
        for (let i = 0; i < plane.length; i++) plane[i] += by[i] * (over[channel][i] - plane[i]);
    }
    return mixed;
  }
  /** Samples that are farther apart than eight 16-bit steps. */
  function differing(one: readonly Float32Array[], other: readonly Float32Array[]): number {
    const cut = (value: number) => Math.min(65535, Math.max(0, value));
    return one.reduce(
      (sum, plane, channel) =>
        sum + plane.filter((value, i) => Math.abs(cut(value) - cut(other[channel][i])) > 8).length,
      0,
    );
  }

  it('makes the blend: of random stacks without groups, what is laid one by one is what is drawn', () => {
    const region = { x: 0, y: 0, width: 120, height: 100 };
    for (let seed = 0; seed < 24; seed++) {
      const random = randomStack(made.scene, `look ${seed}`);
      const stack = random.stack.filter((item) => item.item !== 'group');
      const scene = { ...random, stack };
      const looked = look(scene);
      if (looked.inLight) continue;
      const mixed = mixOf(looked, region);
      const blend = readRegion(nodeOf(scene, { what: 'blend' }), 0, region, made.context);
      expect(differing(mixed, blend), `seed ${seed}`).toBe(0);
    }
  });

  it('makes the finished picture, with its steps', () => {
    const region = { x: 0, y: 0, width: 120, height: 100 };
    const part = { kind: 'gradient' as const, ...plainPart('gradient', 'fall'), profile: 'smooth' as const };
    const fall = { ...part, start: { x: 0, y: 20 }, end: { x: 0, y: 160 }, middle: 0.5 };
    const kinds = ['levels', 'softGlow', 'edges', 'localContrast'] as const;
    for (let seed = 0; seed < 8; seed++) {
      const random = randomStack(made.scene, `finished ${seed}`);
      let scene: Scene = { ...random, stack: random.stack.filter((item) => item.item !== 'group') };
      for (const [index, kind] of kinds.slice(0, 1 + (seed % 4)).entries()) {
        const above = index > 0 ? ItemId.parse(kinds[index - 1]) : { blend: true as const };
        const settings = kind === 'levels' ? { all: { black: 0.02, white: 0.9, power: 1.2 } } : undefined;
        scene = edit(scene, addAdjustment({ id: ItemId.parse(kind), kind, above, settings, part: fall }));
      }
      if (look(scene).inLight) continue;
      const mixed = mixOf(look(scene, { finished: true }), region);
      const result = readRegion(nodeOf(scene, { what: 'result' }), 0, region, made.context);
      expect(differing(mixed, result), `seed ${seed}`).toBe(0);
    }
  });

  it('has another key only where a stroke changes the blend, and its old one once that is undone', () => {
    const { size, made: big } = studio;
    const [{ scene: bare }] = wellBlended(studio);
    const at = (scene: Scene, x: number) =>
      applyEdit(scene, addStroke({ owner: bare.stack[0].id, of: 'mask', stroke: paint(big, [[x, 80]], { size: 40 }) }));
    const scene = at(bare, 700);
    const before = look(scene);
    const painted = at(scene, 80);
    const jobs = jobsOf(size);
    const keys = (of: typeof before) => jobs.map((job) => keyText(keyOfJob(job, of, big.context)));
    const [first, second, third] = [keys(before), keys(look(painted)), keys(look(scene))];
    expect(third).toEqual(first);
    const changed = jobs.filter((_, index) => first[index] !== second[index]);
    expect(changed.length).toBeGreaterThan(0);
    // The stroke touches one part of full size.
    const fine = jobs.filter(({ level, look: what }) => level === 0 && what === 'all');
    expect(changed.filter(({ level, look: what }) => level === 0 && what === 'all').length).toBe(1);
    expect(fine.length).toBeGreaterThan(4);
  });
});

describe('visits', () => {
  const size = { width: 1000, height: 800 };
  const cell = (x: number, y: number, strength: number, more = {}) => ({
    check: 'limits' as const,
    x,
    y,
    reach: 4,
    strength,
    facts: {},
    ...more,
  });
  const patch = (x: number, y: number, strength: number) =>
    Array.from({ length: 16 }, (_, i) => cell(x + 8 * (i % 4), y + 8 * Math.floor(i / 4), strength - i / 100));

  it('gather what lies together, the worst first, and leave out what is small or weak', () => {
    const visits = visitsOf(
      [...patch(100, 100, 3), ...patch(600, 500, 5), cell(800, 100, 9), ...patch(300, 700, 1.2)],
      size,
    );
    expect(visits.map(({ x, y, strength }) => [x, y, strength])).toEqual([
      [600, 500, 5],
      [100, 100, 3],
    ]);
    expect(visits[0].radius).toBeGreaterThanOrEqual(24);
  });

  it('are called the same whatever else is found', () => {
    const [alone] = visitsOf(patch(100, 100, 3), size);
    expect(visitsOf([...patch(600, 500, 5), ...patch(100, 100, 3)], size)[1].id).toBe(alone.id);
  });
});
