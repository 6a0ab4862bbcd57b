import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clamp, edit, maskOf, nodeOf, paint, resultOf, setUp, size } from '../../tests/renderScene.ts';
import { loadPixels, madeFrame, type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { PartId } from '../ids.ts';
import type { Stroke } from '../masks/stroke.ts';
import { keyText } from '../raster/tileKey.ts';
import { setJoin, setPartEnabled } from '../scene/edits/masks.ts';
import { setSoftness, setTone, setToneUse } from '../scene/edits/older.ts';
import { addStroke } from '../scene/edits/painting.ts';
import type { Layer } from '../scene/item.ts';
import type { Mask } from '../scene/mask.ts';
import type { Scene } from '../scene/scene.ts';
import { layersOf } from '../scene/tree.ts';
import { compilePlan } from './plan/plan.ts';
import { PlanMemory } from './plan/planMemory.ts';
import { type TileNode, tileOf } from './tiles/renderContext.ts';

describe('painting', () => {
  it('reveals under the brush, and hiding takes it back', () => {
    const { made, dark, whole } = setUp();
    const revealed = edit(
      made.scene,
      addStroke({
        owner: dark,
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
        owner: dark,
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
    const hidden = edit(laid, addStroke({ owner: dark, stroke: paint(made, [[150, 100]], { target: 0 }) }));
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
      addStroke({ owner: dark, stroke: paint(made, [[150, 100]], { strength: 0.6 }) }),
    );
    const tone = whole(
      maskOf(edit(both, setPartEnabled({ owner: dark, part: PartId.parse('painted'), enabled: false })), dark),
    );
    const brush = whole(
      maskOf(edit(both, setPartEnabled({ owner: dark, part: PartId.parse('tone'), enabled: false })), dark),
    );
    const i = 100 * size.width + 150;
    const [t, b] = [tone[i] / 65535, brush[i] / 65535];
    const joined = (join: 'add' | 'subtract' | 'intersect') =>
      whole(maskOf(edit(both, setJoin({ owner: dark, part: PartId.parse('painted'), join })), dark))[i] / 65535;
    expect(b).toBeCloseTo(0.6, 4);
    expect(joined('add')).toBeCloseTo(t + b - t * b, 4);
    expect(joined('subtract')).toBeCloseTo(t * (1 - b), 4);
    expect(joined('intersect')).toBeCloseTo(t * b, 4);
  });

  it('through a stencil covers stencil x strength, and keeps the stencil as it was', () => {
    const { made, dark, whole } = setUp();
    const stencilled = edit(made.scene, setTone({ layerId: dark, tone: { side: 'light' } }));
    const layer = stencilled.stack.find(({ id }) => id === dark);
    const through = { of: null, seenFrom: null, mask: (layer as Layer).stencil?.mask as Mask };
    const painted = edit(
      stencilled,
      addStroke({
        owner: dark,
        stroke: paint(
          made,
          [
            [60, 100],
            [240, 100],
          ],
          { strength: 0.5, size: 300, hardness: 1 },
        ),
        through,
      }),
    );
    const tones = whole(nodeOf(painted, { what: 'stencil', at: dark }) as TileNode);
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
    const made = smallScene(wide, [ramp, ramp]);
    const layer = layersOf(made.scene)[0].id;
    let scene = edit(made.scene, setTone({ layerId: layer, tone: {} }));
    const through = { of: null, seenFrom: null, mask: layersOf(scene)[0].stencil?.mask as Mask };
    for (let pass = 0; pass < 40; pass++) {
      scene = edit(
        scene,
        addStroke({
          owner: layer,
          stroke: paint(
            made,
            [
              [-200, 10],
              [1224, 10],
            ],
            { strength: 0.1, hardness: 1, size: 400 },
          ),
          through,
        }),
      );
    }
    const mask = planeOfNode(maskOf(scene, layer), 0, 0, wide, made.context).subarray(10 * 1024, 11 * 1024);
    const tones = planeOfNode(
      nodeOf(scene, { what: 'stencil', at: layer }) as TileNode,
      0,
      0,
      wide,
      made.context,
    ).subarray(10 * 1024, 11 * 1024);
    for (let x = 0; x < 1024; x++) {
      const closed = 1 - (1 - 0.1 * (tones[x] / 65535)) ** 40;
      expect(Math.abs(mask[x] - closed * 65535)).toBeLessThanOrEqual(4);
    }
    // Full stencil: 1 - 0.9^40. Every step of the ramp stays a step of its own.
    expect(Math.abs(mask[1023] - (1 - 0.9 ** 40) * 65535)).toBeLessThanOrEqual(4);
    expect(new Set(mask).size).toBe(1024);
  });

  it('gives the same bits whether a stroke grew or came at once, and on a fresh context', () => {
    const path = [
      [20, 20],
      [150, 120],
      [280, 60],
      [40, 190],
    ] as const;
    const grown = setUp();
    const stroke = paint(grown.made, path.slice(0, 1), { flow: 0.4, size: 60 });
    const scene = edit(grown.made.scene, addStroke({ owner: grown.dark, stroke }));
    for (const point of path.slice(1)) {
      grown.whole(maskOf(scene, grown.dark));
      grown.made.context.strokes.append(stroke.id, Float32Array.of(...point, 1, 0));
    }
    const once = setUp();
    once.made.context.strokes.append(stroke.id, Float32Array.from(path.flatMap(([x, y]) => [x, y, 1, 0])));
    expect(grown.whole(maskOf(scene, grown.dark))).toEqual(once.whole(maskOf(scene, once.dark)));
  });

  it.each([
    { kind: 'two strokes', change: {} },
    { kind: 'a wide soft stroke', change: { size: 400, hardness: 0 }, isAlone: true },
    { kind: 'a wide soft stroke under another', change: { size: 400, hardness: 0 } },
  ])('gives the same bits interactively or not: $kind', ({ change, isAlone }) => {
    const interactive = setUp();
    const strokes = [
      paint(
        interactive.made,
        [
          [60, 60],
          [240, 90],
        ],
        change,
      ),
      paint(
        interactive.made,
        [
          [100, 50],
          [100, 180],
        ],
        { target: 0, strength: 0.4 },
      ),
    ];
    const scene = edit(
      interactive.made.scene,
      setToneUse({ layerId: interactive.dark, use: 'mask' }),
      ...strokes.slice(0, isAlone ? 1 : 2).map((stroke) => addStroke({ owner: interactive.dark, stroke })),
    );
    const seen = interactive.whole(resultOf(scene));
    const alone = setUp();
    alone.made.context.strokes.append(strokes[0].id, Float32Array.of(60, 60, 1, 0, 240, 90, 1, 0));
    alone.made.context.strokes.append(strokes[1].id, Float32Array.of(100, 50, 1, 0, 100, 180, 1, 0));
    alone.made.context.interactive = false;
    const before = alone.made.table.slab.usedSlots;
    expect(alone.whole(resultOf(scene))).toEqual(seen);
    alone.made.context.transient.end();
    // A mask a tile at most, and the table of tones: neither painted planes nor the picture are kept.
    expect(alone.made.table.slab.usedSlots - before).toBeLessThanOrEqual(6 + 4);
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
          const all = edit(made.scene, ...strokes.map((stroke) => addStroke({ owner: dark, stroke })));
          whole(maskOf(all, dark));
          const some = edit(made.scene, ...strokes.slice(0, -1).map((stroke) => addStroke({ owner: dark, stroke })));
          const again = setUp();
          for (const [i, stroke] of strokes.entries())
            again.made.context.strokes.append(stroke.id, Float32Array.of(...spots[i], 1, 0));
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
    loadPixels(made.loader, frame, half);
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
      addStroke({ owner: dark, stroke: paint(made, [[150, 100]], { size: 120, hardness: 1 }) }),
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

describe('a thousand strokes', () => {
  it('are not painted again when the last of them is undone, nor all of them when many are', () => {
    const { made, dark } = setUp();
    let painted = 0;
    const { kernels } = made.context;
    made.context.kernels = {
      ...kernels,
      paintOver: (...given) => {
        painted++;
        kernels.paintOver(...given);
      },
    };
    const strokes = Array.from({ length: 1000 }, (_, i) =>
      paint(made, [[140 + (i % 9), 60]], { strength: 0.1, size: 20, hardness: 1 }),
    );
    const memory = new PlanMemory();
    const paintedFor = (count: number): number => {
      painted = 0;
      const layer = made.scene.stack.findIndex(({ id }) => id === dark);
      const { mask } = made.scene.stack[layer];
      const parts = mask.parts.map((part) =>
        part.kind === 'painted' ? { ...part, strokes: strokes.slice(0, count) } : part,
      );
      const stack = made.scene.stack.with(layer, { ...made.scene.stack[layer], mask: { ...mask, parts } });
      const result = compilePlan({ ...made.scene, stack }, memory)?.node({ what: 'result' }) as TileNode;
      made.table.release(tileOf(result, { level: 0, tx: 1, ty: 0 }, made.context));
      return painted;
    };
    expect(paintedFor(1000)).toBe(1000);
    expect(paintedFor(999)).toBe(0);
    expect(paintedFor(1000)).toBe(0);
    expect(paintedFor(995)).toBeLessThanOrEqual(8);
    expect(paintedFor(950)).toBeLessThanOrEqual(64);
    expect(paintedFor(600)).toBeLessThanOrEqual(512);
  });

  it('have the same keys whether the plan remembers the one before or not, through undo and change', () => {
    const { made, dark } = setUp();
    const memory = new PlanMemory();
    const keys = (scene: Scene, with_: PlanMemory) =>
      keyText(resultOf(scene, with_).keyAt({ level: 0, tx: 1, ty: 0 }, made.context));
    const strokes = Array.from({ length: 1000 }, (_, i) =>
      paint(made, [[140 + (i % 9), 60]], { strength: 0.1, size: 20 }),
    );
    const withStrokes = (list: readonly Stroke[]): Scene =>
      edit(made.scene, ...list.map((stroke) => addStroke({ owner: dark, stroke })));
    const all = withStrokes(strokes);
    const undone = withStrokes(strokes.slice(0, -1));
    const other = withStrokes([...strokes.slice(0, 500), ...strokes.slice(600)]);
    for (const scene of [all, undone, all, other, undone, all])
      expect(keys(scene, memory)).toBe(keys(scene, new PlanMemory()));
    const before = keys(all, memory);
    made.context.strokes.append(strokes[300].id, Float32Array.of(145, 90, 1, 9));
    for (const scene of [all, undone, all]) expect(keys(scene, memory)).toBe(keys(scene, new PlanMemory()));
    expect(keys(all, memory)).not.toBe(before);
  });
});
