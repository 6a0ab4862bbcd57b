import { z } from 'zod';
import { ItemId, PartId, StencilId } from '../ids.ts';
import { Part, type PartKind } from '../parts/list.ts';
import { beginsWithAll, newPaintedPart } from '../parts/painted.ts';
import { AT_REST, activeRefinements, Refinements, reachOfRefinements } from '../refinements/list.ts';

/** A mask is a recipe: parts joined first to last, then refined. It starts from nothing. */
export const Mask = z.strictObject({ parts: z.array(Part), refine: Refinements });
export type Mask = z.infer<typeof Mask>;

/** A mask with a name, to paint through. */
export const Stencil = z.strictObject({ id: StencilId, name: z.string().max(60), mask: Mask });
export type Stencil = z.infer<typeof Stencil>;

/** A mask as it was at some time. */
export const Recipe = z.strictObject({
  /** The stencil that it is of, null for other masks. */
  of: StencilId.nullable(),
  /** The item that its sources are seen from; null: the one that it is used on. */
  seenFrom: ItemId.nullable(),
  mask: Mask,
});
export type Recipe = z.infer<typeof Recipe>;

export const emptyMask = (): Mask => maskOfParts([]);

/** A mask that hides nothing until it says so. */
export const openMask = (): Mask => ({ ...emptyMask(), refine: { ...AT_REST, inverted: true } });

export const maskOfParts = (parts: Part[]): Mask => ({ parts, refine: AT_REST });

/** The mask of a new layer: nothing shows until something is painted or laid. */
export const newMask = (): Mask => maskOfParts([newPaintedPart()]);

/** An id that no part of a mask has yet. */
export function freshPartId({ parts }: Mask, kind: PartKind): PartId {
  for (let n = 1; ; n++) {
    const id = n === 1 ? kind : `${kind}-${n}`;
    if (!parts.some((part) => part.id === id)) return PartId.parse(id);
  }
}

/** Whether a mask hides nothing, as those of groups and adjustments begin: all is painted, or it is nothing turned round. */
export function isEverywhere({ parts, refine }: Mask): boolean {
  const [only, ...more] = parts.filter(({ enabled }) => enabled);
  if (!only) return refine.inverted && refine.strength === 1;
  if (more.length > 0 || only.kind !== 'painted' || only.strokes.length !== 1 || !beginsWithAll(only)) return false;
  return activeRefinements(refine).length === 0 && activeRefinements(only.refine).length === 0;
}

/** How far around a stroke a mask changes, in scene pixels. */
export const reachOf = ({ parts, refine }: Mask): number =>
  reachOfRefinements(refine) +
  Math.max(0, ...parts.filter(({ kind }) => kind === 'painted').map((part) => reachOfRefinements(part.refine)));
