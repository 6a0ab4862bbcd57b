import { describe, expect, it } from 'vitest';
import { randomScene } from '../../../tests/randomScene.ts';
import { madeFrame } from '../../../tests/smallScene.ts';
import { type FrameId, GroupId, type LayerId, StrokeId } from '../../ids.ts';
import { plainStroke } from '../../masks/stroke.ts';
import { plainPart } from '../../parts/partBase.ts';
import { baseChange } from '../baseChange.ts';
import { frameOfLayer } from '../item.ts';
import { maskOfParts, openMask } from '../mask.ts';
import { newScene, type Scene } from '../scene.ts';
import { findItem, groupAround, layersOf, mapLayer } from '../tree.ts';
import { addFrames, removeFrame, setBase } from './frames.ts';
import { prepareStack } from './gather.ts';
import { applyEdit } from './index.ts';
import { groupWithBelow, moveItem } from './items.ts';
import { layerIdOf } from './layersOfFrames.ts';
import { addStroke } from './painting.ts';
import { placeFrames } from './placing.ts';

const size = { width: 300, height: 200 };
const frames = [0, 1, 2, 3].map((index) => madeFrame(index, size));
const [darkest, , , brightest] = frames.map(({ id }) => id);
const start = applyEdit(newScene('Bases'), addFrames({ frames }));
const former = start.base as FrameId;
const based = (scene: Scene, frameId: FrameId) => applyEdit(scene, setBase({ frameId }));
const layerOf = (scene: Scene, id: LayerId) => findItem(scene, id);

describe('another base', () => {
  const id = layerIdOf(brightest);
  const worked = mapLayer(
    applyEdit(start, addStroke({ owner: id, stroke: plainStroke(StrokeId.parse('one')) })),
    id,
    (layer) => ({
      ...layer,
      guard: openMask(),
      opacity: 0.6,
      visible: true,
    }),
  );

  it('lets the layers of its frame wait whole, and gives them back in their places', () => {
    const there = based(worked, brightest);
    expect(layersOf(there).map(frameOfLayer)).not.toContain(brightest);
    expect(layersOf(there).map(frameOfLayer)).toContain(former);
    expect(layerOf(there, id)).toMatchObject({ opacity: 0.6, visible: true });
    const back = based(there, former);
    expect(layerOf(back, id)).toEqual(layerOf(worked, id));
    expect(layersOf(back)).toEqual(layersOf(worked));
  });

  it.each(['a', 'b', 'c', 'd'])('and back shows what was shown, on random scenes: %s', (seed) => {
    const scene = randomScene(start, seed, { layers: 8, parts: 3 });
    const back = based(based(scene, brightest), former);
    expect(layersOf(back)).toEqual(layersOf(scene));
    for (const layer of layersOf(scene)) expect(groupAround(back, layer.id)?.id).toBe(groupAround(scene, layer.id)?.id);
    const others = [darkest, brightest, frames[2].id, former];
    const round = others.reduce(based, scene);
    expect(layersOf(round).filter((layer) => layersOf(scene).includes(layer))).toEqual(
      layersOf(scene).filter((layer) => layersOf(round).includes(layer)),
    );
    expect(layersOf(round).map(({ mask }) => mask)).toEqual(
      expect.arrayContaining(layersOf(scene).map(({ mask }) => mask)),
    );
  });

  it('leaves references to a waiting layer as they are, and its group', () => {
    const other = layerIdOf(darkest);
    const reference = { kind: 'reference' as const, ...plainPart('reference'), to: { item: id } };
    const grouped = applyEdit(worked, groupWithBelow({ layerId: id, id: GroupId.parse('pair') }));
    const referring = mapLayer(grouped, other, (layer) => ({ ...layer, mask: maskOfParts([reference]) }));
    const there = based(referring, brightest);
    expect(groupAround(there, id)?.id).toBe('pair');
    expect(layerOf(there, other)?.mask).toBe(layerOf(referring, other)?.mask);
  });

  it('moves and groups only what is there: waiting layers count for nothing', () => {
    const there = based(worked, brightest);
    const ids = layersOf(there).map((layer) => layer.id);
    const moved = applyEdit(there, moveItem({ id: ids[0], to: ids.length - 1 }));
    expect(layersOf(moved).map((layer) => layer.id)).toEqual([...ids.slice(1), ids[0]]);
    expect(layerOf(moved, id)).toBe(layerOf(there, id));
    const grouped = applyEdit(there, groupWithBelow({ layerId: ids[1], id: GroupId.parse('two') }));
    expect(groupAround(grouped, ids[1])?.items.map((item) => item.id)).toEqual([ids[0], ids[1]]);
  });

  it('stays aligned when the others were aligned to the one before', () => {
    const matrix = [1, 0, 12, 0, 1, -7, 0, 0, 1];
    const found = {
      model: 'shift' as const,
      verdict: 'good' as const,
      reason: null,
      residualPx: 0.1,
      agreement: 1,
      stops: 0,
    };
    const aligned = applyEdit(start, placeFrames({ frameIds: [brightest], placement: { ...found, matrix } }));
    const there = based(aligned, brightest);
    const placementOf = (scene: Scene, frame: FrameId) => scene.frames.find((each) => each.id === frame)?.placement;
    expect(placementOf(there, former)).toMatchObject({
      verdict: 'good',
      model: 'none',
      reason: { code: 'former-base' },
    });
    expect(placementOf(there, brightest)?.matrix).toEqual(matrix);
    expect(placementOf(based(start, brightest), former)).toBeNull();
  });

  it('says beforehand what changes', () => {
    expect(baseChange(start, brightest)).toEqual({ setAside: [], comeBack: [], readers: 0, isPlaced: false });
    expect(baseChange(worked, brightest).setAside.map((layer) => layer.id)).toEqual([id]);
    const there = based(worked, brightest);
    expect(baseChange(there, former).comeBack.map((layer) => layer.id)).toEqual([id]);
  });

  it('is chosen by the advice and by removing a frame just so', () => {
    const advised = applyEdit(worked, prepareStack({ base: brightest, order: [former, darkest] }));
    expect(layerOf(advised, id)).toBe(layerOf(worked, id));
    expect(layersOf(advised).map((layer) => layer.id)).not.toContain(id);
    const removed = applyEdit(based(worked, brightest), removeFrame({ frameId: brightest }));
    expect(removed.base).not.toBe(brightest);
    expect(layerOf(removed, id)).toBeUndefined();
  });
});
