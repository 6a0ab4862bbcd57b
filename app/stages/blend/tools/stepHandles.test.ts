import { describe, expect, it } from 'vitest';
import { FINISHING } from '#core/develop/list.ts';
import { setGeometry } from '#core/scene/edits/turning.ts';
import { edit } from '../../../../tests/renderScene.ts';
import { smallScene } from '../../../../tests/smallScene.ts';
import { followed, stepHandles } from './stepHandles.ts';

const SIZE = { width: 240, height: 160 };
const GEOMETRY = { straighten: 9, quarters: 1, crop: { x: 30, y: 40, width: 60, height: 90 } };
const scene = edit(smallScene(SIZE, [() => [9, 9, 9]]).scene, setGeometry({ change: GEOMETRY }));
const rest = FINISHING.edges.rest;
const handleOf = (settings: object) =>
  stepHandles(scene, { kind: 'edges', settings: { ...rest, ...settings } } as never, 1)?.handles[0];

describe('the middle of a vignette', () => {
  it('lies in the picture as it is cut, or in all that was taken', () => {
    expect(handleOf({ follows: 'scene', middle: { x: 0.25, y: 0.5 } })?.at).toEqual({ x: 60, y: 80 });
    const handle = handleOf({ follows: 'crop', middle: { x: 0.2, y: 0.7 } });
    if (!handle) throw new Error('no handle');
    // Where it lies it is put: nothing changes.
    const { middle } = handle.move(handle.at) as { middle: { x: number; y: number } };
    expect(middle.x).toBeCloseTo(0.2, 9);
    expect(middle.y).toBeCloseTo(0.7, 9);
  });

  it('stays at its place when it no longer follows the crop, and when it does again', () => {
    const edges = { ...rest, middle: { x: 0.2, y: 0.7 } };
    const before = handleOf(edges)?.at;
    const stays = { ...edges, ...followed(scene, edges, 'scene') };
    expect(stays.middle).not.toEqual(edges.middle);
    expect(handleOf(stays)?.at.x).toBeCloseTo(before?.x ?? Number.NaN, 9);
    expect(handleOf(stays)?.at.y).toBeCloseTo(before?.y ?? Number.NaN, 9);
    expect(followed(scene, stays, 'crop').middle?.x).toBeCloseTo(0.2, 9);
  });

  it('is the middle of either as long as nobody moved it', () => {
    expect(followed(scene, rest, 'scene')).toEqual({ follows: 'scene' });
  });
});
