import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../tests/smallScene.ts';
import { FrameId } from '../ids.ts';
import { addFrames, renameScene, returnTo } from './edits/frames.ts';
import { applyEdit } from './edits/index.ts';
import { setItem } from './edits/items.ts';
import { layerIdOf } from './edits/layersOfFrames.ts';
import { setTone } from './edits/older.ts';
import { brightnessEv, relativeEvs } from './frame.ts';
import {
  cancelDrag,
  closeDrag,
  dispatch,
  forgetNamed,
  goTo,
  HISTORY_STEPS,
  nameStep,
  newHistory,
  placeOfNamed,
  present,
  redo,
  replay,
  restoreHistory,
  storeSteps,
  undo,
} from './history.ts';
import { openScene } from './readScene.ts';
import { newScene, type Scene } from './scene.ts';
import { SceneError } from './sceneError.ts';

const start = applyEdit(
  newScene('Start'),
  addFrames({ frames: [0, 1].map((i) => madeFrame(i, { width: 10, height: 10 })) }),
);
const layerId = layerIdOf(FrameId.parse('frame-1'));
const opacity = (value: number) => setItem({ id: layerId, change: { opacity: value } });
const opacityOf = (scene: Scene) => scene.stack[0].opacity;

describe('history', () => {
  it('keeps a named step beyond those that can be undone, in storage as well', () => {
    let history = dispatch(newHistory(start), opacity(0.9));
    history = nameStep(history, 1, 'first try', 5);
    const kept = present(history);
    expect(placeOfNamed(history, history.named[0])).toBe(1);
    const stored = restoreHistory(present(history), storeSteps(history));
    expect(placeOfNamed(stored, stored.named[0])).toBe(1);
    for (let step = 0; step < HISTORY_STEPS + 5; step++) history = dispatch(history, opacity(step / 1000));
    expect(history.steps).toHaveLength(HISTORY_STEPS);
    expect(placeOfNamed(history, history.named[0])).toBeUndefined();
    history = restoreHistory(present(history), structuredClone(storeSteps(history)));
    const back = dispatch(history, returnTo({ scene: history.named[0].scene }));
    expect(present(back)).toEqual(kept);
    expect(present(undo(back))).toEqual(present(history));
    expect(nameStep(back, back.done, 'first try', 6).named).toHaveLength(1);
    expect(forgetNamed(back, 'first try').named).toEqual([]);
  });

  it('makes one step of a drag, and another of the next', () => {
    let history = newHistory(start);
    for (const value of [0.9, 0.8, 0.7]) history = dispatch(history, opacity(value), 'd');
    history = closeDrag(history);
    for (const value of [0.6, 0.5]) history = dispatch(history, opacity(value), 'd');
    expect(history.steps).toHaveLength(2);
    expect(opacityOf(present(undo(history)))).toBe(0.7);
    expect(present(undo(undo(history)))).toBe(start);
  });

  it('gives up a drag as if it had never been', () => {
    let history = dispatch(newHistory(start), opacity(0.9));
    const before = present(history);
    history = dispatch(dispatch(history, opacity(0.4), 'd'), opacity(0.3), 'd');
    history = cancelDrag(history);
    expect(present(history)).toBe(before);
    expect(history.steps).toHaveLength(1);
  });

  it('goes to any step, there and back, and makes another way from there', () => {
    const all = [0.9, 0.7, 0.5, 0.3].reduce((history, value) => dispatch(history, opacity(value)), newHistory(start));
    const there = goTo(all, 2);
    expect([opacityOf(present(there)), there.steps.length]).toEqual([0.7, 4]);
    expect(present(goTo(there, 4))).toBe(present(all));
    expect(present(goTo(there, 0))).toBe(start);
    expect(goTo(all, 99)).toBe(all);
    const other = dispatch(there, opacity(0.1));
    expect([opacityOf(present(other)), other.steps.length]).toEqual([0.1, 3]);
    expect(present(goTo(other, 2))).toBe(present(there));
  });

  it('keeps when steps were made', () => {
    const history = dispatch(newHistory(start), { ...opacity(0.5), at: 1234 });
    expect(restoreHistory(present(history), storeSteps(history)).steps[0].edit.at).toBe(1234);
  });

  it('replays a drag to the same scene, even where its values crossed', () => {
    let history = newHistory(start);
    for (const from of [0.2, 0.6, 0.9]) history = dispatch(history, setTone({ layerId, tone: { from, to: 0.5 } }), 'd');
    expect(replay(storeSteps(history))).toEqual(present(history));
  });

  it('keeps the stored scene, whatever its edits would make of it by now', () => {
    const history = undo(dispatch(dispatch(newHistory(start), opacity(0.5)), opacity(0.2)));
    const truth = { ...present(history), name: 'As it was stored' };
    const restored = restoreHistory(truth, storeSteps(history));
    expect(present(restored)).toBe(truth);
    expect(present(undo(restored))).toEqual(start);
    expect(present(undo(redo(restored)))).toBe(truth);
    // What is done again goes on from the scene as it was stored.
    expect(present(redo(restored))).toMatchObject({ name: 'As it was stored', stack: [{ opacity: 0.2 }] });
  });

  it('keeps the stored scene when its past cannot be read any more', () => {
    const history = dispatch(newHistory(start), opacity(0.5));
    const steps = [{ kind: 'no.such.edit', params: {} }, ...storeSteps(history).steps];
    const restored = restoreHistory(present(history), { origin: start, steps, done: 2 });
    expect(present(restored)).toBe(present(history));
    expect(present(undo(restored))).toBe(present(history));
  });

  it('forgets the undone future when something else is done', () => {
    let history = dispatch(newHistory(start), renameScene({ name: 'A' }));
    history = dispatch(undo(history), renameScene({ name: 'B' }));
    expect(present(redo(history)).name).toBe('B');
    expect(history.steps).toHaveLength(1);
  });

  it(`keeps the last ${HISTORY_STEPS} steps`, () => {
    let history = newHistory(start);
    for (let i = 0; i < HISTORY_STEPS + 25; i++) history = dispatch(history, renameScene({ name: `n${i}` }));
    expect(history.steps).toHaveLength(HISTORY_STEPS);
    for (let i = 0; i < HISTORY_STEPS + 5; i++) history = undo(history);
    expect(present(history).name).toBe('n24');
  });

  it('comes back from storage at any point of undoing', () => {
    const action = fc.oneof(
      fc.constant('undo' as const),
      fc.constant('redo' as const),
      fc.double({ min: 0, max: 1, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(action, { maxLength: 30 }), (actions) => {
        let history = newHistory(start);
        for (const each of actions)
          history =
            each === 'undo' ? undo(history) : each === 'redo' ? redo(history) : dispatch(history, opacity(each));
        const restored = restoreHistory(present(history), JSON.parse(JSON.stringify(storeSteps(history))));
        expect(present(restored)).toEqual(present(history));
        expect(present(undo(restored))).toEqual(present(undo(history)));
        expect(present(redo(restored))).toEqual(present(redo(history)));
      }),
    );
  });
});

describe('reading a scene', () => {
  it('comes back from JSON unchanged', () => {
    expect(openScene(JSON.parse(JSON.stringify(start)))).toEqual({
      scene: start,
      evidence: new Map(),
      repairs: new Map(),
    });
  });

  it('refuses a newer version and says which', () => {
    expect(() => openScene({ ...start, version: 99 })).toThrow(expect.objectContaining({ code: 'newer' }));
  });

  it.each([null, 7, 'scene', [], {}, { ...start, frames: [{}] }, { ...start, extra: 1 }])('refuses %j', (data) => {
    expect(() => openScene(data)).toThrow(SceneError);
  });
});

describe('exposure', () => {
  // Exif 2.32 (CIPA DC-008), annex C: Av + Tv = Bv + Sv, so EV at ISO 100 is log2(N^2 / t); brighter is the opposite sign.
  it.each([
    [1, 1, 100, 0],
    [1 / 60, 8, 100, -Math.log2(64 * 60)],
    [4, 11, 100, Math.log2(4 / 121)],
    [1 / 4, 11, 400, Math.log2(1 / 121)],
  ])('of %f s at f/%f and ISO %i is %f stops', (time, aperture, iso, ev) => {
    expect(brightnessEv(time, aperture, iso)).toBeCloseTo(ev, 12);
  });

  it('is told against the middle frame, and left open where it is not known', () => {
    const frames = [0, 2, 4].map((i) => madeFrame(i, { width: 1, height: 1 }));
    expect(relativeEvs(frames)).toEqual([-2, 0, 2]);
    const unknown = { ...frames[0], shot: { ...frames[0].shot, ev: null } };
    expect(relativeEvs([unknown, frames[1], frames[2]])).toEqual([null, 0, 2]);
  });
});
