import { describe, expect, it } from 'vitest';
import { box, radial, setUpMasks } from '../../tests/maskParts.ts';
import { edit, maskOf } from '../../tests/renderScene.ts';
import { ItemId, type PartId, RecipeId, StrokeId } from '../ids.ts';
import type { Touch } from '../masks/stroke.ts';
import type { PaintedPart } from '../parts/painted.ts';
import { copyPart, layPart, setRefinement } from '../scene/edits/masks.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { addAdjustment } from '../scene/edits/stack.ts';
import type { Item } from '../scene/item.ts';
import { isEverywhere, openMask } from '../scene/mask.ts';
import { mapParts } from '../scene/places.ts';
import type { Scene } from '../scene/scene.ts';
import { findItem, mapItem } from '../scene/tree.ts';

const { made, dark, whole, add, maskIn, places, at } = setUpMasks();

describe('a mask that is everything', () => {
  const adjustment = ItemId.parse('all');
  const laid = edit(made.scene, addAdjustment({ id: adjustment, kind: 'exposure', above: dark }));
  const maskOfAll = (scene: Scene) => whole(maskOf(scene, adjustment));
  const everywhere = (scene: Scene) => isEverywhere((findItem(scene, adjustment) as Item).mask);
  const alone = maskIn(add(made.scene, dark, radial));

  it('makes way for the first part that is laid in it, however it came to be everything', () => {
    expect(maskOfAll(laid).every((value) => value === 65535)).toBe(true);
    const turned = mapItem(laid, adjustment, (item) => ({ ...item, mask: openMask() }));
    for (const scene of [laid, turned]) {
      const limited = edit(scene, layPart({ owner: adjustment, part: radial }));
      expect(maskOfAll(limited)).toEqual(alone);
      // A second part is joined with the first, as everywhere.
      const both = edit(limited, layPart({ owner: adjustment, part: box }));
      expect(maskOfAll(both)).toEqual(maskIn(add(add(made.scene, dark, radial), dark, box)));
    }
  });

  it('keeps what was painted over it, and painting goes on over the part', () => {
    const hidden = edit(
      laid,
      addStroke({ owner: adjustment, of: 'mask', stroke: { ...hideAll, id: StrokeId.parse('h') } }),
    );
    const limited = edit(hidden, layPart({ owner: adjustment, part: radial }));
    const mask = maskOfAll(limited);
    for (const place of places) expect(at(mask, place)).toBeCloseTo(at(alone, place) / 2, 4);
  });
  const hideAll = { fill: true as const, outline: null, feather: 0, target: 0, strength: 0.5, stencil: null };

  it('makes way for parts from elsewhere as well; one that is not everything does not', () => {
    const from = add(made.scene, dark, radial);
    const part = (findItem(from, dark) as Item).mask.parts.find(({ kind }) => kind === 'radial')?.id as PartId;
    const to = { owner: adjustment, of: 'mask' as const };
    const copied = edit(
      from,
      addAdjustment({ id: adjustment, kind: 'exposure', above: dark }),
      copyPart({ owner: dark, part, to, isLaid: true }),
    );
    expect(maskOfAll(copied)).toEqual(alone);
    const weak = edit(laid, setRefinement({ owner: adjustment, part: null, change: { inverted: true } }));
    expect(everywhere(laid)).toBe(true);
    expect(everywhere(weak)).toBe(false);
    expect(maskOfAll(edit(weak, layPart({ owner: adjustment, part: radial }))).every((value) => value === 0)).toBe(
      true,
    );
    // Nor does what was filled through a stencil, or is turned round by itself.
    const change = (of: (part: PaintedPart) => PaintedPart) =>
      mapItem(laid, adjustment, (item) => ({
        ...item,
        mask: mapParts(item.mask, (each) => (each.kind === 'painted' ? of(each) : each)),
      }));
    const through = (touch: Touch): Touch => ({ ...touch, stencil: RecipeId.parse('r') });
    const others = [
      change((each) => ({ ...each, strokes: each.strokes.map(through) })),
      change((each) => ({ ...each, refine: { ...each.refine, inverted: true } })),
    ];
    for (const scene of others) {
      const [before, after] = [scene, edit(scene, layPart({ owner: adjustment, part: radial }))].map(
        (each) => (findItem(each, adjustment) as Item).mask.parts,
      );
      expect(everywhere(scene)).toBe(false);
      expect(after).toEqual([expect.objectContaining({ kind: 'radial' }), ...before]);
    }
  });
});
