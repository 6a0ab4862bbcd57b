import { describe, expect, it } from 'vitest';
import { edit, nodeOf, paint } from '../../../tests/renderScene.ts';
import { type PixelSource, smallScene } from '../../../tests/smallScene.ts';
import { compose, mapPoint, shiftMatrix } from '../../align/placement.ts';
import { deliveredFrom } from '../../finish/turning.ts';
import { GroupId, ItemId, LayerId } from '../../ids.ts';
import { plainPart } from '../../parts/partBase.ts';
import { bentPlace, PLAIN_LENS } from '../../raster/lens.ts';
import { invert3, type Matrix3 } from '../../raster/matrix3.ts';
import { allTiles } from '../../raster/region.ts';
import { keyText } from '../../raster/tileKey.ts';
import type { EditRecord } from '../../scene/edit.ts';
import { developFrames } from '../../scene/edits/developing.ts';
import { groupWithBelow, setItem } from '../../scene/edits/items.ts';
import { layerIdOf } from '../../scene/edits/layersOfFrames.ts';
import { addPart } from '../../scene/edits/masks.ts';
import { setInverted } from '../../scene/edits/older.ts';
import { addStroke } from '../../scene/edits/painting.ts';
import { placeFrames } from '../../scene/edits/placing.ts';
import { addAdjustment, addLayer, setAdjustment, setIsolated } from '../../scene/edits/stack.ts';
import { setGeometry } from '../../scene/edits/turning.ts';
import type { Geometry } from '../../scene/geometry.ts';
import type { Scene } from '../../scene/scene.ts';
import type { TileNode } from '../tiles/renderContext.ts';
import { turnedNode } from './turnedNode.ts';
import { writeTile } from './writing.ts';

const size = { width: 300, height: 210 };
/** Waves of four to five pixels: reading between pixels costs them some of their contrast each time. */
const fine = (x: number, y: number) => 32_768 + 12_000 * Math.sin(x * 1.4) + 12_000 * Math.sin(y * 1.3);
const smooth = (x: number, y: number) => 30_000 + 14_000 * Math.sin(x / 23) * Math.cos(y / 31) + 40 * x;
const sourceOf =
  (of: typeof fine, factor: number): PixelSource =>
  (x, y) => {
    const value = Math.round(of(x, y) * factor);
    return [value, Math.round(value * 0.9), Math.round(value * 0.8)];
  };

const about = (angle: number, dx: number, dy: number): Matrix3 =>
  compose(
    shiftMatrix(-150, -105),
    [Math.cos(angle), -Math.sin(angle), 0, Math.sin(angle), Math.cos(angle), 0, 0, 0, 1],
    shiftMatrix(150 + dx, 105 + dy),
  );
const PLACED = about(0.03, 2.3, -1.6);
const place = (frameId: string, matrix: Matrix3) =>
  placeFrames({
    frameIds: [frameId as never],
    placement: {
      ...{ matrix: [...matrix], model: 'similarity', verdict: 'good', reason: null },
      ...{ residualPx: 0.02, agreement: 1, stops: 0 },
    },
  });

const made = smallScene(size, [sourceOf(fine, 0.8), sourceOf(fine, 1), sourceOf(smooth, 0.7), sourceOf(smooth, 1)]);
const [placed, base, dim, lit] = made.frameIds;
const { context } = made;
const onTop = (frame: typeof placed): EditRecord[] => [
  place(frame, PLACED),
  setInverted({ layerId: layerIdOf(frame), inverted: true }),
];

function written(node: TileNode): Uint16Array {
  const { size: own } = node.extent;
  const image = { region: { x: 0, y: 0, ...own }, pixels: new Uint16Array(own.width * own.height * 3) };
  for (const { tx, ty } of allTiles(own, 0)) writeTile(node, tx, ty, image, context);
  return image.pixels;
}
const turned = (scene: Scene) => nodeOf(scene, { what: 'result', turned: 'finished' });
/** The picture of the scene, turned as a whole. */
const turnedAsAWhole = (scene: Scene) =>
  turnedNode(nodeOf(scene, { what: 'result' }), { isPicture: true, isRounded: true }, scene.geometry, 'finished');

/** Root of the mean squared distance from a picture to what a frame shows there, away from the picture's edges. */
function error(
  node: TileNode,
  scene: Scene,
  toFrame: (at: { x: number; y: number }) => { x: number; y: number },
): number {
  const { width, height } = node.extent.size;
  const toScene = invert3(deliveredFrom(scene.geometry, size).fromScene);
  const pixels = written(node);
  let [sum, count] = [0, 0];
  for (let y = 12; y < height - 12; y++)
    for (let x = 12; x < width - 12; x++, count++) {
      const at = toFrame(mapPoint(toScene, { x, y }));
      sum += (pixels[3 * (y * width + x)] - 0.8 * fine(at.x, at.y)) ** 2;
    }
  return Math.sqrt(sum / count);
}

const TURNS: Partial<Geometry>[] = [
  { straighten: 4 },
  { straighten: -3, quarters: 1 },
  { perspective: { vertical: 0.15, horizontal: -0.1 }, stretch: 0.05 },
];

describe('a placed frame in a turned picture', () => {
  it.each(TURNS)('is read once: it keeps more of what is fine: %j', (change) => {
    const scene = edit(made.scene, ...onTop(placed), setGeometry({ change }));
    const toFrame = (at: { x: number; y: number }) => mapPoint(invert3(PLACED), at);
    const [once, twice] = [turned(scene), turnedAsAWhole(scene)].map((node) => error(node, scene, toFrame));
    expect(once).toBeLessThan(0.62 * twice);
    expect(once).toBeLessThan(1800);
  });

  it('is read once through its lens as well', () => {
    const bend = { k1: -0.05, k2: 0.01, k3: 0 };
    const lens = { ...PLAIN_LENS, bend: [bend.k1, bend.k2, bend.k3] as const };
    const scene = edit(
      made.scene,
      ...onTop(placed),
      developFrames({ frameIds: [placed], change: { lens: { ...bend, corners: { stops: 0, late: 0 } } } }),
      setGeometry({ change: { straighten: 4, perspective: { vertical: 0.1, horizontal: 0 } } }),
    );
    const toFrame = (at: { x: number; y: number }) => mapPoint(invert3(PLACED), bentPlace(lens, size, at));
    const [once, twice] = [turned(scene), turnedAsAWhole(scene)].map((node) => error(node, scene, toFrame));
    expect(once).toBeLessThan(0.62 * twice);
  });

  it('is not told from a picture turned as a whole where nothing is fine, whatever lies in the stack', () => {
    const gradient = {
      ...{ kind: 'gradient' as const, ...plainPart('gradient', 'fall'), join: 'intersect' as const },
      ...{ start: { x: 0, y: 20 }, end: { x: 90, y: 200 }, profile: 'smooth' as const, middle: 0.5 },
    };
    const fade = (owner: ItemId): EditRecord => addPart({ owner, part: gradient });
    const step = (kind: string, settings: unknown): EditRecord[] => {
      const id = ItemId.parse(kind);
      return [
        addAdjustment({ id, kind: kind as never, above: { blend: true } }),
        setAdjustment({ id, change: settings as never }),
      ];
    };
    const layer = (name: string, content: never, mode: string): EditRecord[] => {
      const id = LayerId.parse(name);
      return [
        addLayer({ id, content, above: null }),
        fade(id),
        setItem({ id, change: { mode: mode as never, opacity: 0.6 } }),
      ];
    };
    const run = { start: { x: 20, y: 10 }, end: { x: 260, y: 190 }, from: [0.2, 0.2, 0.3], to: [0.9, 0.8, 0.7] };
    const light = { x: 190, y: 120, radius: 70, strength: 0.6, colour: [1, 0.9, 0.7] };
    const scene = edit(
      { ...made.scene, base: lit },
      ...onTop(dim),
      fade(layerIdOf(dim)),
      developFrames({
        frameIds: [dim],
        change: { exposure: { stops: 0.5 }, colour: { saturation: 0.2, spare: 0, ranges: [] } },
      }),
      ...layer('colour', { colour: [0.7, 0.4, 0.2] } as never, 'soft-light'),
      ...layer('run', { gradient: run } as never, 'multiply'),
      ...layer('below', { below: true } as never, 'screen'),
      groupWithBelow({ layerId: ItemId.parse('below'), id: GroupId.parse('group') }),
      ...step('levels', { all: { black: 0.02, white: 0.95, power: 1.1 } }),
      fade(ItemId.parse('levels')),
      ...step('dodgeBurn', { stops: 1 }),
      addStroke({
        owner: ItemId.parse('dodgeBurn'),
        stroke: paint(
          made,
          [
            [60, 50],
            [220, 160],
          ],
          { strength: 0.4 },
        ),
      }),
      ...step('edges', { stops: -1, follows: 'scene' }),
      ...step('lights', { lights: [light] }),
      setGeometry({ change: { straighten: 5, perspective: { vertical: 0.1, horizontal: 0.05 } } }),
    );
    for (const each of [
      scene,
      edit(scene, setIsolated({ id: GroupId.parse('group'), isolated: true })),
      edit(scene, setAdjustment({ id: ItemId.parse('edges'), change: { follows: 'crop' } as never })),
    ]) {
      const [once, whole] = [turned(each), turnedAsAWhole(each)].map(written);
      expect(keyText(turned(each).keyAt({ level: 0, tx: 0, ty: 0 }, context))).not.toBe(
        keyText(turnedAsAWhole(each).keyAt({ level: 0, tx: 0, ty: 0 }, context)),
      );
      let [worst, sum] = [0, 0];
      for (let i = 0; i < once.length; i++) {
        const off = Math.abs(once[i] - whole[i]);
        worst = Math.max(worst, off);
        sum += off;
      }
      expect(sum / once.length).toBeLessThan(8);
      expect(worst).toBeLessThan(700);
    }
    const blend = { what: 'blend', turned: 'finished' } as const;
    const bare = written(turned({ ...scene, finish: [] }));
    expect(written(nodeOf(scene, blend)).every((value, i) => value === bare[i])).toBe(true);
  });

  it('shows a stroke as it grows', () => {
    const stroke = paint(made, [[40, 50]], { size: 60 });
    const scene = edit(
      made.scene,
      place(placed, PLACED),
      addStroke({ owner: layerIdOf(placed), stroke }),
      setGeometry({ change: { straighten: 4 } }),
    );
    const node = turned(scene);
    const before = written(node);
    made.context.strokes.append(stroke.id, Float32Array.from([150, 100, 1, 0]));
    const after = written(node);
    const fresh = written(turned(scene));
    expect(after.some((value, i) => value !== before[i])).toBe(true);
    expect(after.every((value, i) => value === fresh[i])).toBe(true);
  });
});

describe('a turned picture is turned as a whole', () => {
  const sameAs = (scene: Scene) => {
    const [own, whole] = [turned(scene), turnedAsAWhole(scene)].map(written);
    return own.length === whole.length && own.every((value, i) => value === whole[i]);
  };

  it('where its frames lie as they were taken', () => {
    expect(sameAs(edit(made.scene, setGeometry({ change: { straighten: 4 } })))).toBe(true);
  });

  it('where it is only cut, or turned by quarters', () => {
    const crop = { x: 20, y: 10, width: 120, height: 90 };
    expect(sameAs(edit(made.scene, ...onTop(placed), setGeometry({ change: { crop, quarters: 1 } })))).toBe(true);
  });

  it('where something looks around itself', () => {
    const scene = edit(made.scene, ...onTop(placed), setGeometry({ change: { straighten: 4 } }));
    expect(sameAs(scene)).toBe(false);
    const id = ItemId.parse('ends');
    const step = edit(
      scene,
      addAdjustment({ id, kind: 'ends', above: { blend: true } }),
      setAdjustment({ id, change: { darks: { stops: 1, reach: -3 } } as never }),
    );
    expect(sameAs(step)).toBe(true);
    expect(sameAs(edit(step, setItem({ id, change: { visible: false } })))).toBe(false);
    const noisy = { noise: { brightness: 0.5, colour: 0.5, measured: { brightness: 0.01, colour: 0.01 } } };
    expect(sameAs(edit(scene, developFrames({ frameIds: [base], change: noisy })))).toBe(true);
  });
});
