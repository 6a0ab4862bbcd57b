import { describe, expect, it } from 'vitest';
import { radial } from '../../../tests/maskParts.ts';
import { nodeOf, plan, setUp } from '../../../tests/renderScene.ts';
import { LayerId, PartId, RecipeId, StencilId, StrokeId } from '../../ids.ts';
import { plainStroke } from '../../masks/stroke.ts';
import type { Part } from '../../parts/list.ts';
import { plainPart } from '../../parts/partBase.ts';
import type { ReferenceTarget } from '../../parts/referenceTarget.ts';
import { newTonePart } from '../../parts/tone.ts';
import { newLayer } from '../../scene/item.ts';
import { type Mask, maskOfParts } from '../../scene/mask.ts';
import { leadsBack } from '../../scene/maskGraph.ts';
import { MOST_DEPTH, maskLoad } from '../../scene/maskLoad.ts';
import type { Scene } from '../../scene/scene.ts';
import type { TileNode } from '../tiles/renderContext.ts';

const { made, whole } = setUp();
const idOf = (index: number) => LayerId.parse(`layer-${index}`);
const partId = (text: string) => PartId.parse(text);
const to = (target: ReferenceTarget, id = 'reference'): Part => ({
  kind: 'reference',
  ...plainPart('reference', id),
  to: target,
});
const toLayer = (index: number, id?: string) => to({ item: idOf(index) }, id);
const disc = { ...radial, id: partId('disc') };
const box: Part = {
  kind: 'outline',
  ...plainPart('outline'),
  corners: [40, 40, 200, 40, 200, 160, 40, 160],
  feather: 0,
};

/** A scene whose layers have masks of these parts. */
const withMasks = (masks: readonly (readonly Part[])[], more: Partial<Scene> = {}): Scene => ({
  ...made.scene,
  stack: masks.map((parts, index) => ({ ...newLayer(idOf(index), made.frameIds[0]), mask: maskOfParts([...parts]) })),
  ...more,
});
const maskIn = (scene: Scene, index: number) => whole(nodeOf(scene, { what: 'mask', at: idOf(index) }));
const maskOf = (...parts: Part[]) => maskIn(withMasks([parts]), 0);

describe('references', () => {
  it('in a chain of 110 are the mask at its end', () => {
    const chain = withMasks(Array.from({ length: 110 }, (_, i) => [i === 0 ? disc : toLayer(i - 1)]));
    expect(maskIn(chain, 109)).toEqual(maskOf(disc));
  });

  it('that double at every level are made once each', () => {
    const levels = 60;
    const masks = Array.from({ length: levels }, (_, i) =>
      i === 0 ? [disc] : [toLayer(i - 1, 'a'), { ...toLayer(i - 1, 'b'), join: 'intersect' as const }],
    );
    expect(maskLoad(withMasks(masks)).steps).toBeLessThan(5 * levels);
    const few = masks.slice(0, 3);
    const squared = whole(nodeOf(withMasks(few), { what: 'mask', at: idOf(2) }));
    const once = maskOf(disc);
    for (const at of [30_000, 31_000, 32_500]) expect(squared[at] / 65535).toBeCloseTo((once[at] / 65535) ** 4, 3);
    expect(maskIn(withMasks(masks), levels - 1).length).toBe(once.length);
  });

  it('deeper than can be computed are refused before anything is', () => {
    const chain = withMasks(Array.from({ length: 1000 }, (_, i) => [i === 0 ? disc : toLayer(i - 1)]));
    expect(maskLoad(chain).depth).toBeGreaterThan(MOST_DEPTH);
    expect(() => plan(chain)).toThrow(/too-deep/);
  });

  it('that ask for too much are refused likewise', () => {
    const parts = Array.from({ length: 80 }, (_, i) => ({ ...newTonePart('result'), id: partId(`t${i}`) }));
    const masks = Array.from({ length: 60 }, () => parts);
    expect(() => plan(withMasks(masks))).toThrow(/too-much/);
  });
});

describe('strokes painted through what was painted through', () => {
  it('as deep as is allowed find room to be computed in, interactive or not', () => {
    const through = (id: string | null, index: number): Part => ({
      kind: 'painted',
      ...plainPart('painted'),
      strokes: [
        {
          id: StrokeId.parse(`deep-${index}`),
          target: 1,
          strength: 0.99,
          stencil: id === null ? null : RecipeId.parse(id),
          fill: true,
          outline: null,
          feather: 0,
        },
      ],
    });
    const levels = 40;
    const recipes = Object.fromEntries(
      Array.from({ length: levels }, (_, i) => [
        `r${i}`,
        { of: null, seenFrom: null, mask: maskOfParts(i === 0 ? [disc] : [through(`r${i - 1}`, i)]) },
      ]),
    );
    const scene = withMasks([[through(`r${levels - 1}`, levels)]], { recipes });
    expect(maskLoad(scene).depth).toBeGreaterThan(MOST_DEPTH - 30);
    const interactive = maskIn(scene, 0);
    made.table.dropDerived();
    made.context.interactive = false;
    expect(maskIn(scene, 0)).toEqual(interactive);
    made.context.transient.end();
    made.context.interactive = true;
    expect(interactive[100 * 300 + 150] / 65535).toBeCloseTo(0.99 ** levels, 2);
  });
});

describe('a reference that would lead back', () => {
  const at = (index: number) => ({ owner: idOf(index), of: 'mask' as const });
  const item = (index: number) => ({ item: idOf(index) });

  it('is known before it is made: directly, through others, and through what strokes were painted through', () => {
    // 3 refers to 2, 2 to 1; 4 was painted through a mask that refers to 3.
    const recipe = { of: null, seenFrom: null, mask: maskOfParts([toLayer(3)]) };
    const through = RecipeId.parse('through');
    const stroke = { ...plainStroke(StrokeId.parse('s')), stencil: through };
    const painted: Part = { kind: 'painted', ...plainPart('painted'), strokes: [stroke] };
    const scene = withMasks([[disc], [disc], [toLayer(1)], [toLayer(2)], [painted]], {
      recipes: { [through]: recipe },
    });
    expect([2, 3, 4].map((index) => leadsBack(scene, at(1), item(index)))).toEqual([true, true, true]);
    expect([0, 2].map((index) => leadsBack(scene, at(3), item(index)))).toEqual([false, false]);
    expect(leadsBack(scene, at(0), item(4))).toBe(false);
    // A guard is another mask than the one that is referred to.
    expect(leadsBack(scene, { owner: idOf(1), of: 'guard' }, item(2))).toBe(false);
    // What is switched off leads nowhere.
    const off = withMasks([[disc], [{ ...toLayer(0), enabled: false }]]);
    expect(leadsBack(off, at(0), item(1))).toBe(false);
  });

  it('is known through a stencil', () => {
    const stencil = { id: StencilId.parse('saved'), name: 'Saved', mask: maskOfParts([toLayer(0)]) };
    const scene = withMasks([[toLayer(1)], [disc], [disc]], { stencils: [stencil] });
    expect(leadsBack(scene, at(1), { stencil: stencil.id })).toBe(true);
    expect(leadsBack(scene, at(2), { stencil: stencil.id })).toBe(false);
  });
});

describe('rings of references', () => {
  it('are seen from each mask without what leads back to it', () => {
    const ring = withMasks([[disc, toLayer(2)], [toLayer(0), box], [toLayer(1)]]);
    // The first shows the third, which shows the second, which would show the first.
    expect(maskIn(ring, 0)).toEqual(maskOf(disc, { ...box, id: partId('box') }));
    expect(maskIn(ring, 1)).toEqual(maskOf(disc, box));
    expect(maskIn(ring, 2)).toEqual(maskOf(disc, box));
  });

  it('do not depend on what was asked for first', () => {
    const masks = [
      [disc, toLayer(1, 'a'), toLayer(2, 'b')],
      [box, toLayer(0, 'a'), toLayer(2, 'b')],
      [toLayer(0, 'a'), toLayer(1, 'b')],
    ];
    const scene = withMasks(masks);
    const [forward, backward] = [plan(scene), plan(scene)];
    const all = [0, 1, 2].map((i) => whole(forward.node({ what: 'mask', at: idOf(i) }) as TileNode));
    const again = [2, 1, 0].map((i) => whole(backward.node({ what: 'mask', at: idOf(i) }) as TileNode)).reverse();
    expect(again).toEqual(all);
  });

  it('through frozen recipes and what strokes were painted through end as well', () => {
    const recipe = (mask: Mask, seenFrom: LayerId | null = null) => ({ of: null, seenFrom, mask });
    const frozen = (id: string) => to({ frozen: RecipeId.parse(id), of: '' }, id);
    const fill = (stencil: string): Part => ({
      kind: 'painted',
      ...plainPart('painted'),
      strokes: [
        {
          id: StrokeId.parse(`f-${stencil}`),
          target: 1,
          strength: 1,
          stencil: RecipeId.parse(stencil),
          fill: true,
          outline: null,
          feather: 0,
        },
      ],
    });
    const recipes = {
      a: recipe(maskOfParts([frozen('b'), disc])),
      b: recipe(maskOfParts([frozen('a'), box])),
      self: recipe(maskOfParts([frozen('self'), disc])),
      painted: recipe(maskOfParts([fill('painted'), disc])),
    };
    const see = (part: Part) => maskIn(withMasks([[part]], { recipes }), 0);
    expect(see(frozen('a'))).toEqual(maskOf(box, disc));
    expect(see(frozen('self'))).toEqual(maskOf(disc));
    expect(see(frozen('painted'))).toEqual(maskOf(disc));
    expect(see(fill('painted'))).toEqual(maskOf(disc));
    expect(see(frozen('missing')).every((value) => value === 0)).toBe(true);
    expect(see(frozen('__proto__')).every((value) => value === 0)).toBe(true);
  });

  it('through pictures end: a mask below refers to one that looks at what is below', () => {
    const ring = withMasks([[disc, toLayer(1)], [newTonePart('below')]]);
    const open = withMasks([[disc], [newTonePart('below')]]);
    // The upper one looks at the picture of the lower one, there without the reference.
    const [own, seen, both] = [maskOf(disc), maskIn(open, 1), maskIn(ring, 0)];
    for (let at = 0; at < both.length; at += 997) {
      const [d, t] = [own[at] / 65535, seen[at] / 65535];
      expect(both[at] / 65535).toBeCloseTo(t + d * (1 - t), 4);
    }
  });
});

describe('a stencil that is used at two contexts', () => {
  it('is no ring, though one of them lies below the other', () => {
    const stencil = { id: StencilId.parse('s'), name: 'S', mask: maskOfParts([newTonePart('below')]) };
    const use = to({ stencil: stencil.id });
    const scene = withMasks([[disc], [use], [use]], { stencils: [stencil] });
    const copied = withMasks([[disc], [newTonePart('below')], [newTonePart('below')]]);
    for (const index of [1, 2]) expect(maskIn(scene, index)).toEqual(maskIn(copied, index));
  });
});
