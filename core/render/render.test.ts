import { describe, expect, it } from 'vitest';
import { edit, maskOf, nodeOf, paint, resultOf, setUp, size, sources } from '../../tests/renderScene.ts';
import { loadPixels, planeOfNode, type SmallScene, smallScene } from '../../tests/smallScene.ts';
import { luminanceWeights, SRGB_PRIMARIES } from '../color/primaries.ts';
import type { FrameId } from '../ids.ts';
import { toneCoverage } from '../masks/toneCurve.ts';
import { keyText } from '../raster/tileKey.ts';
import { setItem } from '../scene/edits/items.ts';
import { layerIdOf } from '../scene/edits/layersOfFrames.ts';
import { setInverted, setSoftness, setTone, setToneUse, tonePartOf } from '../scene/edits/older.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { frameOfLayer, type Layer } from '../scene/item.ts';
import type { Scene } from '../scene/scene.ts';
import { findLayer, layersOf } from '../scene/tree.ts';
import { frameKey } from './nodes/frameNode.ts';
import { drawTile } from './plan/display.ts';
import { compilePlan } from './plan/plan.ts';
import { PlanMemory } from './plan/planMemory.ts';
import { countHistogram, sampleAt } from './plan/readings.ts';
import { writeTile } from './plan/writing.ts';
import { dropFrame } from './tiles/loadFrame.ts';
import { RenderError, type TileNode, tileOf } from './tiles/renderContext.ts';

describe('a scene without masks', () => {
  it('is its base, at every level, sample by sample', () => {
    const { made, whole } = setUp();
    const result = resultOf(made.scene);
    const base = nodeOf(made.scene, { what: 'frame', at: made.frameIds[1] });
    for (const level of [0, 1])
      for (const plane of [0, 1, 2]) expect(whole(result, plane, level)).toEqual(whole(base, plane, level));
    const red = whole(result);
    for (let i = 0; i < red.length; i += 997)
      expect(red[i]).toBe(sources[1](i % size.width, Math.floor(i / size.width))[0]);
  });

  it("costs no memory: the tiles are the base frame's own", () => {
    const { made, whole } = setUp();
    const before = made.table.slab.usedSlots;
    whole(resultOf(made.scene));
    expect(made.table.slab.usedSlots).toBe(before);
  });

  it('has no plan without frames', () => {
    const { made } = setUp();
    expect(compilePlan({ ...made.scene, frames: [], stack: [], base: null })).toBeUndefined();
  });
});

describe('layers through masks', () => {
  it('follow source-over with the tone of each pixel as weight', () => {
    const { made, dark, whole } = setUp();
    const scene = edit(
      made.scene,
      setTone({ layerId: dark, tone: { narrowing: 1 } }),
      setToneUse({ layerId: dark, use: 'mask' }),
      setItem({ id: dark, change: { opacity: 0.8 } }),
    );
    const weights = luminanceWeights(SRGB_PRIMARIES);
    const result = [0, 1, 2].map((plane) => whole(resultOf(scene), plane));
    let worst = 0;
    for (let i = 0; i < size.width * size.height; i += 13) {
      const [x, y] = [i % size.width, Math.floor(i / size.width)];
      const base = sources[1](x, y);
      const layer = sources[0](x, y);
      const tone = base.reduce((sum, value, c) => sum + (value / 65535) * weights[c], 0);
      const weight = tone ** 2 * 0.8;
      for (let c = 0; c < 3; c++)
        worst = Math.max(worst, Math.abs(result[c][i] - (layer[c] * weight + base[c] * (1 - weight))));
    }
    expect(worst).toBeLessThan(2.5); // in 65,535: tone and mask are kept in 16 bits
  });

  it('show nothing when hidden, left out or at no opacity', () => {
    const { made, dark, whole } = setUp();
    const base = whole(resultOf(made.scene));
    const laid = edit(made.scene, setToneUse({ layerId: dark, use: 'mask' }));
    expect(whole(resultOf(laid))).not.toEqual(base);
    expect(whole(resultOf(edit(laid, setItem({ id: dark, change: { visible: false } }))))).toEqual(base);
    expect(whole(resultOf(edit(laid, setItem({ id: dark, change: { opacity: 0 } }))))).toEqual(base);
  });

  it('show the layer whole where the mask is full', () => {
    const { made, dark, whole } = setUp();
    const scene = edit(made.scene, setInverted({ layerId: dark, inverted: true }));
    expect(whole(resultOf(scene))).toEqual(whole(nodeOf(scene, { what: 'frame', at: made.frameIds[0] })));
  });

  it('read the picture so far below the layer', () => {
    const { made, whole } = setUp();
    const [first, second] = layersOf(made.scene);
    const scene = edit(
      made.scene,
      setInverted({ layerId: first.id, inverted: true }),
      setTone({ layerId: second.id, tone: { source: 'below' } }),
      setToneUse({ layerId: second.id, use: 'mask' }),
    );
    const same = edit(
      made.scene,
      setInverted({ layerId: first.id, inverted: true }),
      setTone({ layerId: second.id, tone: { source: 'layer' } }),
      setToneUse({ layerId: second.id, use: 'mask' }),
    );
    const below = whole(nodeOf(scene, { what: 'source', source: 'below', at: second.id }));
    expect(below).toEqual(whole(nodeOf(scene, { what: 'frame', at: frameOfLayer(first) as FrameId })));
    expect(whole(maskOf(scene, second.id))).not.toEqual(whole(maskOf(same, second.id)));
  });
});

describe('keys', () => {
  const keysOf = (node: TileNode, made: SmallScene) =>
    [0, 1, 2].flatMap((tx) => [0, 1].map((ty) => keyText(node.keyAt({ level: 0, tx, ty }, made.context))));

  it('change only where a stroke touches', () => {
    const { made, dark } = setUp();
    const before = keysOf(resultOf(made.scene), made);
    const after = keysOf(
      resultOf(edit(made.scene, addStroke({ owner: dark, stroke: paint(made, [[20, 20]], { size: 30 }) }))),
      made,
    );
    expect(after.map((key, i) => key !== before[i])).toEqual([true, false, false, false, false, false]);
  });

  it('are the old ones again after undo, and differ for every setting', () => {
    const { made, dark } = setUp();
    const [first, ...others] = [
      made.scene,
      edit(made.scene, setToneUse({ layerId: dark, use: 'mask' })),
      edit(made.scene, setToneUse({ layerId: dark, use: 'mask' }), setTone({ layerId: dark, tone: { narrowing: 1 } })),
      edit(made.scene, setInverted({ layerId: dark, inverted: true })),
      edit(made.scene, setSoftness({ layerId: dark, softness: 3 })),
      edit(made.scene, setItem({ id: dark, change: { opacity: 0.5 } })),
    ].map((scene) => keysOf(resultOf(scene), made)[0]);
    expect(new Set([first, ...others]).size).toBe(6);
    expect(keysOf(resultOf(JSON.parse(JSON.stringify(made.scene))), made)[0]).toBe(first);
  });
});

describe('drawing and reading', () => {
  it('draws the picture rounded to 8 bits, the mask as grey, and the tint over it', () => {
    const { made, dark } = setUp();
    const scene = edit(made.scene, setToneUse({ layerId: dark, use: 'mask' }));
    const result = resultOf(scene);
    const coverage = maskOf(scene, dark);
    const spot = { level: 0, tx: 1, ty: 0 };
    const picture = drawTile({ kind: 'picture', picture: result }, spot, made.context);
    const [r, g, b] = sampleAt(result, 130, 2, made.context);
    const at = (2 * 128 + 2) * 4;
    expect([...picture.subarray(at, at + 4)]).toEqual([
      Math.round(r / 257),
      Math.round(g / 257),
      Math.round(b / 257),
      255,
    ]);
    const grey = drawTile({ kind: 'grey', coverage }, spot, made.context);
    const [mask] = sampleAt(coverage, 130, 2, made.context);
    expect(grey[at]).toBe(Math.round(mask / 257));
    const over = drawTile(
      { kind: 'overlay', picture: result, coverage, colour: [0, 255, 0], strength: 1 },
      spot,
      made.context,
    );
    const weight = mask / 65535;
    expect(Math.abs(over[at + 1] - (picture[at + 1] * (1 - weight) + 255 * weight))).toBeLessThanOrEqual(1);
  });

  it('counts every pixel of the picture once', () => {
    const { made } = setUp();
    const counting = countHistogram(resultOf(made.scene), 0, made.context);
    let pauses = 0;
    let step = counting.next();
    for (; !step.done; step = counting.next()) pauses++;
    expect(pauses).toBe(6);
    expect(step.value.pixels).toBe(size.width * size.height);
    expect(step.value.red.reduce((sum, n) => sum + n)).toBe(size.width * size.height);
    // A pixel is as bright as its brightest channel, as it is where frames are judged.
    const expected = new Uint32Array(256);
    for (let y = 0; y < size.height; y++)
      for (let x = 0; x < size.width; x++) expected[Math.round(Math.max(...sources[1](x, y)) / 257)]++;
    expect(step.value.tone).toEqual(expected);
  });

  it('writes the whole picture tile by tile', () => {
    const { made } = setUp();
    const image = new Uint16Array(size.width * size.height * 3);
    for (const [tx, ty] of [
      [0, 0],
      [1, 0],
      [2, 0],
      [0, 1],
      [1, 1],
      [2, 1],
    ])
      writeTile(resultOf(made.scene), tx, ty, { region: { x: 0, y: 0, ...size }, pixels: image }, made.context);
    for (let i = 0; i < size.width * size.height; i += 311) {
      expect([...image.subarray(i * 3, i * 3 + 3)]).toEqual([
        ...sources[1](i % size.width, Math.floor(i / size.width)),
      ]);
    }
  });

  it('agrees with the coverage curve where the probe reads a stencil', () => {
    const { made, dark } = setUp();
    const scene = edit(made.scene, setTone({ layerId: dark, tone: { side: 'middle', narrowing: 0.5 } }));
    const weights = luminanceWeights(SRGB_PRIMARIES);
    const part = tonePartOf(findLayer(scene, dark) as Layer);
    const tone = sources[1](200, 50).reduce((sum, value, c) => sum + (value / 65535) * weights[c], 0);
    const [read] = sampleAt(nodeOf(scene, { what: 'stencil', at: dark }) as TileNode, 200, 50, made.context);
    expect(read / 65535).toBeCloseTo(toneCoverage(part as never, tone), 3);
  });
});

describe('layers below the selected one', () => {
  const four = [...sources, sources[0]];
  const masked = (made: SmallScene) =>
    layersOf(made.scene).reduce(
      (scene, { id }, i) =>
        edit(
          scene,
          setTone({ layerId: id, tone: { side: i % 2 ? 'light' : 'dark', narrowing: i / 2 } }),
          setToneUse({ layerId: id, use: 'mask' }),
          setItem({ id: id, change: { opacity: 0.83 } }),
        ),
      made.scene,
    );
  const pixels = (made: SmallScene, selected?: number) => {
    const scene = masked(made);
    const result = compilePlan(scene, new PlanMemory(), layersOf(scene)[selected ?? -1]?.id)?.node({
      what: 'result',
    }) as TileNode;
    return [0, 1, 2].map((plane) => planeOfNode(result, plane, 0, size, made.context));
  };

  it('are kept mixed, and the picture is the same to the bit', () => {
    const apart = pixels(smallScene(size, four));
    for (const selected of [0, 1, 2]) {
      const made = smallScene(size, four);
      expect(pixels(made, selected)).toEqual(apart);
      made.context.interactive = false;
      made.table.dropDerived();
      expect(pixels(made, selected)).toEqual(apart);
    }
  });

  it('are not mixed again when only the selected one changes', () => {
    const made = smallScene(size, four);
    const mixed: number[] = [];
    const { kernels } = made.context;
    made.context.kernels = {
      ...kernels,
      composite: (base, layers, out) => {
        mixed.push(layers.length);
        kernels.composite(base, layers, out);
      },
    };
    const scene = masked(made);
    const top = layersOf(scene)[2].id;
    const draw = (now: Scene) => {
      mixed.length = 0;
      const result = compilePlan(now, new PlanMemory(), top)?.node({ what: 'result' }) as TileNode;
      made.table.release(tileOf(result, { level: 0, tx: 0, ty: 0 }, made.context));
      return Math.max(...mixed);
    };
    expect(draw(scene)).toBe(2);
    expect(draw(edit(scene, setItem({ id: top, change: { opacity: 0.4 } })))).toBe(1);
  });
});

describe('memory', () => {
  it('says that it is full, and leaks nothing on the way', () => {
    const made = smallScene(size, sources, 86 * 32896); // 27 tiles of frames and pyramids take 81 slots
    const scene = edit(made.scene, setToneUse({ layerId: layerIdOf(made.frameIds[0]), use: 'mask' }));
    const result = resultOf(scene);
    const used = made.table.slab.usedSlots;
    const pinned: number[] = [];
    expect(() => {
      for (let tx = 0; tx < 3; tx++)
        for (let ty = 0; ty < 2; ty++) pinned.push(tileOf(result, { level: 0, tx, ty }, made.context).entry);
    }).toThrow(RenderError);
    made.table.dropDerived();
    expect(made.table.slab.usedSlots - used).toBeLessThanOrEqual(pinned.length * 3);
  });

  it('is empty after fifty scenes were opened and closed', () => {
    const small = { width: 140, height: 9 };
    const made = smallScene(small, sources);
    const close = () => {
      for (const frame of made.scene.frames) dropFrame(made.table, frameKey(frame.file.sha256), small);
      made.table.dropDerived();
    };
    for (let round = 0; round < 50; round++) {
      close();
      expect(made.table.slab.usedSlots).toBe(0);
      for (const [i, frame] of made.scene.frames.entries()) loadPixels(made.loader, frame, sources[i]);
      const scene = edit(made.scene, setToneUse({ layerId: layerIdOf(made.frameIds[0]), use: 'mask' }));
      made.table.release(tileOf(resultOf(scene), { level: 0, tx: 0, ty: 0 }, made.context));
      expect(made.table.slab.usedSlots).toBeGreaterThan(0);
    }
  });

  it('tells of a frame that is not in memory by name', () => {
    const { made } = setUp();
    dropFrame(made.table, frameKey(made.scene.frames[1].file.sha256), size);
    expect(() => tileOf(resultOf(made.scene), { level: 0, tx: 0, ty: 0 }, made.context)).toThrow(/frame-1\.tif/);
  });
});
