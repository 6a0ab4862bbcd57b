import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../tests/smallScene.ts';
import { ADJUSTMENTS, faultOf, stepsOf } from '../../develop/list.ts';
import { checkScene } from '../checkScene.ts';
import { newScene, Scene } from '../scene.ts';
import { developEach, developFrames, setApart } from './developing.ts';
import { addFrames } from './frames.ts';
import { readAlike } from './gather.ts';
import { applyEdit } from './index.ts';

const frames = [0, 1, 2].map((index) => madeFrame(index, { width: 10, height: 10 }));
const [a, b, c] = frames.map(({ id }) => id);
const scene = applyEdit(newScene('Develop'), addFrames({ frames }));
const developsOf = ({ frames }: Scene) => frames.map(({ develop }) => develop);

describe('developing frames', () => {
  it('gives each its settings, in the order of adjustments, and takes them away again', () => {
    const grey = { ...ADJUSTMENTS.grey.rest, strength: 1 };
    const first = applyEdit(scene, developFrames({ frameIds: [a, c], change: { grey } }));
    const both = applyEdit(first, developFrames({ frameIds: [a], change: { exposure: { stops: -1.5 } } }));
    expect(developsOf(both)).toEqual([{ exposure: { stops: -1.5 }, grey }, {}, { grey }]);
    expect(Object.keys(both.frames[0].develop)).toEqual(['exposure', 'grey']);
    expect(both.frames[1]).toBe(scene.frames[1]);
    const without = applyEdit(
      both,
      developFrames({ frameIds: [a, b, c], change: { grey: null, exposure: { stops: 0 } } }),
    );
    expect(developsOf(without)).toEqual([{}, {}, {}]);
  });

  it('changes nothing where nothing changes', () => {
    const change = { exposure: { stops: 1 } };
    const once = applyEdit(scene, developFrames({ frameIds: [b], change }));
    expect(applyEdit(once, developFrames({ frameIds: [b], change }))).toBe(once);
    expect(applyEdit(scene, developFrames({ frameIds: [b], change: { exposure: { stops: 0 } } }))).toBe(scene);
  });

  it('is one step while one setting is dragged', () => {
    const of = (stops: number, frameIds = [a]) => ({ frameIds, change: { exposure: { stops } } });
    expect(developFrames.mergeKeyOf(of(1))).toBe(developFrames.mergeKeyOf(of(1.1)));
    expect(developFrames.mergeKeyOf(of(1))).not.toBe(developFrames.mergeKeyOf(of(1, [b])));
    expect(developFrames.mergeKeyOf(of(1))).not.toBe(developFrames.mergeKeyOf({ ...of(1), change: { grey: null } }));
  });

  it('gives several frames each its own, in one step', () => {
    const changes = [
      { frameId: a, change: { exposure: { stops: 1 } } },
      { frameId: c, change: { exposure: { stops: -2 }, whiteBalance: null } },
    ];
    const each = applyEdit(scene, developEach({ changes }));
    expect(developsOf(each)).toEqual([{ exposure: { stops: 1 } }, {}, { exposure: { stops: -2 } }]);
    expect(applyEdit(each, developEach({ changes }))).toBe(each);
    expect(applyEdit(scene, developEach({ changes: [] }))).toBe(scene);
    const wrong = developEach({ changes: [{ frameId: a, change: { exposure: { stops: 99 } } }] });
    expect(() => applyEdit(scene, wrong)).toThrow();
  });

  it('sets a frame apart and back: its lens, fringes and noise are its own, then as all others are, but for what was measured', () => {
    const lens = { ...ADJUSTMENTS.lens.rest, k1: -0.03 };
    const noise = (brightness: number, measured: number) => ({
      ...{ brightness, colour: 0, measured: { brightness: measured, colour: measured } },
    });
    const alike = applyEdit(scene, developFrames({ frameIds: [a, b, c], change: { lens, noise: noise(0.5, 0.01) } }));
    const apart = applyEdit(alike, setApart({ frameId: c, apart: true }));
    expect(apart.frames.map((frame) => frame.apart)).toEqual([false, false, true]);
    expect(developsOf(apart)).toEqual(developsOf(alike));
    const own = { lens: { ...lens, k1: 0.02 }, noise: noise(0.9, 0.04), exposure: { stops: 1 } };
    const changed = applyEdit(apart, developFrames({ frameIds: [c], change: own }));
    const back = applyEdit(changed, setApart({ frameId: c, apart: false }));
    expect(back.frames[2].develop).toEqual({ lens, noise: noise(0.5, 0.04), exposure: { stops: 1 } });
    expect(applyEdit(back, setApart({ frameId: c, apart: false }))).toBe(back);
  });

  it('gives frames that are added what is alike on all, and light that is their own', () => {
    const lens = { ...ADJUSTMENTS.lens.rest, k1: -0.03 };
    const change = { lens, exposure: { stops: 1 } };
    const developed = applyEdit(scene, developFrames({ frameIds: [a, b, c], change }));
    const more = applyEdit(developed, addFrames({ frames: [madeFrame(7, { width: 10, height: 10 })] }));
    expect(more.frames.at(-1)?.develop).toEqual({ lens });
  });

  it('reads files another way together: those of its kind that are not set apart', () => {
    const kinds = [
      { ...frames[0], format: 'dng' },
      { ...frames[1], format: 'dng', apart: true },
      { ...frames[2], format: 'jpeg' },
      { ...madeFrame(3, { width: 10, height: 10 }), format: 'jpeg', profile: 'Own' },
      { ...madeFrame(4, { width: 10, height: 10 }), format: 'jpeg' },
    ];
    const mixed = { ...scene, frames: kinds };
    const idsOf = (...at: number[]) => at.map((i) => kinds[i].id);
    expect(readAlike(mixed, kinds[0], { demosaic: 'fast' })).toEqual(idsOf(0));
    expect(readAlike(mixed, kinds[1], { demosaic: 'fast' })).toEqual(idsOf(1));
    expect(readAlike(mixed, kinds[2], { untagged: 'prophoto' })).toEqual(idsOf(2, 4));
  });

  it('reads a contrast stored without what it acts on as one of all tones', () => {
    const develop = { contrast: { slope: 1.2, middle: -2.5 } };
    const stored = JSON.parse(JSON.stringify({ ...scene, frames: [{ ...scene.frames[0], develop }] }));
    const read = Scene.parse(stored);
    expect(faultOf(read.frames[0].develop)).toBeUndefined();
    expect(stepsOf(read.frames[0].develop, 'srgb').map(({ step }) => step)).toEqual(['gain']);
  });

  it('refuses settings that cannot be', () => {
    const change = { exposure: { stops: 80 } };
    expect(() => applyEdit(scene, developFrames({ frameIds: [a], change }))).toThrow('exposure');
  });

  it('is stored and read again; what is not known, or cannot be, is refused by name', () => {
    const made = applyEdit(scene, developFrames({ frameIds: [a], change: { exposure: { stops: 2 } } }));
    expect(Scene.parse(JSON.parse(JSON.stringify(made)))).toEqual(made);
    const withSettings = (develop: Scene['frames'][number]['develop']) => ({
      ...scene,
      frames: scene.frames.map((frame, i) => (i === 0 ? { ...frame, develop } : frame)),
    });
    expect(() => checkScene(withSettings({ sparkle: {} }))).toThrow('sparkle');
    expect(() => checkScene(withSettings({ exposure: { stops: 80 } }))).toThrow('exposure');
  });
});
