import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomScene } from '../../tests/randomScene.ts';
import { madeFrame } from '../../tests/smallScene.ts';
import { FrameId, GroupId, LayerId, RecipeId, StencilId, StrokeId } from '../ids.ts';
import { plainStroke } from '../masks/stroke.ts';
import type { Part } from '../parts/list.ts';
import { plainPart } from '../parts/partBase.ts';
import { newTonePart } from '../parts/tone.ts';
import { brushesOf, soundPoints, soundStrokes } from './checkPoints.ts';
import { addFrames } from './edits/frames.ts';
import { applyEdit } from './edits/index.ts';
import { layerIdOf } from './edits/layersOfFrames.ts';
import { addStroke } from './edits/painting.ts';
import type { Placement } from './frame.ts';
import { frameOfLayer, type Item, type Layer, newLayer, type PlacedPicture } from './item.ts';
import { maskOfParts, openMask } from './mask.ts';
import { MOST_DEPTH, MOST_STEPS, maskLoad } from './maskLoad.ts';
import { canBeSeen } from './placedPicture.ts';
import { openScene } from './readScene.ts';
import type { RepairCode } from './repairs.ts';
import { newScene, type Scene } from './scene.ts';
import { SceneError } from './sceneError.ts';
import { layersOf } from './tree.ts';

const size = { width: 300, height: 200 };
const start = applyEdit(newScene('Attacked'), addFrames({ frames: [0, 1, 2].map((i) => madeFrame(i, size)) }));
const layer = layerIdOf(start.frames[0].id);
/** As it comes from a file. */
const open = (scene: unknown) => openScene(JSON.parse(JSON.stringify(scene)));
const repairsOf = (scene: unknown) => Object.fromEntries(open(scene).repairs);
const withParts = (...parts: Part[]): Scene => ({
  ...start,
  stack: start.stack.map((each) => (each.id === layer ? { ...each, mask: maskOfParts(parts) } : each)),
});
const placement = (matrix: number[]): Placement => ({
  matrix,
  model: 'hand',
  verdict: null,
  reason: null,
  residualPx: null,
  agreement: null,
  stops: null,
});
const placed = (matrix: number[]): Scene => ({
  ...start,
  frames: start.frames.map((frame, i) => (i === 0 ? { ...frame, placement: placement(matrix) } : frame)),
});
/** An item within so many groups. */
function inGroups(item: Item, groups: number): Item {
  if (groups === 0) return item;
  const around = { isolated: false, adjustments: [], guard: null, mode: 'normal', visible: true, label: '' } as const;
  const id = GroupId.parse(`${item.id} in ${groups}`);
  return {
    item: 'group',
    ...around,
    adjustments: [],
    id,
    items: [inGroups(item, groups - 1)],
    mask: openMask(),
    opacity: 1,
  };
}
const to = (target: object, id = 'reference') =>
  ({ kind: 'reference', ...plainPart('reference', id), to: target }) as Part;

describe('a sound scene', () => {
  it('is left as it is', () => {
    for (const seed of ['x', 'y', 'z']) {
      const scene = randomScene(start, seed, { layers: 6, parts: 4 });
      expect(open(scene)).toMatchObject({ scene, repairs: new Map() });
    }
    const shifted = placed([1, 0.01, 30, -0.01, 1, -20, 1e-6, 0, 1]);
    expect(open(shifted)).toMatchObject({ scene: shifted, repairs: new Map() });
  });
});

describe('a scene that fits the schema but not the program', () => {
  it('loses layers of frames that it does not have', () => {
    const stack = [...start.stack, newLayer(LayerId.parse('stray'), 'nowhere' as never)];
    const { scene, repairs } = open({ ...start, stack });
    expect(scene.stack).toEqual(start.stack);
    expect([...repairs]).toEqual([['layer-without-frame', 1]]);
  });

  it('gets a base that it has, and a crop that fits', () => {
    const { scene, repairs } = open({
      ...start,
      base: 'nowhere',
      geometry: { ...start.geometry, crop: { x: 290, y: 0, width: 20, height: 20 } },
    });
    expect([scene.base, scene.geometry.crop]).toEqual([start.frames[0].id, null]);
    expect(new Set(repairs.keys())).toEqual(new Set(['base-missing', 'crop']));
  });

  it.each([
    ['no inverse', [1, 1, 0, 1, 1, 0, 0, 0, 1]],
    ['nothing at all', [0, 0, 0, 0, 0, 0, 0, 0, 0]],
    ['entries of 1e15', [1e15, 0, 0, 0, 1e15, 0, 0, 0, 1]],
    ['corners behind the eye', [1, 0, 0, 0, 1, 0, -1, 0, 1]],
    ['a shift out of sight', [1, 0, 90_000, 0, 1, 0, 0, 0, 1]],
  ])('takes back a placement of %s', (_, matrix) => {
    const { scene, repairs } = open(placed(matrix));
    expect(scene.frames[0].placement).toBeNull();
    expect([...repairs]).toEqual([['placement', 1]]);
  });

  it('is refused when two things have one id, or its frames two sizes', () => {
    const [first, second] = start.frames;
    for (const scene of [
      { ...start, frames: [first, first] },
      { ...start, frames: [first, { ...second, width: 301 }] },
      { ...start, stack: [start.stack[0], start.stack[0]] },
      withParts(newTonePart('base', 'a'), newTonePart('base', 'a')),
    ])
      expect(() => open(scene)).toThrow(expect.objectContaining({ code: 'invalid' }));
    const huge = { ...start, frames: [{ ...first, width: 1e6, height: 1e6 }], stack: [], base: first.id };
    expect(() => open(huge)).toThrow(expect.objectContaining({ code: 'too-large' }));
  });

  it('may have rings of every kind: they cover nothing where they lead back', () => {
    const frozen = (id: string) => to({ frozen: id, of: '' }, `to-${id}`);
    const fill = { id: 'f', target: 1, strength: 1, stencil: 'b', fill: true as const, outline: null, feather: 0 };
    const recipes = {
      a: { of: null, seenFrom: null, mask: maskOfParts([frozen('b')]) },
      b: { of: null, seenFrom: null, mask: maskOfParts([frozen('a'), to({ item: layer })]) },
    };
    const parts = [
      frozen('a'),
      to({ item: start.stack[1].id }),
      { kind: 'painted', ...plainPart('painted'), strokes: [fill] },
    ] as unknown as Part[];
    expect([...open({ ...withParts(...parts), recipes }).repairs]).toEqual([]);
  });

  it('is refused with chains of 1,000 references, at once', () => {
    const stack = Array.from({ length: 1000 }, (_, i) => ({
      ...start.stack[0],
      id: LayerId.parse(`l${i}`),
      mask: maskOfParts([i === 0 ? newTonePart('base') : to({ item: `l${i - 1}` })]),
    }));
    expect(() => open({ ...start, stack })).toThrow(expect.objectContaining({ code: 'too-deep' }));
    const recipes = Object.fromEntries(
      Array.from({ length: 1000 }, (_, i) => [
        `r${i}`,
        { of: null, seenFrom: null, mask: maskOfParts([to({ frozen: `r${i + 1}`, of: '' })]) },
      ]),
    );
    const compose = { ...withParts(to({ frozen: 'r0', of: '' })), recipes };
    expect(() => open(compose)).toThrow(expect.objectContaining({ code: 'too-deep' }));
  });

  it('is not opened with a picture that waits for more pictures below it than can be computed', () => {
    const below = (count: number) => ({
      ...start,
      stack: Array.from({ length: count }, (_, i) => newLayer(LayerId.parse(`so-far-${i}`), { below: true })),
    });
    expect(open(below(100)).scene.stack).toHaveLength(100);
    expect(() => open(below(200))).toThrow(expect.objectContaining({ code: 'too-deep' }));
  });

  it('places a picture of its own anew whose corners cannot be seen', () => {
    const { file, reading } = start.frames[0];
    const at = (x: number, y: number) => ({ x, y });
    const crossed = [at(0, 0), at(10, 10), at(10, 0), at(0, 10)] as PlacedPicture['corners'];
    const picture = { file, reading, width: 30, height: 20, corners: crossed };
    const { scene, repairs } = open({ ...start, stack: [newLayer(LayerId.parse('sky'), { picture })] });
    expect(repairs.get('placement')).toBe(1);
    const [layer] = scene.stack as Layer[];
    expect('picture' in layer.content && canBeSeen(layer.content.picture.corners)).toBe(true);
    const huge = { ...picture, width: 30_000, height: 30_000 };
    expect(() => open({ ...start, stack: [newLayer(LayerId.parse('sky'), { picture: huge })] })).toThrow(/too-large/);
  });

  it('is opened with references that double at 40 levels: each counts once', () => {
    const stencils = Array.from({ length: 40 }, (_, i) => ({
      id: StencilId.parse(`s${i}`),
      name: '',
      mask: maskOfParts(i === 0 ? [newTonePart('base')] : ['a', 'b'].map((id) => to({ stencil: `s${i - 1}` }, id))),
    }));
    const { scene } = open({ ...withParts(to({ stencil: 's39' })), stencils });
    expect(maskLoad(scene).steps).toBeLessThan(200);
  });

  it('loses recipes under names that mean something else', () => {
    const recipe = { of: null, seenFrom: null, mask: maskOfParts([newTonePart('base')]) };
    const text = JSON.stringify({ ...start, recipes: { fine: recipe } }).replace(
      '"fine":',
      `"__proto__":${JSON.stringify(recipe)},"constructor":${JSON.stringify(recipe)},"fine":`,
    );
    const { scene } = openScene(JSON.parse(text));
    expect(Object.keys(scene.recipes)).toEqual(['fine']);
    expect(Object.getPrototypeOf(scene.recipes)).toBe(Object.prototype);
  });

  it('has shapes brought near that lie where no picture can be', () => {
    const parts: Part[] = [
      {
        kind: 'gradient',
        ...plainPart('gradient'),
        start: { x: -1e300, y: 0 },
        end: { x: 10, y: 1e12 },
        profile: 'linear',
        middle: 0.5,
      },
      { kind: 'outline', ...plainPart('outline'), corners: [0, 0, 1e15, 0, 5, 5], feather: 0 },
    ];
    expect(repairsOf(withParts(...parts))).toEqual({ shape: 3 });
  });

  it('is refused when there is more of it than can be computed', () => {
    const parts = Array.from({ length: 80 }, (_, i) => newTonePart('result', `t${i}`));
    const stack = Array.from({ length: 60 }, (_, i) => ({
      ...start.stack[0],
      id: LayerId.parse(`l${i}`),
      mask: maskOfParts(parts),
    }));
    expect(() => open({ ...start, stack })).toThrow(expect.objectContaining({ code: 'too-much' }));
  });
});

describe('points of a stroke', () => {
  const brush = plainStroke(StrokeId.parse('s'));
  const sound = (numbers: number[], change = {}) =>
    soundPoints(Float32Array.from(numbers), [{ ...brush, ...change }], size);

  it('that are sound are the same', () => {
    const points = Float32Array.of(10, 20, 0.5, 0, -50, 250, 1, 16);
    expect(soundPoints(points, [brush], size).points).toBe(points);
  });

  it('at infinity or no number are left out, far ones brought near, pressures kept within 0 and 1', () => {
    const { points, repair } = sound([NaN, 1, 1, 0, 10, Infinity, 1, 0, 1e9, -1e9, 7, 5, 20, 30, -2, NaN]);
    expect(repair).toBe('stroke-points');
    expect([...points]).toEqual([1200, -600, 1, 5, 20, 30, 0, 0]);
  });

  it('are whole points', () => {
    expect([...sound([1, 2, 1, 0, 5, 6]).points]).toEqual([1, 2, 1, 0]);
  });

  it('that zigzag 200,000 times with a small brush are cut short', () => {
    const zigzag = Array.from({ length: 200_000 }, (_, i) => [i % 2 ? 300 : 0, i % 200, 1, i]).flat();
    const { points, repair } = sound(zigzag, { size: 1 });
    expect(repair).toBe('stroke-cut');
    expect(points.length / 4).toBeLessThan(2000);
    expect(sound(zigzag, { size: 4000 }).repair).toBeUndefined();
  });

  it('of all strokes of a scene, by the smallest brush that has them', () => {
    const strokes = ['a', 'b'].map((id) => ({ ...brush, id: StrokeId.parse(id) }));
    const scene = strokes.reduce((each, stroke) => applyEdit(each, addStroke({ owner: layer, stroke })), start);
    const told: RepairCode[] = [];
    const all = soundStrokes(
      scene,
      (id) => (id === 'a' ? Float32Array.of(1, NaN, 1, 0) : undefined),
      (code) => told.push(code),
    );
    expect([...all].map(([id, points]) => [id, points.length])).toEqual([['a', 0]]);
    expect(told).toEqual(['stroke-points', 'stroke-missing']);
    expect([...brushesOf(scene).keys()]).toEqual(['a', 'b']);
    // Strokes that were undone are mended too, and not missed when they are gone.
    told.length = 0;
    const undone = soundStrokes(
      start,
      (id) => (id === 'a' ? Float32Array.of(NaN, 1, 1, 0) : undefined),
      (code) => told.push(code),
      [scene],
    );
    expect([[...undone.keys()], told]).toEqual([['a'], ['stroke-points']]);
  });

  it('whatever they are, come out finite, near and few', () => {
    fc.assert(
      fc.property(fc.array(fc.float(), { maxLength: 80 }), (numbers) => {
        const { points } = sound(numbers, { size: 2 });
        expect(points.length % 4).toBe(0);
        for (let at = 0; at < points.length; at += 4) {
          expect(Math.abs(points[at]) <= 1200 && Math.abs(points[at + 1]) <= 800).toBe(true);
          expect(points[at + 2] >= 0 && points[at + 2] <= 1 && Number.isFinite(points[at + 3])).toBe(true);
        }
      }),
    );
  });
});

describe('documents by chance', () => {
  const sources = ['base', 'layer', 'below', 'result', 'frame:frame-1', 'frame:nowhere'] as const;
  const layerIds = start.stack.map(({ id }) => id as string);
  const coordinate = fc.oneof(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.integer({ min: -400, max: 700 }));
  const point = fc.record({ x: coordinate, y: coordinate });
  const recipeId = fc.constantFrom('r0', 'r1', 'r2', '__proto__', 'toString');
  const target = fc.oneof(
    fc.record({ item: fc.constantFrom(...layerIds, 'nowhere') }),
    fc.record({ stencil: fc.constantFrom('s0', 's1', 'nowhere') }),
    fc.record({ frozen: recipeId, of: fc.constant('') }),
  );
  const part = fc
    .oneof(
      fc.record({ kind: fc.constant('tone'), source: fc.constantFrom(...sources) }),
      fc.record({ kind: fc.constant('reference'), to: target }),
      fc.record({
        kind: fc.constant('gradient'),
        start: point,
        end: point,
        profile: fc.constant('linear'),
        middle: fc.constant(0.5),
      }),
      fc.record({
        kind: fc.constant('outline'),
        corners: fc.array(coordinate, { maxLength: 9 }),
        feather: fc.constant(3),
      }),
      fc.record({
        kind: fc.constant('painted'),
        strokes: fc.array(
          fc.record({
            id: fc.constantFrom('f', 'g'),
            target: fc.constant(1),
            strength: fc.constant(0.5),
            stencil: fc.option(recipeId),
            fill: fc.constant(true),
            outline: fc.option(fc.array(coordinate, { maxLength: 8 })),
            feather: fc.constant(0),
          }),
          { maxLength: 2 },
        ),
      }),
    )
    .map((given) => ({
      ...(given.kind === 'tone' ? newTonePart('base') : plainPart(given.kind as Part['kind'])),
      ...given,
    }));
  const mask = fc
    .array(part, { maxLength: 4 })
    .map((parts) => maskOfParts(parts.map((each, i) => ({ ...each, id: `p${i}` })) as never));
  const recipe = fc.record({
    of: fc.constant(null),
    seenFrom: fc.option(fc.constantFrom(...layerIds, 'nowhere')),
    mask,
  });
  const document = fc.record({
    stack: fc.array(
      fc.record({
        frame: fc.constantFrom('frame-0', 'frame-1', 'nowhere'),
        mask,
        guard: fc.option(mask),
        groups: fc.nat(2),
      }),
      { maxLength: 5 },
    ),
    stencils: fc.tuple(mask, mask),
    recipes: fc.dictionary(recipeId, recipe),
    base: fc.constantFrom('frame-1', 'frame-2', 'nowhere'),
    matrix: fc.array(fc.double({ noNaN: true, noDefaultInfinity: true }), { minLength: 9, maxLength: 9 }),
  });

  it('are refused by name, or come out as scenes that can be compiled, and stay as they are when they are opened again', () => {
    let sound = 0;
    fc.assert(
      fc.property(document, ({ stack, stencils, recipes, base, matrix }) => {
        const given = {
          ...placed(matrix),
          base,
          recipes,
          stencils: stencils.map((each, i) => ({ id: `s${i}`, name: '', mask: each })),
          stack: stack.map(({ frame, groups, ...masks }, i) => {
            const id = LayerId.parse(layerIds[i] ?? `more-${i}`);
            return inGroups({ ...newLayer(id, FrameId.parse(frame)), ...masks }, groups);
          }),
        };
        let opened: Scene;
        try {
          opened = open(given).scene;
        } catch (error) {
          expect(error).toBeInstanceOf(SceneError);
          return;
        }
        sound++;
        const { depth, steps } = maskLoad(opened);
        expect(depth <= MOST_DEPTH && steps <= MOST_STEPS).toBe(true);
        for (const layer of layersOf(opened))
          expect(opened.frames.some(({ id }) => id === frameOfLayer(layer))).toBe(true);
        expect(open(opened)).toMatchObject({ scene: opened, repairs: new Map() });
        expect(RecipeId.safeParse(Object.keys(opened.recipes)[0] ?? 'r').success).toBe(true);
      }),
      { numRuns: 400, seed: 13 },
    );
    expect(sound).toBeGreaterThan(100);
  });
});
