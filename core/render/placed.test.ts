import { describe, expect, it } from 'vitest';
import { nodeLibraries } from '../../engine/node/libraries.ts';
import { nodeOf, resultOf } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { compose, shiftMatrix } from '../align/placement.ts';
import { LayerId } from '../ids.ts';
import { plainPart } from '../parts/partBase.ts';
import { PLAIN_LENS } from '../raster/lens.ts';
import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import { levelSize } from '../raster/size.ts';
import { keyOf, keyText } from '../raster/tileKey.ts';
import { removeFrame, setBase } from '../scene/edits/frames.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { layerIdOf } from '../scene/edits/layersOfFrames.ts';
import { setInverted, setTone, setToneUse } from '../scene/edits/older.ts';
import { placeFrames, restoreFound, setCrop, setLocked, takePlacements } from '../scene/edits/placing.ts';
import type { Placement } from '../scene/frame.ts';
import { newLayer } from '../scene/item.ts';
import { maskOfParts } from '../scene/mask.ts';
import type { Scene } from '../scene/scene.ts';
import { CompareNode } from './nodes/compareNode.ts';
import { withExposure } from './nodes/lightNode.ts';
import { WarpNode } from './nodes/warpNode.ts';
import { writeTile } from './plan/writing.ts';
import { sceneExtent, type TileNode } from './tiles/renderContext.ts';

const size = { width: 300, height: 210 };
/** Waves no finer than six pixels: band-limited, so that they can be read between pixels. */
const waves: PixelSource = (x, y) => {
  const value =
    30000 + 9000 * Math.sin(x / 2.1 + y / 9) + 8000 * Math.cos(y / 1.9 - x / 7) + 4000 * Math.sin((x + y) / 31);
  return [value, value * 0.9, 60000 - value].map(Math.round) as unknown as [number, number, number];
};
const other: PixelSource = (x, y) => {
  const [r, g, b] = waves(x, y);
  return [Math.min(65535, r + 5000), g, b];
};

const placement = (matrix: Matrix3, verdict: Placement['verdict'] = 'good'): Placement => ({
  matrix: [...matrix],
  model: 'similarity',
  verdict,
  reason: null,
  residualPx: 0.02,
  agreement: 1,
  stops: 0,
});

const made = smallScene(size, [waves, other, waves]);
const [first, base] = made.frameIds;
const whole = (node: TileNode, plane = 0, level = 0) =>
  planeOfNode(node, plane, level, levelSize(size, level), made.context);
const place = (matrix: Matrix3) =>
  applyEdit(made.scene, placeFrames({ frameIds: [first], placement: placement(matrix) }));
const turned: Matrix3 = compose(
  shiftMatrix(-150, -105),
  [Math.cos(0.02), -Math.sin(0.02), 0, Math.sin(0.02), Math.cos(0.02), 0, 0, 0, 1],
  shiftMatrix(153.3, 101.6),
);

/** Largest and mean difference of two planes inside a margin. */
function apart(a: Uint16Array, b: ArrayLike<number>, margin: number): [number, number] {
  let [most, sum, count] = [0, 0, 0];
  for (let y = margin; y < size.height - margin; y++)
    for (let x = margin; x < size.width - margin; x++) {
      const off = Math.abs(a[y * size.width + x] - b[y * size.width + x]);
      most = Math.max(most, off);
      sum += off;
      count++;
    }
  return [most, sum / count];
}

describe('a placed frame', () => {
  it('that lies right is its own pixels: nothing is resampled', () => {
    const untouched = place([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    expect(nodeOf(untouched, { what: 'frame', at: first }).fixedKey).toEqual(
      nodeOf(made.scene, { what: 'frame', at: first }).fixedKey,
    );
  });

  it('shifted by whole pixels is shifted, sample by sample, across tiles', () => {
    const red = whole(nodeOf(place(shiftMatrix(7, -12)), { what: 'frame', at: first }));
    for (let y = 0; y < size.height - 12; y += 3)
      for (let x = 7; x < size.width; x += 5) expect(red[y * size.width + x]).toBe(waves(x - 7, y + 12)[0]);
  });

  it('turned is as a general library turns it, and as the waves are there', async () => {
    const ours = whole(nodeOf(place(turned), { what: 'frame', at: first }));
    const exact = new Float64Array(ours.length);
    const back = invert3(turned);
    for (let i = 0; i < exact.length; i++) {
      const [x, y] = [i % size.width, Math.floor(i / size.width)];
      [exact[i]] = waves(back[0] * x + back[1] * y + back[2], back[3] * x + back[4] * y + back[5]);
    }
    const raw = Uint16Array.from(ours, (_, i) => waves(i % size.width, Math.floor(i / size.width))[0]);
    const vips = await nodeLibraries.vips();
    const theirs = vips.Image.newFromMemory(raw, size.width, size.height, 1, vips.BandFormat.ushort)
      .affine([turned[0], turned[1], turned[3], turned[4]], {
        odx: turned[2],
        ody: turned[5],
        oarea: [0, 0, size.width, size.height],
        interpolate: vips.Interpolate.newFromName('bicubic'),
      })
      .writeToMemory();
    const samples = new Uint16Array(theirs.slice().buffer);
    vips.shutdown();
    // Two ways of reading between pixels: within half a per cent of full scale.
    expect(apart(ours, samples, 20)[0]).toBeLessThan(0.005 * 65535);
    const [worst, mean] = apart(ours, exact, 20);
    // What the waves themselves are there.
    expect(worst).toBeLessThan(0.002 * 65535);
    expect(mean).toBeLessThan(0.001 * 65535);
  });

  it('turned and turned back is within 0.5 % of full scale', () => {
    const there = nodeOf(place(turned), { what: 'frame', at: first });
    const middle = whole(there);
    const again = smallScene(size, [(x, y) => [middle[y * size.width + x], 0, 0], waves, waves]);
    const id = again.frameIds[0];
    const back = applyEdit(again.scene, placeFrames({ frameIds: [id], placement: placement(invert3(turned)) }));
    const red = planeOfNode(nodeOf(back, { what: 'frame', at: id }), 0, 0, size, again.context);
    const own = Float64Array.from(red, (_, i) => waves(i % size.width, Math.floor(i / size.width))[0]);
    expect(apart(red, own, 24)[0]).toBeLessThan(0.005 * 65535);
  });

  it('keeps its sharpness: fine waves lose less than 2 % of their contrast', () => {
    const spread = (plane: ArrayLike<number>) => {
      let [sum, squares, count] = [0, 0, 0];
      for (let y = 30; y < 180; y++)
        for (let x = 30; x < 270; x++) {
          const value = plane[y * size.width + x];
          sum += value;
          squares += value * value;
          count++;
        }
      return Math.sqrt(squares / count - (sum / count) ** 2);
    };
    const shifted = whole(nodeOf(place(shiftMatrix(0.5, 0.5)), { what: 'frame', at: first }));
    const own = whole(nodeOf(made.scene, { what: 'frame', at: first }));
    expect(spread(shifted) / spread(own)).toBeGreaterThan(0.98);
    expect(spread(shifted) / spread(own)).toBeLessThan(1.01);
  });

  it('looks alike at a coarser level', () => {
    const node = nodeOf(place(turned), { what: 'frame', at: first });
    const [fine, coarse] = [whole(node), whole(node, 0, 1)];
    const { width } = levelSize(size, 1);
    for (let y = 20; y < 80; y += 7)
      for (let x = 20; x < 120; x += 7) {
        const at = 2 * y * size.width + 2 * x;
        const mean = (fine[at] + fine[at + 1] + fine[at + size.width] + fine[at + size.width + 1]) / 4;
        expect(Math.abs(coarse[y * width + x] - mean)).toBeLessThan(2500);
      }
  });
});

describe('beyond the edge of a placed frame', () => {
  it('the base shows, whatever the mask, and the mask itself stays as it was', () => {
    const layerId = layerIdOf(first);
    const shown = applyEdit(place(shiftMatrix(40, 0)), setInverted({ layerId, inverted: true }));
    const red = whole(resultOf(shown));
    for (let y = 5; y < size.height - 5; y += 9) {
      expect(red[y * size.width + 20]).toBe(other(20, y)[0]);
      expect(red[y * size.width + 100]).toBe(waves(60, y)[0]);
    }
    const mask = whole(nodeOf(shown, { what: 'mask', at: layerId }) as TileNode);
    expect(mask.every((value) => value === 65535)).toBe(true);
  });

  it('that is the base there is nothing: black, never its edge drawn out', () => {
    const based = applyEdit(place(shiftMatrix(40, 0)), setBase({ frameId: first }));
    const red = whole(resultOf(based));
    for (const y of [5, 100, 205]) {
      expect([...red.subarray(y * size.width, y * size.width + 39)].every((value) => value === 0)).toBe(true);
      expect(red[y * size.width + 60]).toBe(waves(20, y)[0]);
      expect(red[y * size.width + 299]).toBe(waves(259, y)[0]);
    }
    // A mask that reads the base reads nothing there either.
    const layerId = layerIdOf(base);
    const toned = applyEdit(based, setTone({ layerId, tone: { side: 'dark', source: 'base' } }));
    const mask = whole(nodeOf(applyEdit(toned, setToneUse({ layerId, use: 'mask' })), { what: 'mask', at: layerId }));
    expect(mask[100 * size.width + 10]).toBe(65535);
  });

  it('masks and their keys do not change when another frame is placed', () => {
    const layerId = layerIdOf(first);
    const masked = applyEdit(
      applyEdit(made.scene, setTone({ layerId, tone: { side: 'light', narrowing: 1, source: 'base' } })),
      setToneUse({ layerId, use: 'mask' }),
    );
    const moved = applyEdit(masked, placeFrames({ frameIds: [first], placement: placement(turned) }));
    const spot = { level: 0, tx: 1, ty: 0 };
    const keyOf = (scene: Scene) => nodeOf(scene, { what: 'mask', at: layerId })?.keyAt(spot, made.context);
    expect(keyOf(moved)).toEqual(keyOf(masked));
  });
});

describe('a placed picture whose tiles change one by one', () => {
  it('has another key wherever it reads a tile that has changed', () => {
    const changed = new Set<string>();
    const source: TileNode = {
      extent: sceneExtent(size),
      keyAt: ({ level, tx, ty }) => keyOf('source', [level, tx, ty, changed.has(`${tx},${ty}`)]),
      make: (spot, _key, context) =>
        nodeOf(made.scene, { what: 'frame', at: base }).make(spot, keyOf('none', 0), context),
    };
    const warp = new WarpNode(
      source,
      { placement: shiftMatrix(140, 0), local: null, lens: PLAIN_LENS },
      sceneExtent(size),
    );
    const keys = () => [0, 1, 2].map((tx) => keyText(warp.keyAt({ level: 0, tx, ty: 0 }, made.context)));
    const before = keys();
    changed.add('0,0');
    const after = keys();
    // The frame's first tile is shown from 140 pixels on, and at the left as its edge.
    expect(after.map((key, i) => key !== before[i])).toEqual([true, true, true]);
    changed.clear();
    changed.add('2,0');
    expect(keys().map((key, i) => key !== before[i])).toEqual([false, false, false]);
  });
});

describe('a stack of many layers', () => {
  it('is as high as it likes', () => {
    const part = {
      kind: 'radial' as const,
      ...plainPart('radial'),
      centre: { x: 150, y: 100 },
      radiusX: 90,
      radiusY: 90,
      turn: 0,
      feather: 1,
    };
    const stack = Array.from({ length: 150 }, (_, i) => ({
      ...newLayer(LayerId.parse(`l${i}`), made.frameIds[i % 3]),
      mask: maskOfParts([part]),
      opacity: 0.02,
      yieldsToBase: false,
    }));
    const [many, mask] = [
      whole(resultOf({ ...made.scene, stack })),
      whole(nodeOf({ ...made.scene, stack }, { what: 'mask', at: stack[0].id }) as TileNode),
    ];
    const frames = made.frameIds.map((id) => whole(nodeOf(made.scene, { what: 'frame', at: id })));
    for (let at = 0; at < many.length; at += 1009) {
      let value = frames[1][at];
      for (let i = 0; i < 150; i++) value += (frames[i % 3][at] - value) * (mask[at] / 65535) * 0.02;
      expect(Math.abs(many[at] - value)).toBeLessThan(1.5);
    }
  });
});

describe('comparing', () => {
  const compare = (scene: Scene, how: 'difference' | 'edges', stops = 0) => {
    const [under, over] = [
      nodeOf(scene, { what: 'frame', at: base }),
      withExposure(nodeOf(scene, { what: 'frame', at: first }), -stops),
    ];
    return whole(new CompareNode(under, over, nodeOf(scene, { what: 'inside', at: first }), how, stops));
  };

  it('is even grey where both agree, and where one holds nothing', () => {
    const same = smallScene(size, [waves, waves, waves]);
    const [a, b] = same.frameIds.map((id) => nodeOf(same.scene, { what: 'frame', at: id }));
    for (const how of ['difference', 'edges'] as const) {
      const grey = planeOfNode(
        new CompareNode(a, b, nodeOf(same.scene, { what: 'inside', at: same.frameIds[1] }), how, 0),
        0,
        0,
        size,
        same.context,
      );
      expect(grey.every((value) => Math.abs(value - 32768) <= 1)).toBe(true);
    }
    const off = compare(place(shiftMatrix(200, 0)), 'difference');
    expect(off[100 * size.width + 50]).toBe(32768);
  });

  it('shows a misfit brighter and darker', () => {
    const grey = compare(place(shiftMatrix(3, 0)), 'difference');
    expect(Math.max(...grey)).toBeGreaterThan(50000);
    expect(Math.min(...grey)).toBeLessThan(15000);
    const edges = compare(place(shiftMatrix(3, 0)), 'edges');
    expect(Math.max(...edges) - Math.min(...edges)).toBeGreaterThan(8000);
  });
});

describe('edits that place', () => {
  const take = (verdict: Placement['verdict']) =>
    takePlacements({ found: [{ frameId: first, placement: placement(turned, verdict) }] });
  const frameOf = (scene: Scene) => scene.frames.find(({ id }) => id === first);

  it('take what was found; what failed moves nothing', () => {
    expect(frameOf(applyEdit(made.scene, take('good')))?.placement?.matrix).toEqual([...turned]);
    expect(applyEdit(made.scene, take('failed'))).toBe(made.scene);
  });

  it('leave locked frames alone, and go back to what was found', () => {
    const locked = applyEdit(made.scene, setLocked({ frameIds: [first], locked: true }));
    expect(applyEdit(locked, take('good'))).toBe(locked);
    const found = applyEdit(made.scene, take('look'));
    const moved = applyEdit(found, placeFrames({ frameIds: [first], placement: placement(shiftMatrix(1, 1), null) }));
    expect(
      frameOf(applyEdit(moved, restoreFound({ found: [{ frameId: first, placement: placement(turned, 'look') }] })))
        ?.placement?.matrix,
    ).toEqual([...turned]);
  });

  it('crop what is delivered, as data', () => {
    const crop = { x: 30, y: 20, width: 140, height: 100 };
    const cropped = applyEdit(made.scene, setCrop({ crop }));
    const pixels = new Uint16Array(crop.width * crop.height * 3);
    for (const [tx, ty] of [
      [0, 0],
      [1, 0],
    ])
      writeTile(resultOf(cropped), tx, ty, { region: crop, pixels }, made.context);
    for (const [x, y] of [
      [0, 0],
      [139, 99],
      [70, 50],
      [97, 3],
    ])
      expect([...pixels.subarray((y * 140 + x) * 3, (y * 140 + x) * 3 + 3)]).toEqual([...other(x + 30, y + 20)]);
    expect(applyEdit(cropped, setCrop({ crop: null })).geometry.crop).toBeNull();
    const emptied = made.frameIds.reduce((now, frameId) => applyEdit(now, removeFrame({ frameId })), cropped);
    expect(emptied.geometry.crop).toBeNull();
  });
});
