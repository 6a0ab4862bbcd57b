import { describe, expect, it } from 'vitest';
import { CHECKS, type CheckName } from '#core/checks/checkedBlock.ts';
import { notMadeOf } from '#core/checks/needs.ts';
import type { Visit } from '#core/checks/visits.ts';
import { PartId } from '#core/ids.ts';
import { newTonePart } from '#core/parts/tone.ts';
import { applyEdit, together } from '#core/scene/edits/index.ts';
import { addPart, removePart, setRefinement } from '#core/scene/edits/masks.ts';
import { dispatch, newHistory, present, undo } from '#core/scene/history.ts';
import type { Scene } from '#core/scene/scene.ts';
import { edit, maskOf, setUp } from '../../../../tests/renderScene.ts';
import { remediesOf } from './remedies.ts';
import { CHECK_WORDS, sayVisit } from './visitWords.ts';

const { made, dark, whole } = setUp();
const [first, base, last] = made.frameIds;
const scene = edit(
  { ...made.scene, base },
  removePart({ owner: dark, part: PartId.parse('painted') }),
  addPart({ owner: dark, part: { ...newTonePart('base'), from: 0.4, fromShoulder: 0.3 } }),
);

const visitOf = (check: CheckName, more: Partial<Visit> = {}): Visit => ({
  ...{
    check,
    id: check,
    x: 150,
    y: 100,
    reach: 4,
    radius: 30,
    area: 0.01,
    strength: 3,
    item: dark,
    frame: first,
    other: last,
  },
  facts: {
    widthPx: 6,
    height: 0.1,
    over: -0.2,
    share: 0.09,
    kept: 0.4,
    stops: 1.2,
    tone: 0.1,
    agreement: 0.2,
    apartPx: 5,
    times: 3,
    difference: 0.05,
  },
  ...more,
});

describe('a visit', () => {
  it.each(CHECKS.map((check) => [check]))('of %s is told in a plain sentence', (check) => {
    const said = sayVisit(visitOf(check, { kind: check === 'limits' ? 'blown' : 'dark' }), scene);
    expect(said).toMatch(/^[A-Z\d−+].*\.$/);
    expect(said).not.toMatch(/undefined|NaN|gradient|Oklab|correlation/);
    expect(CHECK_WORDS[check].looksFor).toMatch(/^[a-z]/);
  });

  it('of a rim tells its width and how far it stands out', () => {
    expect(sayVisit(visitOf('rims', { kind: 'dark' }), scene)).toBe(
      'Dark rim, 6 px wide, 9 % darker than what lies beside it.',
    );
  });

  it('that needs what frames have not is said to', () => {
    expect(notMadeOf([0, null, 2])).toEqual([{ check: 'light', reason: '1 of 3 frames have no exposure data' }]);
    expect(notMadeOf([0, 1])).toEqual([]);
    expect(notMadeOf([null])).toEqual([]);
  });
});

describe('remedies', () => {
  it.each(CHECKS.map((check) => [check]))('of %s are ordinary edits that change the scene', (check) => {
    const remedies = remediesOf(visitOf(check), scene);
    expect(remedies.length).toBeGreaterThan(0);
    for (const { edits, label, why } of remedies) {
      expect(edits.reduce(applyEdit, scene), label).not.toBe(scene);
      expect(why.length).toBeGreaterThan(5);
    }
  });

  it('are one step, which undo takes back', () => {
    const [remedy] = remediesOf(visitOf('ghosts'), scene);
    const before = newHistory(scene);
    const after = dispatch(before, together({ edits: remedy.edits.map(({ kind, params }) => ({ kind, params })) }));
    expect(after.steps).toHaveLength(1);
    expect(present(after)).not.toEqual(scene);
    expect(present(undo(after))).toBe(scene);
  });

  it('bring a frame there that no layer shows yet', () => {
    const without: Scene = { ...scene, stack: scene.stack.filter(({ id }) => id === dark) };
    const [remedy] = remediesOf(visitOf('limits'), without);
    const mended = remedy.edits.reduce(applyEdit, without);
    expect(mended.stack).toHaveLength(2);
    const mask = whole(maskOf(mended, mended.stack[1].id));
    expect(mask[100 * 300 + 150]).toBeGreaterThan(65000);
    expect(mask[20 * 300 + 20]).toBe(0);
  });

  it('fit a mask to edges in its place, and leave it as it was elsewhere', () => {
    const remedy = remediesOf(visitOf('rims'), scene).find(({ name }) => name === 'fit');
    const mended = (remedy?.edits ?? []).reduce(applyEdit, scene);
    const fitted = edit(
      scene,
      setRefinement({ owner: dark, part: null, change: { edgeFit: { guide: 'base', radius: 12, contrast: 0.02 } } }),
    );
    const [now, before, wanted] = [mended, scene, fitted].map((each) => whole(maskOf(each, dark)));
    let [off, moved] = [0, 0];
    for (let y = 90; y < 110; y++)
      for (let x = 140; x < 160; x++) {
        const at = y * 300 + x;
        off = Math.max(off, Math.abs(now[at] - wanted[at]) / 65535);
        moved = Math.max(moved, Math.abs(now[at] - before[at]) / 65535);
      }
    // What is half covered becomes somewhat more so, see `fittedThere`.
    expect(off).toBeLessThan(0.26);
    expect(moved).toBeGreaterThan(0);
    for (const at of [20 * 300 + 20, 190 * 300 + 280]) expect(now[at]).toBe(before[at]);
  });
});
