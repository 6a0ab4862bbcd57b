import { expect, it, vi } from 'vitest';
import { findingsOf } from '../../tests/checkScene.ts';
import { edit, paint, resultOf, setUp } from '../../tests/renderScene.ts';
import { addStroke } from '../scene/edits/painting.ts';

vi.mock('../checks/ghosts.ts', () => ({
  ghosts: () => {
    throw new Error('broken');
  },
}));

it('a check that fails is named, and harms neither the others nor the picture', () => {
  const { made, dark, whole } = setUp();
  const stroke = paint(made, [[150, 100]], { size: 60, hardness: 1 });
  const scene = edit(made.scene, addStroke({ owner: dark, stroke }));
  const before = whole(resultOf(scene));
  const { found, failed } = findingsOf(scene, made.context);
  expect(new Set(failed.map(({ check, detail }) => `${check}: ${detail}`))).toEqual(new Set(['ghosts: broken']));
  // The hard border of the disc.
  expect(found.some(({ check }) => check === 'seams')).toBe(true);
  const after = whole(resultOf(scene));
  expect(after.filter((value, i) => value !== before[i])).toHaveLength(0);
});
