import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../tests/smallScene.ts';
import { ANY_ADJUSTMENT_NAMES, adjustmentKind, FINISHING, faultOf, isAtRest } from '../../develop/list.ts';
import { ItemId, LayerId, SpotId, StencilId, StrokeId } from '../../ids.ts';
import { plainPart } from '../../parts/partBase.ts';
import { newTonePart } from '../../parts/tone.ts';
import { maskOfParts } from '../mask.ts';
import { openScene } from '../readScene.ts';
import type { RetouchSpot } from '../retouch.ts';
import { newScene, SCENE_VERSION, type Scene } from '../scene.ts';
import { readStepSet, StepSetError, stepSetOf, stepsFor, writeStepSet } from '../stepSet.ts';
import { findItem } from '../tree.ts';
import { tried } from '../trials.ts';
import { addFrames, removeFrame } from './frames.ts';
import { applyEdit } from './index.ts';
import { addPart, beginGuard } from './masks.ts';
import { addSpots } from './retouching.ts';
import { addAdjustment, addLayer, duplicateItem, setAdjustment } from './stack.ts';
import { layStencil, setStencil, setStencilOn } from './stencils.ts';
import { laySteps } from './steps.ts';
import { setGeometry, turnQuarter } from './turning.ts';

const size = { width: 300, height: 200 };
const start = applyEdit(newScene('Test'), addFrames({ frames: [0, 1, 2].map((i) => madeFrame(i, size)) }));
const id = (name: string) => ItemId.parse(name);
const BLEND = { blend: true } as const;
const all = (scene: Scene, ...records: Parameters<typeof applyEdit>[1][]) => records.reduce(applyEdit, scene);
const gradient = {
  ...{ kind: 'gradient' as const, ...plainPart('gradient'), start: { x: 0, y: 20 }, end: { x: 0, y: 180 } },
  ...{ profile: 'smooth' as const, middle: 0.5 },
};
const finished = all(
  start,
  addAdjustment({ id: id('levels'), kind: 'levels', above: BLEND }),
  addAdjustment({ id: id('light'), kind: 'exposure', above: id('levels'), settings: { stops: 0.5 }, part: gradient }),
  addAdjustment({ id: id('dodge'), kind: 'dodgeBurn', above: id('light') }),
  addAdjustment({
    id: id('lights'),
    kind: 'lights',
    above: id('dodge'),
    settings: { lights: [{ x: 30, y: 20, radius: 40, strength: 0.5, colour: [1, 0.9, 0.6] }] },
  }),
);

describe('kinds of adjustments', () => {
  it('of pictures alone begin with settings that do something, change nothing at rest, and are done to no frame', () => {
    for (const name of Object.keys(FINISHING)) {
      const kind = adjustmentKind(name);
      expect(isAtRest(name, kind?.rest)).toBe(true);
      expect(kind?.schema.safeParse(kind.rest).success).toBe(true);
      expect(faultOf({ [name]: kind?.rest }, 'picture')).toBeUndefined();
      expect(faultOf({ [name]: kind?.rest })).toContain('of a frame');
    }
    expect(faultOf({ lens: adjustmentKind('lens')?.rest }, 'picture')).toContain('of a picture');
    expect(ANY_ADJUSTMENT_NAMES.length).toBeGreaterThan(Object.keys(FINISHING).length + 10);
  });

  it('begin with one part as their mask, and with settings that are checked', () => {
    const light = findItem(finished, id('light'));
    expect(light?.mask.parts.map(({ kind }) => kind)).toEqual(['gradient', 'painted']);
    expect(() =>
      all(start, addAdjustment({ id: id('x'), kind: 'exposure', above: BLEND, settings: { stops: 90 } })),
    ).toThrow();
  });
});

describe('a stencil of a step', () => {
  const stencil = { id: StencilId.parse('tones'), name: '', mask: maskOfParts([newTonePart('below')]) };
  const held = all(finished, setStencil({ layerId: id('dodge'), stencil }));

  it('holds its brush, is let go of and laid as mask', () => {
    expect(findItem(held, id('dodge'))).toMatchObject({ stencilOn: true, stencil: { id: 'tones' } });
    expect(findItem(all(held, setStencilOn({ layerId: id('dodge'), on: false })), id('dodge'))).toMatchObject({
      stencilOn: false,
    });
    const laid = findItem(all(held, layStencil({ layerId: id('dodge') })), id('dodge'));
    expect(laid?.mask.parts.map(({ kind }) => kind)).toEqual(['tone', 'painted']);
    expect(laid).toMatchObject({ stencil: null });
    // A copy that is hidden comes without it.
    const copy = findItem(all(held, duplicateItem({ of: id('dodge'), id: id('again'), withMask: false })), id('again'));
    expect(copy).toMatchObject({ stencil: null, stencilOn: false });
  });
});

describe('a set of steps', () => {
  const painted = all(
    finished,
    beginGuard({ owner: id('light'), part: null }),
    addPart({
      owner: id('levels'),
      part: { kind: 'reference', ...plainPart('reference'), to: { item: id('light') } },
    }),
  );
  const strokes = {
    ...painted,
    finish: painted.finish.map((step) =>
      step.id === 'dodge'
        ? {
            ...step,
            mask: {
              ...step.mask,
              parts: step.mask.parts.map((part) =>
                part.kind === 'painted' ? { ...part, strokes: [{ id: StrokeId.parse('s') } as never] } : part,
              ),
            },
          }
        : step,
    ),
  };

  it('takes tones and shapes along, and leaves what was painted and what follows other masks', () => {
    const set = stepSetOf({ ...strokes, finish: strokes.finish.filter((step) => step.id !== 'dodge') }, 'evening');
    expect(set).toMatchObject({ name: 'evening', side: 300 });
    expect(set.steps[0].mask.parts.map(({ kind }) => kind)).toEqual(['painted']);
    expect(set.steps[1].mask.parts.map(({ kind }) => kind)).toEqual(['gradient', 'painted']);
    expect(readStepSet(writeStepSet(set))).toEqual(set);
  });

  it('lies on another picture under ids of its own, as large as that is', () => {
    const set = stepSetOf(finished, 'evening');
    const other = applyEdit(newScene('Other'), addFrames({ frames: [madeFrame(7, { width: 600, height: 400 })] }));
    let made = 0;
    const steps = stepsFor(set, other, () => `new-${made++}`);
    const scene = applyEdit(other, laySteps({ steps }));
    expect(scene.finish.map((step) => step.id)).toEqual(['new-0', 'new-1', 'new-2', 'new-3']);
    expect(scene.finish[1].mask.parts[0]).toMatchObject({ start: { x: 0, y: 40 }, end: { x: 0, y: 360 } });
    expect(scene.finish[3]).toMatchObject({ settings: { lights: [{ x: 60, y: 40, radius: 80 }] } });
    // Once is enough.
    expect(applyEdit(scene, laySteps({ steps }))).toBe(scene);
    expect(openScene(JSON.parse(JSON.stringify(scene))).scene).toEqual(scene);
  });

  it('refuses a file that is none, of a newer version, or of steps that are not known', () => {
    for (const [text, why] of [
      ['{', /holds no JSON/],
      ['{"lusketSteps": 2}', /newer/],
      ['{"lusketSteps": 1, "name": "a"}', /not a set/],
      ['null', /not a set/],
    ] as const)
      expect(() => readStepSet(text)).toThrow(why);
    const set = stepSetOf(finished, 'evening');
    const unknown = { ...set, steps: [{ ...set.steps[0], kind: 'sparkle' }] };
    expect(() => readStepSet(writeStepSet(unknown as never))).toThrow(StepSetError);
  });
});

describe('a scene that is finished', () => {
  it('is of the newest version, and one of version 5 is brought to it', () => {
    const five = {
      ...start,
      version: 5,
      geometry: { straighten: 0, perspective: { vertical: 0, horizontal: 0 }, crop: null },
    };
    const { scene } = openScene(JSON.parse(JSON.stringify(five)));
    expect(scene.version).toBe(SCENE_VERSION);
    expect(scene.geometry).toMatchObject({ quarters: 0, stretch: 0 });
    expect(() => openScene({ ...start, version: SCENE_VERSION + 1 })).toThrow(/newer/);
  });

  it('loses spots that cannot be covered, and says so', () => {
    const spot: RetouchSpot = {
      ...{ id: SpotId.parse('a'), path: [{ x: 20, y: 20 }], radius: 8, soft: 0.3, how: 'heal', by: { x: 30, y: 0 } },
      ...{ flip: 'none', frame: null, stops: 0, opacity: 1, visible: true },
    };
    const scene = applyEdit(start, addSpots({ spots: [spot] }));
    const wrong = {
      ...scene,
      retouch: [...scene.retouch, { ...spot, id: 'b', path: [{ x: 9000, y: 0 }] }, { ...spot, id: 'c', frame: 'gone' }],
    };
    const opened = openScene(JSON.parse(JSON.stringify(wrong)));
    expect(opened.scene.retouch.map((each) => each.id)).toEqual(['a']);
    expect([...opened.repairs]).toEqual([['spot', 2]]);
    expect(() => openScene({ ...wrong, retouch: [spot, spot] })).toThrow(/spots of one id/);
    // With a frame goes what was covered by it.
    const frame = start.frames[2].id;
    const covered = applyEdit(start, addSpots({ spots: [{ ...spot, frame }] }));
    expect(covered.retouch).toHaveLength(1);
    expect(applyEdit(covered, removeFrame({ frameId: frame })).retouch).toEqual([]);
  });

  it('is tried with a step alone over the blend, and with one in another mode', () => {
    const alone = tried(finished, id('light'), 'alone');
    expect(alone.finish.map(({ visible }) => visible)).toEqual([false, true, false, false]);
    expect(alone.stack).toEqual(finished.stack);
    expect(findItem(tried(finished, id('light'), { mode: 'multiply' }), id('light'))?.mode).toBe('multiply');
  });

  it('keeps its crop while it fits, and lets go of it when it is turned away', () => {
    const crop = { x: 10, y: 10, width: 100, height: 80 };
    const cropped = applyEdit(start, setGeometry({ change: { crop } }));
    expect(cropped.geometry.crop).toEqual(crop);
    const far = { x: 100_000, y: 0, width: 10, height: 10 };
    expect(applyEdit(cropped, setGeometry({ change: { crop: far, straighten: 3 } })).geometry.crop).toBeNull();
    expect(applyEdit(cropped, setGeometry({ change: { straighten: 0 } }))).toBe(cropped);
  });

  it('changes how a picture is turned one by one: all else stays as it is', () => {
    const tilts = { perspective: { vertical: 0.2, horizontal: -0.1 }, straighten: 4, stretch: 0.1 };
    const changes = [
      ...Object.entries(tilts).map(([name, value]) => setGeometry({ change: { [name]: value } })),
      turnQuarter({ by: 1 }),
      setGeometry({ change: { crop: { x: 60, y: 90, width: 60, height: 80 } } }),
    ];
    const turned = all(start, ...changes).geometry;
    expect(turned).toEqual({ ...tilts, quarters: 1, crop: { x: 60, y: 90, width: 60, height: 80 } });
    // In whichever order: a crop that turns with the picture aside.
    const [, , , quarter, ...rest] = changes;
    expect(all(start, quarter, ...changes.slice(0, 3).reverse(), ...rest).geometry).toEqual(turned);
  });

  it('has no adjustments of a step alone yet, and says so', () => {
    const laid = applyEdit(
      finished,
      addLayer({ id: LayerId.parse('red'), content: { colour: [1, 0, 0] }, above: id('dodge') }),
    );
    const inner = findItem(laid, id('light'));
    const wrong = {
      ...laid,
      finish: laid.finish.map((step) =>
        step.id === 'red' ? { ...step, adjustments: [{ ...inner, id: 'inner' }] } : step,
      ),
    };
    expect(() => openScene(JSON.parse(JSON.stringify(wrong)))).toThrow(/step alone/);
    expect(all(laid, setAdjustment({ id: id('dodge'), change: { stops: 1 } }))).not.toBe(laid);
  });
});
