import { z } from 'zod';
import { ItemId, RecipeId, StencilId } from '../ids.ts';

/** Which other mask is meant. */
export const ReferenceTarget = z.union([
  /** The mask of an item, or the guard over it. */
  z.strictObject({ item: ItemId, of: z.literal('guard').optional() }),
  z.strictObject({ stencil: StencilId }),
  /** A mask as it was. */
  z.strictObject({ frozen: RecipeId, of: z.string().max(80) }),
]);
export type ReferenceTarget = z.infer<typeof ReferenceTarget>;
