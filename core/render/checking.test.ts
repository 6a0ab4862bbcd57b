import { beforeAll, describe, expect, it } from 'vitest';
import { findingsOf } from '../../tests/checkScene.ts';
import { openStudio, type Planted, planted, type Studio, wellBlended } from '../../tests/plantedFaults.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { nodeOf, paint, setUp } from '../../tests/renderScene.ts';
import { planeOfNode } from '../../tests/smallScene.ts';
import { CHECKS, type CheckName } from '../checks/checkedBlock.ts';
import { jobsOf } from '../checks/jobs.ts';
import { visitsOf } from '../checks/visits.ts';
import { keyText } from '../raster/tileKey.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { addSpots } from '../scene/edits/retouching.ts';
import type { Scene } from '../scene/scene.ts';
import { readCoverage, readRegion } from './nodes/readRegion.ts';
import { blendLook } from './plan/blendLook.ts';
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
    const { found } = findingsOf(fault.scene, studio.made.context, { what: 'effect', at: item.id });
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

describe('what checks look at', () => {
  const { made } = setUp();
  const look = (scene: Scene) => {
    const plan = compilePlan(scene);
    const found = plan && blendLook(scene, plan);
    if (!found) throw new Error('nothing is blended');
    return found;
  };

  it('makes the blend: of random stacks without groups, what is laid one by one is what is drawn', () => {
    const region = { x: 0, y: 0, width: 120, height: 100 };
    for (let seed = 0; seed < 24; seed++) {
      const random = randomStack(made.scene, `look ${seed}`);
      const stack = random.stack.filter((item) => item.item !== 'group');
      const scene = { ...random, stack };
      const { bottom, items, inLight } = look(scene);
      if (inLight) continue;
      const mixed = readRegion(bottom, 0, region, made.context);
      for (const { content, share } of items) {
        const [over, by] = [readRegion(content, 0, region, made.context), readCoverage(share, 0, region, made.context)];
        for (const [channel, plane] of mixed.entries())
          for (let i = 0; i < plane.length; i++) plane[i] += by[i] * (over[channel][i] - plane[i]);
      }
      const blend = readRegion(nodeOf(scene, { what: 'blend' }), 0, region, made.context);
      let differing = 0;
      for (const [channel, plane] of mixed.entries())
        for (let i = 0; i < plane.length; i++)
          if (Math.abs(Math.min(65535, Math.max(0, plane[i])) - Math.min(65535, Math.max(0, blend[channel][i]))) > 8)
            differing++;
      expect(differing, `seed ${seed}`).toBe(0);
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
