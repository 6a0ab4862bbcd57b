import { describe, expect, it } from 'vitest';
import { LayerId } from '#core/ids.ts';
import type { EditRecord } from '#core/scene/edit.ts';
import { developEach, developFrames } from '#core/scene/edits/developing.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit, editKind } from '#core/scene/edits/index.ts';
import { setItem } from '#core/scene/edits/items.ts';
import { addLayer, removeItem } from '#core/scene/edits/stack.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { madeFrame } from '../tests/smallScene.ts';
import { wordsOfStep } from './stepWords.ts';

const frames = [0, 1, 2].map((index) => madeFrame(index, { width: 30, height: 20 }));
const ids = frames.map(({ id }) => id);
const scene = applyEdit(newScene('Test'), addFrames({ frames }));

function said(edit: EditRecord, before: Scene = scene): string {
  const step = { edit, label: editKind(edit).labelOf(edit.params), after: applyEdit(before, edit) };
  const { label, about } = wordsOfStep(step, before);
  return `${label} · ${about}`;
}

describe('words of steps', () => {
  it('name what was done to which frames', () => {
    const exposure = { stops: 1 };
    expect(said(developFrames({ frameIds: [ids[0]], change: { exposure } }))).toBe('Exposure · −1 EV');
    expect(said(developFrames({ frameIds: ids, change: { exposure: null } }))).toBe('Exposure · all frames');
    const white = { kelvin: 5000, tint: 0 };
    const both = ids.slice(1).map((frameId) => ({ frameId, change: { exposure, whiteBalance: white } }));
    expect(said(developEach({ changes: both }))).toBe('Exposure, White · 0 EV, +1 EV');
    const all = { exposure: null, whiteBalance: null, lens: null };
    expect(said(developFrames({ frameIds: ids.slice(1), change: all }))).toBe('Develop · 0 EV, +1 EV');
  });

  it('name the card, also one that is there no more', () => {
    const id = LayerId.parse('rust');
    const laid = applyEdit(scene, addLayer({ id, content: { colour: [1, 0, 0] }, above: null }));
    expect(said(setItem({ id, change: { opacity: 0.4 } }), laid)).toBe('Opacity · Colour');
    expect(said(removeItem({ id }), laid)).toBe('Remove from the stack · Colour');
  });
});
