import { z } from 'zod';
import { ItemId, RecipeId, StencilId } from '../ids.ts';

/** Which other mask is meant. */
export const ReferenceTarget = z.union([
  /** The mask of an item. */
  z.strictObject({ item: ItemId }),
  z.strictObject({ stencil: StencilId }),
  /** A mask as it was. */
  z.strictObject({ frozen: RecipeId, of: z.string().max(80) }),
]);
export type ReferenceTarget = z.infer<typeof ReferenceTarget>;
