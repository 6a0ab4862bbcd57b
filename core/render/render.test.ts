import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  loadPixels,
  madeFrame,
  type PixelSource,
  planeOfNode,
  type SmallStudio,
  smallStudio,
} from '../../tests/smallStudio.ts';
import { luminanceWeights, SRGB_PRIMARIES } from '../color/primaries.ts';
import { toneCoverage } from '../masks/toneCurve.ts';
import { levelSize } from '../raster/size.ts';
import { keyText } from '../raster/tileKey.ts';
import type { EditRecord } from '../scene/edit.ts';
import { layerIdOf } from '../scene/edits/frames.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { setLayerOpacity, setLayerVisible } from '../scene/edits/layers.ts';
import {
  addStroke,
  setInverted,
  setJoin,
  setPartEnabled,
  setSoftness,
  setTone,
  setToneUse,
  tonePartOf,
} from '../scene/edits/masks.ts';
import { type LayerId, StrokeId } from '../scene/ids.ts';
import type { Stencil, Stroke } from '../scene/mask.ts';
import type { Scene } from '../scene/scene.ts';
import { drawTile } from './display.ts';
import { frameKey } from './frameNode.ts';
import { dropFrame } from './loadFrame.ts';
import { compilePlan, type PlanMemory, type RenderPlan } from './plan.ts';
import { countHistogram, sampleAt, writeTile } from './readings.ts';
import { RenderError, type TileNode, tileOf } from './studio.ts';

const size = { width: 300, height: 210 };
const clamp = (value: number) => Math.min(65535, Math.max(0, Math.round(value)));
/** Three frames of one made view, two stops apart in a way: a ramp, a texture, and clipping at the bright end. */
const view =
  (gain: number): PixelSource =>
  (x, y) => {
    const tone = gain * (8000 + x * 90 + 4000 * Math.sin(x / 7) * Math.cos(y / 5) + y * 30);
    return [clamp(tone), clamp(tone * 0.8), clamp(tone * 0.6 + 500)];
  };
const sources = [view(0.5), view(1), view(2)];

let lastStroke = 0;
function paint(
  made: SmallStudio,
  points: readonly (readonly [number, number])[],
  change: Partial<Stroke> = {},
): Stroke {
  const id = StrokeId.parse(`stroke-${++lastStroke}`);
  made.studio.book.append(id, Float32Array.from(points.flatMap(([x, y]) => [x, y, 1, 0])));
  return { id, target: 1, size: 80, hardness: 0.3, strength: 1, flow: 1, pressure: 'none', stencil: null, ...change };
}

const plan = (scene: Scene): RenderPlan => compilePlan(scene) as RenderPlan;
const edit = (scene: Scene, ...records: EditRecord[]): Scene => records.reduce(applyEdit, scene);
const maskOf = (scene: Scene, id: LayerId) => plan(scene).mask(id) as TileNode;

function setUp() {
  const made = smallStudio(size, sources);
  const dark = layerIdOf(made.frameIds[0]);
  const bright = layerIdOf(made.frameIds[2]);
  const whole = (node: TileNode, plane = 0, level = 0) =>
    planeOfNode(node, plane, level, levelSize(size, level), made.studio);
  return { made, dark, bright, whole };
}

describe('a scene without masks', () => {
  it('is its base, at every level, sample by sample', () => {
    const { made, whole } = setUp();
    const result = plan(made.scene).result;
    const base = plan(made.scene).frame(made.frameIds[1]);
    for (const level of [0, 1])
      for (const plane of [0, 1, 2]) expect(whole(result, plane, level)).toEqual(whole(base, plane, level));
    const red = whole(result);
    for (let i = 0; i < red.length; i += 997)
      expect(red[i]).toBe(sources[1](i % size.width, Math.floor(i / size.width))[0]);
  });

  it("costs no memory: the tiles are the base frame's own", () => {
    const { made, whole } = setUp();
    const before = made.table.slab.usedSlots;
    whole(plan(made.scene).result);
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
      setLayerOpacity({ layerId: dark, opacity: 0.8 }),
    );
    const weights = luminanceWeights(SRGB_PRIMARIES);
    const result = [0, 1, 2].map((plane) => whole(plan(scene).result, plane));
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
    const base = whole(plan(made.scene).result);
    const laid = edit(made.scene, setToneUse({ layerId: dark, use: 'mask' }));
    expect(whole(plan(laid).result)).not.toEqual(base);
    expect(whole(plan(edit(laid, setLayerVisible({ layerId: dark, visible: false }))).result)).toEqual(base);
    expect(whole(plan(edit(laid, setLayerOpacity({ layerId: dark, opacity: 0 }))).result)).toEqual(base);
  });

  it('show the layer whole where the mask is full', () => {
    const { made, dark, whole } = setUp();
    const scene = edit(made.scene, setInverted({ layerId: dark, inverted: true }));
    expect(whole(plan(scene).result)).toEqual(whole(plan(scene).frame(made.frameIds[0])));
  });

  it('read the picture so far below the layer', () => {
    const { made, whole } = setUp();
    const [first, second] = made.scene.stack;
    const scene = edit(
      made.scene,
      setInverted({ layerId: first.id, inverted: true }),
      setTone({ layerId: second.id, tone: { source: 'sofar' } }),
      setToneUse({ layerId: second.id, use: 'mask' }),
    );
    const same = edit(
      made.scene,
      setInverted({ layerId: first.id, inverted: true }),
      setTone({ layerId: second.id, tone: { source: 'layer' } }),
      setToneUse({ layerId: second.id, use: 'mask' }),
    );
    const below = whole(plan(scene).toneSource(second.id, 'sofar') as TileNode);
    expect(below).toEqual(whole(plan(scene).frame(first.frame)));
    expect(whole(maskOf(scene, second.id))).not.toEqual(whole(maskOf(same, second.id)));
  });
});

describe('painting', () => {
  it('reveals under the brush, and hiding takes it back', () => {
    const { made, dark, whole } = setUp();
    const revealed = edit(
      made.scene,
      addStroke({
        layerId: dark,
        stroke: paint(made, [
          [60, 60],
          [240, 60],
        ]),
      }),
    );
    const at = (scene: Scene, x: number, y: number) => whole(maskOf(scene, dark))[y * size.width + x];
    expect(at(revealed, 150, 60)).toBe(65535);
    expect(at(revealed, 150, 180)).toBe(0);
    const hidden = edit(
      revealed,
      addStroke({
        layerId: dark,
        stroke: paint(
          made,
          [
            [150, 20],
            [150, 100],
          ],
          { target: 0 },
        ),
      }),
    );
    expect(at(hidden, 150, 60)).toBe(0);
    expect(at(hidden, 70, 60)).toBe(65535);
  });

  it('hides tones that are laid as mask, when it is added to them', () => {
    const { made, dark, whole } = setUp();
    const laid = edit(made.scene, setToneUse({ layerId: dark, use: 'mask' }));
    const hidden = edit(laid, addStroke({ layerId: dark, stroke: paint(made, [[150, 100]], { target: 0 }) }));
    const tones = whole(maskOf(laid, dark));
    const mask = whole(maskOf(hidden, dark));
    expect(mask[100 * size.width + 150]).toBe(0);
    expect(mask[10 * size.width + 10]).toBe(tones[10 * size.width + 10]);
  });

  it('joins the tones by add, subtract and intersect', () => {
    const { made, dark, whole } = setUp();
    const both = edit(
      made.scene,
      setToneUse({ layerId: dark, use: 'mask' }),
      addStroke({ layerId: dark, stroke: paint(made, [[150, 100]], { strength: 0.6 }) }),
    );
    const tone = whole(maskOf(edit(both, setPartEnabled({ layerId: dark, part: 'painted', enabled: false })), dark));
    const brush = whole(maskOf(edit(both, setPartEnabled({ layerId: dark, part: 'tone', enabled: false })), dark));
    const i = 100 * size.width + 150;
    const [t, b] = [tone[i] / 65535, brush[i] / 65535];
    const joined = (join: 'add' | 'subtract' | 'intersect') =>
      whole(maskOf(edit(both, setJoin({ layerId: dark, part: 'painted', join })), dark))[i] / 65535;
    expect(b).toBeCloseTo(0.6, 4);
    expect(joined('add')).toBeCloseTo(t + b - t * b, 4);
    expect(joined('subtract')).toBeCloseTo(t * (1 - b), 4);
    expect(joined('intersect')).toBeCloseTo(t * b, 4);
  });

  it('through a stencil covers stencil x strength, and keeps the stencil as it was', () => {
    const { made, dark, whole } = setUp();
    const stencilled = edit(made.scene, setTone({ layerId: dark, tone: { side: 'light' } }));
    const layer = stencilled.stack.find(({ id }) => id === dark);
    const stencil = layer?.stencil as Stencil;
    const painted = edit(
      stencilled,
      addStroke({
        layerId: dark,
        stroke: paint(
          made,
          [
            [60, 100],
            [240, 100],
          ],
          { stencil, strength: 0.5, size: 300, hardness: 1 },
        ),
      }),
    );
    const tones = whole(plan(painted).stencil(dark) as TileNode);
    const mask = whole(maskOf(painted, dark));
    for (let x = 60; x < 240; x += 17)
      expect(Math.abs(mask[100 * size.width + x] - tones[100 * size.width + x] / 2)).toBeLessThanOrEqual(1);
    const changed = edit(painted, setTone({ layerId: dark, tone: { side: 'dark' } }));
    expect(whole(maskOf(changed, dark))).toEqual(mask);
  });

  it('forty passes of 10 % through a stencil cover 1 - (1 - 0.1 s)^40, without banding', () => {
    const ramp: PixelSource = (x) => {
      const tone = clamp((x / 1023) * 65535);
      return [tone, tone, tone];
    };
    const wide = { width: 1024, height: 20 };
    const made = smallStudio(wide, [ramp, ramp]);
    const layer = made.scene.stack[0].id;
    let scene = edit(made.scene, setTone({ layerId: layer, tone: {} }));
    const stencil = { tone: tonePartOf(scene.stack[0]) } as Stencil;
    for (let pass = 0; pass < 40; pass++) {
      scene = edit(
        scene,
        addStroke({
          layerId: layer,
          stroke: paint(
            made,
            [
              [-200, 10],
              [1224, 10],
            ],
            { stencil, strength: 0.1, hardness: 1, size: 400 },
          ),
        }),
      );
    }
    const mask = planeOfNode(maskOf(scene, layer), 0, 0, wide, made.studio).subarray(10 * 1024, 11 * 1024);
    const tones = planeOfNode(plan(scene).stencil(layer) as TileNode, 0, 0, wide, made.studio).subarray(
      10 * 1024,
      11 * 1024,
    );
    for (let x = 0; x < 1024; x++) {
      const closed = 1 - (1 - 0.1 * (tones[x] / 65535)) ** 40;
      expect(Math.abs(mask[x] - closed * 65535)).toBeLessThanOrEqual(4);
    }
    // Full stencil: 1 - 0.9^40. Every step of the ramp stays a step of its own.
    expect(Math.abs(mask[1023] - (1 - 0.9 ** 40) * 65535)).toBeLessThanOrEqual(4);
    expect(new Set(mask).size).toBe(1024);
  });

  it('gives the same bits whether a stroke grew or came at once, and on a fresh studio', () => {
    const path = [
      [20, 20],
      [150, 120],
      [280, 60],
      [40, 190],
    ] as const;
    const grown = setUp();
    const stroke = paint(grown.made, path.slice(0, 1), { flow: 0.4, size: 60 });
    const scene = edit(grown.made.scene, addStroke({ layerId: grown.dark, stroke }));
    for (const point of path.slice(1)) {
      grown.whole(maskOf(scene, grown.dark));
      grown.made.studio.book.append(stroke.id, Float32Array.of(...point, 1, 0));
    }
    const once = setUp();
    once.made.studio.book.append(stroke.id, Float32Array.from(path.flatMap(([x, y]) => [x, y, 1, 0])));
    expect(grown.whole(maskOf(scene, grown.dark))).toEqual(once.whole(maskOf(scene, once.dark)));
  });

  it('gives the same bits whether somebody looks on or not', () => {
    const watched = setUp();
    const strokes = [
      paint(watched.made, [
        [60, 60],
        [240, 90],
      ]),
      paint(
        watched.made,
        [
          [100, 50],
          [100, 180],
        ],
        { target: 0, strength: 0.4 },
      ),
    ];
    const scene = edit(
      watched.made.scene,
      setToneUse({ layerId: watched.dark, use: 'mask' }),
      ...strokes.map((stroke) => addStroke({ layerId: watched.dark, stroke })),
    );
    const seen = watched.whole(plan(scene).result);
    const alone = setUp();
    alone.made.studio.book.append(strokes[0].id, Float32Array.of(60, 60, 1, 0, 240, 90, 1, 0));
    alone.made.studio.book.append(strokes[1].id, Float32Array.of(100, 50, 1, 0, 100, 180, 1, 0));
    alone.made.studio.watched = false;
    const before = alone.made.table.slab.usedSlots;
    expect(alone.whole(plan(scene).result)).toEqual(seen);
    // A mask and three planes a tile at most: no painted planes are kept.
    expect(alone.made.table.slab.usedSlots - before).toBeLessThanOrEqual(6 * 5);
  });

  it('can be undone in any order: strokes not asked for leave no trace', () => {
    const { made, dark, whole } = setUp();
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 210 })), {
          minLength: 1,
          maxLength: 6,
        }),
        (spots) => {
          const strokes = spots.map((spot) => paint(made, [spot], { strength: 0.7 }));
          const all = edit(made.scene, ...strokes.map((stroke) => addStroke({ layerId: dark, stroke })));
          whole(maskOf(all, dark));
          const some = edit(made.scene, ...strokes.slice(0, -1).map((stroke) => addStroke({ layerId: dark, stroke })));
          const again = setUp();
          for (const [i, stroke] of strokes.entries())
            again.made.studio.book.append(stroke.id, Float32Array.of(...spots[i], 1, 0));
          expect(whole(maskOf(some, dark))).toEqual(again.whole(maskOf(some, again.dark)));
        },
      ),
      { numRuns: 8 },
    );
  });
});

describe('softness', () => {
  it('blurs across tile borders without a seam', () => {
    const { made, dark, whole } = setUp();
    const half: PixelSource = (x) => (x < 128 ? [0, 0, 0] : [65535, 65535, 65535]);
    const frame = { ...madeFrame(9, size), file: { sha256: 'a'.repeat(64), name: 'half', bytes: 1 } };
    loadPixels(made.desk, frame, half);
    const scene: Scene = {
      ...made.scene,
      frames: made.scene.frames.map((each) => (each.id === made.scene.base ? { ...frame, id: each.id } : each)),
    };
    const soft = edit(scene, setToneUse({ layerId: dark, use: 'mask' }), setSoftness({ layerId: dark, softness: 10 }));
    const row = whole(maskOf(soft, dark)).subarray(100 * size.width, 101 * size.width);
    for (let d = 0; d < 40; d++) expect(Math.abs(row[127 - d] + row[128 + d] - 65535)).toBeLessThanOrEqual(2);
    for (let x = 1; x < size.width; x++) expect(row[x]).toBeGreaterThanOrEqual(row[x - 1]);
    expect(row[128]).toBeLessThan(36000);
  });

  it('looks alike at the coarser level', () => {
    const { made, dark, whole } = setUp();
    const soft = edit(
      made.scene,
      addStroke({ layerId: dark, stroke: paint(made, [[150, 100]], { size: 120, hardness: 1 }) }),
      setSoftness({ layerId: dark, softness: 12 }),
    );
    const fine = whole(maskOf(soft, dark), 0, 0);
    const coarse = whole(maskOf(soft, dark), 0, 1);
    for (let x = 20; x < 130; x += 9) {
      const mean =
        (fine[100 * 300 + 2 * x] +
          fine[100 * 300 + 2 * x + 1] +
          fine[101 * 300 + 2 * x] +
          fine[101 * 300 + 2 * x + 1]) /
        4;
      expect(Math.abs(mean - coarse[50 * 150 + x])).toBeLessThan(900);
    }
  });
});

describe('keys', () => {
  const keysOf = (node: TileNode, made: SmallStudio) =>
    [0, 1, 2].flatMap((tx) => [0, 1].map((ty) => keyText(node.keyAt({ level: 0, tx, ty }, made.studio))));

  it('change only where a stroke touches', () => {
    const { made, dark } = setUp();
    const before = keysOf(plan(made.scene).result, made);
    const after = keysOf(
      plan(edit(made.scene, addStroke({ layerId: dark, stroke: paint(made, [[20, 20]], { size: 30 }) }))).result,
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
      edit(made.scene, setLayerOpacity({ layerId: dark, opacity: 0.5 })),
    ].map((scene) => keysOf(plan(scene).result, made)[0]);
    expect(new Set([first, ...others]).size).toBe(6);
    expect(keysOf(plan(JSON.parse(JSON.stringify(made.scene))).result, made)[0]).toBe(first);
  });
});

describe('a thousand strokes', () => {
  it('have the same keys whether the plan remembers the one before or not, through undo and change', () => {
    const { made, dark } = setUp();
    const memory: PlanMemory = new Map();
    const keys = (scene: Scene, with_: PlanMemory) =>
      keyText((compilePlan(scene, with_) as RenderPlan).result.keyAt({ level: 0, tx: 1, ty: 0 }, made.studio));
    const strokes = Array.from({ length: 1000 }, (_, i) =>
      paint(made, [[140 + (i % 9), 60]], { strength: 0.1, size: 20 }),
    );
    const withStrokes = (list: readonly Stroke[]): Scene =>
      edit(made.scene, ...list.map((stroke) => addStroke({ layerId: dark, stroke })));
    const all = withStrokes(strokes);
    const undone = withStrokes(strokes.slice(0, -1));
    const other = withStrokes([...strokes.slice(0, 500), ...strokes.slice(600)]);
    for (const scene of [all, undone, all, other, undone, all])
      expect(keys(scene, memory)).toBe(keys(scene, new Map()));
  });
});

describe('drawing and reading', () => {
  it('draws the picture rounded to 8 bits, the mask as grey, and the tint over it', () => {
    const { made, dark } = setUp();
    const scene = edit(made.scene, setToneUse({ layerId: dark, use: 'mask' }));
    const { result } = plan(scene);
    const coverage = maskOf(scene, dark);
    const spot = { level: 0, tx: 1, ty: 0 };
    const picture = drawTile({ kind: 'picture', picture: result }, spot, made.studio);
    const [r, g, b] = sampleAt(result, 130, 2, made.studio);
    const at = (2 * 128 + 2) * 4;
    expect([...picture.subarray(at, at + 4)]).toEqual([
      Math.round(r / 257),
      Math.round(g / 257),
      Math.round(b / 257),
      255,
    ]);
    const grey = drawTile({ kind: 'grey', coverage }, spot, made.studio);
    const [mask] = sampleAt(coverage, 130, 2, made.studio);
    expect(grey[at]).toBe(Math.round(mask / 257));
    const over = drawTile(
      { kind: 'overlay', picture: result, coverage, colour: [0, 255, 0], strength: 1 },
      spot,
      made.studio,
    );
    const weight = mask / 65535;
    expect(Math.abs(over[at + 1] - (picture[at + 1] * (1 - weight) + 255 * weight))).toBeLessThanOrEqual(1);
  });

  it('counts every pixel of the picture once', () => {
    const { made } = setUp();
    const weights = luminanceWeights(SRGB_PRIMARIES);
    const counting = countHistogram(plan(made.scene).result, 0, weights, made.studio);
    let pauses = 0;
    let step = counting.next();
    for (; !step.done; step = counting.next()) pauses++;
    expect(pauses).toBe(6);
    expect(step.value.pixels).toBe(size.width * size.height);
    expect(step.value.red.reduce((sum, n) => sum + n)).toBe(size.width * size.height);
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
      writeTile(plan(made.scene).result, tx, ty, image, made.studio);
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
    const part = tonePartOf(scene.stack.find(({ id }) => id === dark) as Scene['stack'][number]);
    const tone = sources[1](200, 50).reduce((sum, value, c) => sum + (value / 65535) * weights[c], 0);
    const [read] = sampleAt(plan(scene).stencil(dark) as TileNode, 200, 50, made.studio);
    expect(read / 65535).toBeCloseTo(toneCoverage(part as never, tone), 3);
  });
});

describe('memory', () => {
  it('says that it is full, and leaks nothing on the way', () => {
    const made = smallStudio(size, sources, 86 * 32896); // 27 tiles of frames and pyramids take 81 slots
    const scene = edit(made.scene, setToneUse({ layerId: layerIdOf(made.frameIds[0]), use: 'mask' }));
    const { result } = plan(scene);
    const used = made.table.slab.usedSlots;
    const pinned: number[] = [];
    expect(() => {
      for (let tx = 0; tx < 3; tx++)
        for (let ty = 0; ty < 2; ty++) pinned.push(tileOf(result, { level: 0, tx, ty }, made.studio).entry);
    }).toThrow(RenderError);
    made.table.dropDerived();
    expect(made.table.slab.usedSlots - used).toBeLessThanOrEqual(pinned.length * 3);
  });

  it('is empty after fifty scenes were opened and closed', () => {
    const small = { width: 140, height: 9 };
    const made = smallStudio(small, sources);
    const close = () => {
      for (const frame of made.scene.frames) dropFrame(made.table, frameKey(frame.file.sha256), small);
      made.table.dropDerived();
    };
    for (let round = 0; round < 50; round++) {
      close();
      expect(made.table.slab.usedSlots).toBe(0);
      for (const [i, frame] of made.scene.frames.entries()) loadPixels(made.desk, frame, sources[i]);
      const scene = edit(made.scene, setToneUse({ layerId: layerIdOf(made.frameIds[0]), use: 'mask' }));
      made.table.release(tileOf(plan(scene).result, { level: 0, tx: 0, ty: 0 }, made.studio));
      expect(made.table.slab.usedSlots).toBeGreaterThan(0);
    }
  });

  it('tells of a frame that is not in memory by name', () => {
    const { made } = setUp();
    dropFrame(made.table, frameKey(made.scene.frames[1].file.sha256), size);
    expect(() => tileOf(plan(made.scene).result, { level: 0, tx: 0, ty: 0 }, made.studio)).toThrow(/frame-1\.tif/);
  });
});
