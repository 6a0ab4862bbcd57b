import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { box, radial, setUpMasks } from '../../tests/maskParts.ts';
import { edit, nodeOf, paint, size, sources } from '../../tests/renderScene.ts';
import { labOfLms, lmsMatrix } from '../color/oklab.ts';
import { decodeSrgb } from '../color/srgb.ts';
import { type ItemId, PartId, StencilId } from '../ids.ts';
import { smoothstep } from '../kernels/smoothstep.ts';
import type { Stroke } from '../masks/stroke.ts';
import { newTonePart } from '../parts/tone.ts';
import { times3 } from '../raster/matrix3.ts';
import { addPart, copyPart, movePart, removePart, setJoin, setPart, setPartEnabled } from '../scene/edits/masks.ts';
import { addStroke, changedSince, repaintThrough } from '../scene/edits/painting.ts';
import { layStencil, setStencil } from '../scene/edits/stencils.ts';
import { emptyMask, type Mask, maskOfParts } from '../scene/mask.ts';
import { maskAt, strokesOf } from '../scene/places.ts';
import type { Scene } from '../scene/scene.ts';

const { made, dark, bright, whole, add, maskIn, at } = setUpMasks();
const id = (text: string) => PartId.parse(text);

describe('strokes that soften and even out', () => {
  const textured = add(made.scene, dark, { ...newTonePart('base'), narrowing: 3 });
  const laid = edit(textured, movePart({ owner: dark, part: id('tone'), to: 0 }));
  const along = [
    [100, 100],
    [220, 100],
  ] as const;
  const roughness = (plane: Uint16Array, y: number) => {
    let sum = 0;
    for (let x = 130; x < 190; x++) sum += Math.abs(plane[y * size.width + x] - plane[y * size.width + x - 1]);
    return sum;
  };

  it('take the texture out of the mask under the brush, and leave the rest', () => {
    for (const effect of ['soften', 'even'] as const) {
      const after = edit(
        laid,
        addStroke({ owner: dark, stroke: paint(made, along, { effect, size: 90, hardness: 1 }) }),
      );
      const [was, is] = [maskIn(laid), maskIn(after)];
      expect(roughness(is, 100)).toBeLessThan(roughness(was, 100) * 0.7);
      expect(roughness(is, 180)).toBe(roughness(was, 180));
    }
  });

  it('by half come half way', () => {
    const stroke = (strength: number) => paint(made, [[150, 100]], { effect: 'even', size: 90, hardness: 1, strength });
    const [full, half] = [1, 0.5].map((strength) =>
      maskIn(edit(laid, addStroke({ owner: dark, stroke: stroke(strength) }))),
    );
    const place = { x: 152, y: 104 };
    expect(at(half, place)).toBeCloseTo((at(full, place) + at(maskIn(laid), place)) / 2, 3);
  });

  it('go on from what the strokes before them left, and end where those are undone', () => {
    const first = edit(
      laid,
      addStroke({ owner: dark, stroke: paint(made, along, { effect: 'soften', size: 90, hardness: 1 }) }),
    );
    const second = edit(
      first,
      addStroke({ owner: dark, stroke: paint(made, along, { effect: 'soften', size: 90, hardness: 1 }) }),
    );
    expect(roughness(maskIn(second), 100)).toBeLessThan(roughness(maskIn(first), 100));
  });
});

describe('fills and what strokes keep to', () => {
  const fill = (change: object) => ({ ...paint(made, [[0, 0]]), ...change });
  it('fill all, or the inside of an outline, and are cleared like strokes', () => {
    const { id: strokeId, strength, target, stencil } = fill({});
    const touch = { id: strokeId, strength, target, stencil, fill: true as const, feather: 0 };
    const all = edit(made.scene, addStroke({ owner: dark, stroke: { ...touch, outline: null, strength: 0.6 } }));
    expect(maskIn(all).every((value) => value === Math.round(0.6 * 65535))).toBe(true);
    const inside = edit(
      made.scene,
      addStroke({ owner: dark, stroke: { ...touch, outline: [40, 40, 200, 40, 200, 160, 40, 160] } }),
    );
    expect(maskIn(inside)).toEqual(maskIn(add(made.scene, dark, box)));
    expect(strokesOf(all)).toEqual([strokeId]);
  });

  it('a stroke stays on the colour under its centre, and does not when that is not asked for', () => {
    const keepTo = { frame: made.frameIds[1], tolerance: 0.03 };
    const centre = { x: 150, y: 100 };
    const laid = (change: Partial<Stroke>) =>
      maskIn(
        edit(
          made.scene,
          addStroke({
            owner: dark,
            stroke: paint(made, [[centre.x + 0.5, centre.y + 0.5]], { size: 46, hardness: 1, ...change }),
          }),
        ),
      );
    const [kept, free] = [laid({ keepTo }), laid({})];
    const lab = ({ x, y }: { x: number; y: number }) => {
      const rgb = sources[1](x, y).map((value) => decodeSrgb(value / 65535));
      return labOfLms(times3(lmsMatrix('srgb'), rgb as [number, number, number]));
    };
    const shares: number[] = [];
    for (let dy = -12; dy <= 12; dy += 3)
      for (let dx = -12; dx <= 12; dx += 3) {
        const place = { x: centre.x + dx, y: centre.y + dy };
        const away = Math.hypot(...lab(place).map((value, axis) => value - lab(centre)[axis]));
        const share = smoothstep(2 - away / keepTo.tolerance);
        shares.push(share);
        expect(at(free, place)).toBe(1);
        expect(at(kept, place)).toBeCloseTo(share, 2);
      }
    expect([Math.min(...shares), Math.max(...shares)]).toEqual([0, 1]);
  });

  it('a stroke that goes from one colour to another stays on each in turn', () => {
    const keepTo = { frame: made.frameIds[1], tolerance: 0.02 };
    const stroke = (points: [number, number][]) => paint(made, points, { size: 30, hardness: 1, keepTo });
    const over = (points: [number, number][]) =>
      maskIn(edit(made.scene, addStroke({ owner: dark, stroke: stroke(points) })));
    const [along, start] = [
      over([
        [40, 100],
        [260, 100],
      ]),
      over([[40, 100]]),
    ];
    for (let x = 45; x <= 255; x += 15) expect(at(along, { x, y: 100 })).toBeGreaterThan(0.99);
    expect(at(start, { x: 100, y: 100 })).toBe(0);
  });

  it('is the same whether it is painted at once or grows, at every level', () => {
    const keepTo = { frame: made.frameIds[1], tolerance: 0.03 };
    const change = { size: 60, hardness: 0.5, flow: 0.3, keepTo };
    const points = Array.from({ length: 12 }, (_, i): [number, number] => [60 + 12 * i, 60 + 5 * i]);
    const grown = paint(made, points.slice(0, 1), change);
    const scene = edit(made.scene, addStroke({ owner: dark, stroke: grown }));
    for (const [x, y] of points.slice(1)) {
      made.context.strokes.append(grown.id, Float32Array.of(x, y, 1, 0));
      maskIn(scene);
    }
    const atOnce = edit(made.scene, addStroke({ owner: dark, stroke: paint(made, points, change) }));
    expect(maskIn(scene)).toEqual(maskIn(atOnce));
  });

  it('strokes made through a stencil are painted anew through it when it has changed, and no others', () => {
    const stencil = { id: StencilId.parse('s1'), name: '', mask: maskOfParts([newTonePart('base')]) };
    const held = edit(made.scene, setStencil({ layerId: dark, stencil }));
    const recipe = (mask: Mask) => ({ of: stencil.id, seenFrom: null, mask });
    const wide = () => paint(made, [[150, 100]], { size: 900, hardness: 1 });
    const painted = edit(held, addStroke({ owner: dark, stroke: wide(), through: recipe(stencil.mask) }));
    expect(changedSince(painted, maskAt(painted, { owner: dark, of: 'mask' }) as Mask, stencil)).toEqual([]);
    const darker = maskOfParts([{ ...newTonePart('base'), side: 'dark' as const }]);
    const changed = edit(painted, setStencil({ layerId: dark, stencil: { ...stencil, mask: darker } }));
    expect(maskIn(changed)).toEqual(maskIn(painted));
    const again = edit(changed, repaintThrough({ owner: dark, stencil: stencil.id, through: recipe(darker) }));
    expect(maskIn(again)).toEqual(
      maskIn(edit(held, addStroke({ owner: dark, stroke: wide(), through: recipe(darker) }))),
    );
  });

  it('a stencil is laid as parts, or as one when it is refined as a whole', () => {
    const stencil = { id: StencilId.parse('s2'), name: 'Disc', mask: maskOfParts([radial]) };
    const laid = edit(made.scene, setStencil({ layerId: dark, stencil }), layStencil({ layerId: dark }));
    expect(maskAt(laid, { owner: dark, of: 'mask' })?.parts.map(({ kind }) => kind)).toEqual(['radial', 'painted']);
    const soft = { ...stencil, mask: { ...stencil.mask, refine: { ...stencil.mask.refine, softness: 8 } } };
    const refined = edit(made.scene, setStencil({ layerId: dark, stencil: soft }), layStencil({ layerId: dark }));
    const softened = whole(
      nodeOf(edit(made.scene, setStencil({ layerId: dark, stencil: soft })), { what: 'stencil', at: dark }),
    );
    expect(maskIn(refined)).toEqual(softened);
  });
});

describe('edits of parts', () => {
  it('name, switch, order, copy and remove parts, and undo to the same scene', () => {
    const scene = [radial, box, newTonePart('below')].reduce((each, part) => add(each, dark, part), made.scene);
    const parts = (each: Scene, owner: ItemId = dark) =>
      maskAt(each, { owner, of: 'mask' })?.parts.map((part) => part.id as string);
    expect(parts(scene)).toEqual(['painted', 'radial', 'outline', 'tone']);
    expect(parts(edit(scene, movePart({ owner: dark, part: id('tone'), to: 0 })))).toEqual([
      'tone',
      'painted',
      'radial',
      'outline',
    ]);
    expect(parts(edit(scene, copyPart({ owner: dark, part: id('radial'), to: null })))).toEqual([
      'painted',
      'radial',
      'radial-2',
      'outline',
      'tone',
    ]);
    expect(parts(edit(scene, copyPart({ owner: dark, part: id('radial'), to: { owner: bright } })), bright)).toEqual([
      'painted',
      'radial',
    ]);
    expect(parts(edit(scene, removePart({ owner: dark, part: id('radial') })))).toEqual(['painted', 'outline', 'tone']);
    expect(edit(scene, setJoin({ owner: dark, part: id('radial'), join: 'add' }))).toBe(scene);
    expect(edit(scene, setPartEnabled({ owner: dark, part: id('none'), enabled: false }))).toBe(scene);
    expect(edit(made.scene, addPart({ owner: dark, of: 'stencil', part: radial }))).toBe(made.scene);
  });

  it('refuse settings that a part cannot have', () => {
    const scene = add(made.scene, dark, radial);
    expect(() => edit(scene, setPart({ owner: dark, part: id('radial'), change: { radiusX: -4 } }))).toThrow();
    expect(() => edit(scene, setPart({ owner: dark, part: id('radial'), change: { hue: 4 } }))).toThrow();
  });

  it('put a range the right way round', () => {
    const scene = edit(
      add(made.scene, dark, newTonePart('base')),
      setPart({ owner: dark, part: id('tone'), change: { from: 0.8, to: 0.3 } }),
    );
    expect(maskAt(scene, { owner: dark, of: 'mask' })?.parts.at(-1)).toMatchObject({ from: 0.3, to: 0.8 });
  });

  it('leave an empty mask hiding everything', () => {
    fc.assert(
      fc.property(fc.boolean(), (inverted) => {
        const mask = { ...emptyMask(), refine: { ...emptyMask().refine, inverted } };
        const shown = whole(nodeOf(made.scene, { what: 'recipe', recipe: mask, at: dark }));
        expect(shown.every((value) => value === (inverted ? 65535 : 0))).toBe(true);
      }),
      { numRuns: 4 },
    );
  });
});
