import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../tests/smallScene.ts';
import { type FrameId, StrokeId } from '../ids.ts';
import { addFrames } from './edits/frames.ts';
import { keepFrames, renameMoment, setChoice, setMoment } from './edits/gather.ts';
import { applyEdit } from './edits/index.ts';
import { addStroke } from './edits/painting.ts';
import type { Frame } from './frame.ts';
import { frameOfLayer } from './item.ts';
import { bracketsOf, byTime, groupByTime, momentsOf, startOf } from './moments.ts';
import { newScene } from './scene.ts';
import { layersOf } from './tree.ts';

const size = { width: 30, height: 20 };
const at = (index: number, takenAt: string | null, exposureTime: number | null = 1 / 60): Frame => {
  const frame = madeFrame(index, size);
  return { ...frame, shot: { ...frame.shot, takenAt, exposureTime } };
};

describe('moments', () => {
  it('part where the camera paused', () => {
    const frames = [
      at(0, '2025-10-12T06:41:00'),
      at(1, '2025-10-12T06:41:04'),
      at(2, '2025-10-12T06:55:00'),
      at(3, '2025-10-12T06:55:02'),
    ];
    expect([...groupByTime(frames).values()]).toEqual(['06:41', '06:41', '06:55', '06:55']);
  });

  it('hold long exposures together, with the pauses that they bring along', () => {
    const frames = [
      at(0, '2025-10-12T20:00:00', 120),
      at(1, '2025-10-12T20:04:30', 120),
      at(2, '2025-10-12T20:20:00', 4),
    ];
    expect(new Set(groupByTime(frames).values()).size).toBe(2);
  });

  it('take names that are told apart, in any order, over days', () => {
    const frames = [
      at(1, '2025-10-13T06:41:05'),
      at(0, '2025-10-12T06:41:05'),
      at(2, null),
      at(3, '2025-10-12T06:41:50.25', 1),
      at(4, 'yesterday'),
    ];
    const names = groupByTime(frames);
    expect(names.get(frames[1].id)).toBe('06:41');
    expect(names.get(frames[0].id)).toBe('06:41:05');
    expect(names.get(frames[2].id)).toBe('Without a time');
    expect(startOf(frames[3])).toBeCloseTo((startOf(frames[1]) ?? 0) + 45.25, 6);
    expect(byTime(frames).map(({ id }) => id)).toEqual([1, 3, 0, 2, 4].map((index) => frames[index].id));
  });

  it('hold brackets: where an exposure comes again the next one begins', () => {
    const taken = (second: number, ev: number | null): Frame => {
      const frame = at(second, `2025-10-12T06:41:${String(second).padStart(2, '0')}`);
      return { ...frame, shot: { ...frame.shot, ev } };
    };
    const evs = [0, -2, 2, 0.05, -2, 2, null, 0, -2.33];
    const frames = evs.map((ev, second) => taken(second, ev));
    const told = bracketsOf([...frames].reverse()).map((bracket) => bracket.map(({ shot }) => shot.ev));
    expect(told).toEqual([
      [0, -2, 2],
      [0.05, -2, 2, null],
      [0, -2.33],
    ]);
    const scene = applyEdit(newScene('x'), addFrames({ frames }));
    const [first, ...rest] = bracketsOf(frames).map((bracket) => bracket.map(({ id }) => id));
    const kept = applyEdit(scene, keepFrames({ keep: first, leave: rest.flat() }));
    expect(kept.frames.filter(({ choice }) => choice === 'pick').map(({ id }) => id)).toEqual(first);
    expect(layersOf(kept).every((layer) => first.includes(frameOfLayer(layer) as FrameId))).toBe(true);
  });

  it('are given to frames as they come, and kept when the user has named them', () => {
    let scene = applyEdit(newScene('x'), addFrames({ frames: [at(0, '2025-10-12T06:41:00')] }));
    scene = applyEdit(scene, renameMoment({ from: '06:41', to: 'First light' }));
    scene = applyEdit(scene, addFrames({ frames: [at(1, '2025-10-12T06:41:10'), at(2, '2025-10-12T07:30:00')] }));
    expect(momentsOf(scene.frames).map(({ name, frames }) => [name, frames.length])).toEqual([
      ['First light', 2],
      ['07:30', 1],
    ]);
    const [first, , last] = scene.frames;
    const joined = applyEdit(scene, setMoment({ frameIds: [last.id], moment: 'First light' }));
    expect(momentsOf(joined.frames)).toHaveLength(1);
    expect(applyEdit(joined, setMoment({ frameIds: [first.id], moment: 'First light' }))).toBe(joined);
  });
});

describe('leaving frames out', () => {
  const scene = applyEdit(newScene('x'), addFrames({ frames: [0, 1, 2].map((i) => at(i, null)) }));
  const [lowest] = layersOf(scene);
  const shown = frameOfLayer(lowest) as FrameId;
  const out = (from: typeof scene) => applyEdit(from, setChoice({ frameIds: [shown], choice: 'out' }));

  it('takes their layers off the stack, and picking them puts them back', () => {
    const without = out(scene);
    expect(without.stack.map(({ id }) => id)).not.toContain(lowest.id);
    const back = applyEdit(without, setChoice({ frameIds: [shown], choice: 'pick' }));
    expect(back.stack.map(({ id }) => id)).toContain(lowest.id);
  });

  it('only hides a layer that has been worked on', () => {
    const stroke = {
      id: StrokeId.parse('s'),
      target: 1,
      size: 9,
      hardness: 0,
      strength: 1,
      flow: 1,
      pressure: 'none' as const,
      stencil: null,
    };
    const worked = applyEdit(scene, addStroke({ owner: lowest.id, stroke }));
    expect(out(worked).stack.find(({ id }) => id === lowest.id)).toMatchObject({ visible: false });
    const back = applyEdit(out(worked), setChoice({ frameIds: [shown], choice: 'pick' }));
    expect(back.stack.find(({ id }) => id === lowest.id)).toMatchObject({ visible: true });
  });
});
