import { describe, expect, it } from 'vitest';
import { addFrames, renameScene, setBase } from '#core/scene/edits/frames.ts';
import { setItem } from '#core/scene/edits/items.ts';
import { dispatch, newHistory, present, redo, undo } from '#core/scene/history.ts';
import { frameOfLayer } from '#core/scene/item.ts';
import { newScene } from '#core/scene/scene.ts';
import { madeFrame } from '../../tests/smallScene.ts';
import { openRecord, recordOf, textsIn, upToDate } from './sceneRecord.ts';

const head = { id: 'scene-1', createdAt: 1, updatedAt: 2 };
const frames = [0, 1, 2].map((i) => madeFrame(i, { width: 30, height: 20 }));
const steps = [addFrames({ frames }), renameScene({ name: 'Stored' }), setBase({ frameId: frames[0].id })];
const history = steps.reduce((each, edit) => dispatch(each, edit), newHistory(newScene('New')));
const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value));
const record = () => copy(recordOf(head, history, new Map(), { look: 'grey' }));
/** As records were before the scene itself was stored. */
const first = (change: object = {}) => ({
  ...head,
  name: 'Stored',
  frames: 3,
  history: copy({
    origin: { version: 3, name: 'New', workingSpace: 'srgb', base: null, frames: [], stack: [] },
    steps: history.steps.map(({ edit }) => edit),
    done: history.done,
    ...change,
  }),
  bench: null,
});

describe('a stored record', () => {
  it('comes back with its past and its undone future', () => {
    const opened = openRecord(copy(recordOf(head, undo(history), new Map(), null)));
    expect(present(opened.history)).toEqual(present(undo(history)));
    expect(present(redo(opened.history))).toEqual(present(history));
    expect(present(undo(opened.history))).toEqual(present(undo(undo(history))));
  });

  it('holds the scene as it was, whatever its edits would make of it by now', () => {
    // As if the base had been chosen otherwise when it was stored, and layers ordered otherwise.
    const stored = record();
    stored.scene.base = frames[1].id;
    stored.scene.stack = stored.scene.stack
      .toReversed()
      .filter((item) => item.item === 'layer' && frameOfLayer(item) !== frames[1].id);
    const opened = openRecord(stored);
    expect(present(opened.history)).toEqual(stored.scene);
    expect(present(undo(opened.history)).name).toBe('Stored');
  });

  it('of the first form is the scene that its edits led to, then and from then on', () => {
    const opened = openRecord(first());
    expect(present(opened.history)).toEqual(present(history));
    const stored = upToDate(first()) as ReturnType<typeof record>;
    expect(stored.format).toBe(2);
    expect(stored.scene).toEqual(present(history));
    expect(present(openRecord(stored).history)).toEqual(present(history));
    expect(upToDate(stored)).toBe(stored);
  });

  it('of the first form keeps what searches had found beside the scene, and goes back to it', () => {
    const placement = {
      matrix: [1, 0, 3, 0, 1, 2, 0, 0, 1],
      model: 'shift',
      verdict: 'good',
      reason: '12 of 13 places agree, by way of a frame between',
      residualPx: 0.1,
      agreement: 1,
      stops: 0,
    };
    const compared = [{ x: 3, y: 4, missPx: 0.2 }];
    const frameId = frames[0].id;
    const more = [
      { kind: 'frames.takePlacements', params: { found: [{ frameId, placement, compared }] } },
      { kind: 'frames.place', params: { frameIds: [frameId], placement: null } },
      { kind: 'frames.restoreFound', params: { frameIds: [frameId] } },
    ];
    const old = first();
    old.history.steps.push(...(more as never[]));
    old.history.done += more.length;
    // Frames of old had fields for it.
    const added = old.history.steps[0].params as { frames: object[] };
    Object.assign(added.frames[1], { found: placement, compared });
    const opened = openRecord(old);
    const reason = { code: 'places-agree', count: 12, of: 13, isChained: true };
    expect(present(opened.history).frames[0].placement).toEqual({ ...placement, reason });
    expect(opened.evidence.get(frameId)).toEqual({ found: { ...placement, reason }, compared });
    expect(JSON.stringify(present(opened.history))).not.toContain('compared');
  });

  it('of a newer form is refused as such, and a damaged one as damaged', () => {
    expect(() => openRecord({ ...record(), format: 3 })).toThrow(expect.objectContaining({ code: 'newer' }));
    expect(() => openRecord({ ...record(), scene: { ...record().scene, version: 99 } })).toThrow(
      expect.objectContaining({ code: 'newer' }),
    );
    for (const damaged of [null, 7, {}, { ...record(), scene: {} }, { ...record(), name: 5 }, first({ steps: 'no' })])
      expect(() => openRecord(damaged)).toThrow(expect.objectContaining({ code: 'invalid' }));
    expect(() => openRecord(first({ steps: [{ kind: 'no.such.edit', params: {} }], done: 1 }))).toThrow();
    expect(upToDate(first({ steps: 'no' }))).toMatchObject({ history: { steps: 'no' } });
  });

  it('loses its past rather than the scene when that is damaged', () => {
    for (const undoing of [undefined, { origin: {}, steps: [], done: 0 }, { origin: {}, steps: 'no', done: 0 }]) {
      const opened = openRecord({ ...record(), undo: undoing });
      expect(present(opened.history)).toEqual(present(history));
      expect(undo(opened.history)).toBe(opened.history);
    }
  });

  it('names every file and stroke in it, however damaged it is', () => {
    const later = dispatch(history, setItem({ id: present(history).stack[0].id, change: { opacity: 0.3 } }));
    const texts = textsIn({
      deep: [{ a: { b: ['x', frames[2].file.sha256] } }],
      record: recordOf(head, later, new Map(), null),
    });
    for (const { file } of frames) expect(texts.has(file.sha256)).toBe(true);
    expect(texts.has('x') && texts.has('deep')).toBe(true);
    expect(textsIn(null).size + textsIn(undefined).size).toBe(0);
  });
});
