import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomScene } from '../../tests/randomScene.ts';
import { madeFrame } from '../../tests/smallScene.ts';
import { StrokeId } from '../ids.ts';
import { plainStroke } from '../masks/stroke.ts';
import { addFrames } from './edits/frames.ts';
import { applyEdit } from './edits/index.ts';
import { setItem } from './edits/items.ts';
import { addStroke } from './edits/painting.ts';
import { applyPatch, patchOf } from './patch.ts';
import { newScene, type Scene } from './scene.ts';
import { stripUnrendered } from './stripUnrendered.ts';

const frames = [0, 1, 2].map((i) => madeFrame(i, { width: 30, height: 20 }));
const made = randomScene(applyEdit(newScene('Patched'), addFrames({ frames })), 'patch', { layers: 6, parts: 5 });
const copy = <T>(value: T): T => structuredClone(value);

describe('a patch', () => {
  it('changes one value into the other, whatever they are', () => {
    // A scene has no such name: files with one are refused.
    const value = fc.jsonValue().filter((each) => !JSON.stringify(each).includes('__proto__'));
    fc.assert(
      fc.property(value, value, (before, after) => {
        expect(applyPatch(before, copy(patchOf(before, after)))).toEqual(after);
      }),
    );
  });

  it('is nothing for the same value, and small for a small change', () => {
    expect(patchOf(made, made)).toBeUndefined();
    const stroke = { ...plainStroke(StrokeId.parse('one-more')), size: 30 };
    const after = [
      setItem({ id: made.stack[2].id, change: { opacity: 0.123 } }),
      addStroke({ owner: made.stack[1].id, stroke }),
    ].reduce(applyEdit, made);
    const patch = patchOf(made, after);
    expect(JSON.stringify(patch).length).toBeLessThan(JSON.stringify(made).length / 10);
    const other = copy(made);
    const changed = applyPatch(other, copy(patch)) as Scene;
    expect(changed).toEqual(after);
    // What did not change is shared with the value before, so that it can be told by identity.
    expect(changed.stack[0]).toBe(other.stack[0]);
    expect(changed.frames).toBe(other.frames);
  });

  it('of another value is refused', () => {
    expect(() => applyPatch({}, { items: [], length: 1 })).toThrow(RangeError);
    expect(() => applyPatch([], { entries: [], dropped: [] })).toThrow(RangeError);
  });
});

describe('what of a scene decides its pixels', () => {
  it('is the same when only names and shot data change', () => {
    const [frame, ...rest] = made.frames;
    const shot = { ...frame.shot, takenAt: '2026-01-01T10:00:00', iso: 400 };
    const other = {
      ...made,
      name: 'Another',
      frames: [{ ...frame, shot, label: 'Dark', exif: { Make: 'X' } }, ...rest],
    };
    expect(stripUnrendered(other)).toEqual(stripUnrendered(made));
    expect(patchOf(stripUnrendered(made), stripUnrendered({ ...made, name: 'Third' }))).toBeUndefined();
  });
});
