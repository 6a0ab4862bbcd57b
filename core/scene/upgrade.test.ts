import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { FrameId, GroupId, type ItemId, LayerId } from '../ids.ts';
import { Part } from '../parts/list.ts';
import { plainPart } from '../parts/partBase.ts';
import { AT_REST, Refinements } from '../refinements/list.ts';
import { PLAIN_GEOMETRY } from './geometry.ts';
import { present, replay, restoreHistory, storeSteps, undo } from './history.ts';
import { frameOfLayer, type Group, Layer, newLayer } from './item.ts';
import { openScene } from './readScene.ts';
import { SCENE_VERSION, type Scene } from './scene.ts';
import { findItem, groupsOf, layersOf } from './tree.ts';
import { editsOfThisVersion } from './upgrade.ts';

// biome-ignore lint/suspicious/noExplicitAny: a document of an older version has no type any more
type OldDocument = any;

/** A document as a program of its time wrote it; `core/render/kept.test.ts` holds the pictures of all of them. */
const documentOf = (name: string): OldDocument =>
  JSON.parse(readFileSync(new URL(`../../tests/fixtures/scenes/${name}.json`, import.meta.url), 'utf8')).document;

/** A history of edits from an older document on. */
function historyFrom(document: OldDocument, edits: { kind: string; params: unknown }[]) {
  const opened = openScene(document);
  const steps = editsOfThisVersion(edits, { ...opened, version: document.version });
  const undoing = { origin: opened.scene, steps, done: steps.length };
  const history = restoreHistory(replay(undoing), undoing);
  expect(replay(storeSteps(history))).toEqual(present(history));
  return history;
}

describe('a document of version 1, 2 or 3', () => {
  it('says less of its frames', () => {
    const [frame] = openScene(documentOf('v1-01')).scene.frames;
    expect(frame).toMatchObject({
      format: '',
      profile: null,
      headroom: 0,
      choice: 'pick',
      placement: null,
      develop: {},
    });
    expect(frame.shot.estimated).toBe(false);
    expect(openScene(documentOf('v2-01')).scene.frames[0]).toMatchObject({ format: 'tiff', moment: '12:00' });
  });

  it('keeps its placements and its crop, and what was found leaves it', () => {
    const { scene, evidence } = openScene(documentOf('v3-01'));
    expect(scene.frames[2].placement).toMatchObject({ model: 'shift', stops: 1 });
    expect(scene.geometry).toEqual({ ...PLAIN_GEOMETRY, crop: { x: 4, y: 4, width: 280, height: 200 } });
    expect(evidence.get(scene.frames[2].id)?.compared).toHaveLength(1);
    expect(JSON.stringify(scene)).not.toContain('compared');
  });

  it.each([
    ['only 5 of 40 places agree', { code: 'few-of-compared', count: 5, of: 40 }],
    ['38 % of the places agree', { code: 'low-agreement', share: 0.38 }],
    ['corners may be off by 0.4 pixels', { code: 'corners-uncertain', px: 0.4 }],
    ['large parts of the picture do not agree, by way of a frame between', { code: 'parts-disagree', isChained: true }],
    ['something else', null],
    ['', null],
  ])('has the sentence "%s" of a verdict as a code', (reason, expected) => {
    const document = documentOf('v3-01');
    document.frames[2].placement.reason = reason;
    expect(openScene(document).scene.frames[2].placement?.reason).toEqual(expected);
  });

  it('has masks of parts, and what strokes were painted through once', () => {
    const { scene } = openScene(documentOf('v3-01'));
    const [lower, upper] = layersOf(scene);
    expect(lower.mask.parts.map(({ id, kind, join }) => [id, kind, join])).toEqual([
      ['tone', 'tone', 'add'],
      ['painted', 'painted', 'subtract'],
    ]);
    expect(lower.mask.refine).toMatchObject({ softness: 3, inverted: true, strength: 1 });
    expect(upper.stencil?.mask.parts[0]).toMatchObject({
      side: 'middle',
      measure: 'luminance',
      from: 0.1,
      narrowing: 1,
    });
    expect(upper.mask.parts.map(({ kind }) => kind)).toEqual(['gradient', 'tone', 'painted']);
    // Both strokes went through the same tones.
    expect(Object.values(scene.recipes).map(({ mask }) => mask.parts[0])).toEqual([
      expect.objectContaining({ side: 'dark', measure: 'luminance' }),
    ]);
  });

  it('takes the edits that were made on it', () => {
    const layerId = 'layer-frame-2';
    const stroke = { id: 's3', target: 1, size: 50, hardness: 0, strength: 0.5, flow: 1, pressure: 'none' };
    const tone = documentOf('v3-01').stack[1].stencil.tone;
    const gradient = documentOf('v3-01').stack[1].mask.parts[0];
    const history = historyFrom(documentOf('v3-01'), [
      { kind: 'mask.setToneUse', params: { layerId, use: 'stencil' } },
      { kind: 'mask.setTone', params: { layerId, tone: { side: 'light', source: 'sofar' } } },
      { kind: 'mask.setJoin', params: { layerId, part: 'painted', join: 'intersect' } },
      { kind: 'mask.setSoftness', params: { layerId, softness: 9 } },
      { kind: 'mask.addStroke', params: { layerId, stroke: { ...stroke, stencil: { tone } } } },
      { kind: 'mask.setGradient', params: { layerId, gradient: { ...gradient, profile: 'linear' } } },
      { kind: 'layer.setOpacity', params: { layerId, opacity: 0.2 } },
      { kind: 'layer.setVisible', params: { layerId, visible: false } },
      { kind: 'layer.move', params: { layerId, to: 0 } },
    ]);
    const [layer] = layersOf(present(history));
    expect(layer).toMatchObject({ id: layerId, opacity: 0.2, visible: false });
    expect(layer.mask.refine.softness).toBe(9);
    expect(layer.stencil?.mask.parts[0]).toMatchObject({ side: 'light', source: 'below' });
    expect(layer.mask.parts.map(({ id, join }) => [id, join])).toEqual([
      ['gradient', 'intersect'],
      ['painted', 'intersect'],
    ]);
    expect(layersOf(present(undo(history)))[1].id).toBe(layerId);
  });

  it('is refused when its masks make no sense', () => {
    const document = documentOf('v3-01');
    document.stack[0].mask = null;
    expect(() => openScene(document)).toThrow(expect.objectContaining({ code: 'invalid' }));
  });
});

describe('a document of version 4', () => {
  const names = Array.from({ length: 14 }, (_, i) => `v4-${String(i + 1).padStart(2, '0')}`);

  it.each(names)('%s has its layers in a tree, in the same order, under the same ids', (name) => {
    const document = documentOf(name);
    const { scene, repairs } = openScene(document);
    expect([...repairs]).toEqual([]);
    expect(scene.version).toBe(SCENE_VERSION);
    const { stack, groups } = document as { stack: { id: string; frame: string; group: string | null }[]; groups: [] };
    expect(layersOf(scene).map((layer) => [layer.id, frameOfLayer(layer)])).toEqual(
      stack.map(({ id, frame }) => [id, frame]),
    );
    expect(groupsOf(scene).map(({ id, items }) => [id, items.map((item) => item.id)])).toEqual(
      groups.map(({ id }) => [id, stack.flatMap((layer) => (layer.group === id ? [layer.id] : []))]),
    );
    expect(JSON.stringify(scene)).not.toMatch(/sofar|vivid|"layer":/);
    expect(openScene(JSON.parse(JSON.stringify(scene))).scene).toEqual(scene);
  });

  const grouped = () => names.map(documentOf).find(({ groups }) => groups.length > 0);

  it('takes the layer out of its group that does not lie beside it', () => {
    const document = grouped();
    const [{ id }] = document.groups;
    const stray = { ...document.stack.find(({ group }: { group: string }) => group === id), id: 'stray', group: id };
    document.stack.unshift({ ...document.stack[0], id: 'lowest', group: null });
    document.stack.push({ ...document.stack[0], id: 'between', group: null }, stray, {
      ...stray,
      id: 'none',
      group: 'x',
    });
    const { scene } = openScene(document);
    expect(scene.stack.slice(-3).map((item) => item.id)).toEqual(['between', 'stray', 'none']);
    expect((findItem(scene, id) as Group).items.map((item) => item.id as string)).not.toContain('stray');
  });

  it('takes edits that named the mask of a group by a layer in it, at any step', () => {
    const document = documentOf('v4-01');
    const [lower, upper] = document.stack.map(({ id }: { id: string }) => id);
    const at = { layerId: upper, of: 'group' };
    const tone = { ...openTone, source: 'sofar', measure: 'vivid' };
    const history = historyFrom({ ...document, groups: [], stack: document.stack.map(alone) }, [
      { kind: 'group.join', params: { layerId: upper, id: 'made' } },
      { kind: 'mask.addPart', params: { ...at, part: tone } },
      { kind: 'mask.setRefinement', params: { ...at, part: null, change: { softness: 5 } } },
      { kind: 'group.set', params: { id: 'made', change: { name: 'Sky', opacity: 0.5 } } },
      { kind: 'mask.copyPart', params: { ...at, part: 'tone', to: { layerId: lower, of: 'guard' } } },
      { kind: 'mask.removeGuard', params: { layerId: lower } },
      { kind: 'group.leave', params: { layerId: upper } },
    ]);
    const before = present(undo(history));
    const group = findItem(before, GroupId.parse('made')) as Group;
    expect(group).toMatchObject({ label: 'Sky', opacity: 0.5, mask: { refine: { softness: 5 } } });
    expect(group.mask.parts.map((part) => part.kind === 'tone' && [part.source, part.measure])).toEqual([
      ['below', 'chroma'],
    ]);
    expect(layerIn(before, lower).guard).toBeNull();
    expect(layerIn(present(undo(undo(history))), lower).guard?.parts).toHaveLength(1);
    expect(groupsOf(present(history))).toEqual([]);
  });
});

const alone = (layer: object) => ({ ...layer, group: null, guard: null });
const layerIn = (scene: Scene, id: ItemId) =>
  layersOf(scene).find((layer) => layer.id === LayerId.parse(id)) as never as { guard: { parts: unknown[] } | null };
const openTone = {
  kind: 'tone',
  id: 'tone',
  name: '',
  join: 'add',
  enabled: true,
  refine: {
    levels: { black: 0, white: 1, gamma: 1 },
    curve: [],
    softness: 0,
    edgeFit: { guide: 'base', radius: 0, contrast: 0.05 },
    grow: 0,
    coreFill: { amount: 0, reach: 40, from: 0.25 },
    inverted: false,
    strength: 1,
  },
  side: 'light',
  from: 0,
  to: 1,
  fromShoulder: 0,
  toShoulder: 0,
  narrowing: 0,
};

describe('settings that came within a version', () => {
  it('are what the program did before there were any', () => {
    const { keepsOrder, ...coreFill } = AT_REST.coreFill;
    expect(keepsOrder).toBe(true);
    expect(Refinements.parse({ ...AT_REST, coreFill }).coreFill.keepsOrder).toBe(false);
    const { yieldsToBase, ...layer } = newLayer(LayerId.parse('a'), FrameId.parse('f'));
    expect(yieldsToBase).toBe(true);
    expect(Layer.parse(layer).yieldsToBase).toBe(true);
    const part = {
      kind: 'difference',
      ...plainPart('difference'),
      first: 'f',
      second: 'g',
      stops: null,
      from: 0,
      shoulder: 0.1,
    };
    expect(Part.parse(part)).toMatchObject({ mode: 'any', around: 60 });
  });
});
