import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../tests/smallScene.ts';
import { ADJUSTMENTS } from '../../develop/list.ts';
import { checkScene } from '../checkScene.ts';
import { newScene, Scene } from '../scene.ts';
import { developEach, developFrames } from './developing.ts';
import { addFrames } from './frames.ts';
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
