import { z } from 'zod';

export const FrameId = z.string().min(1).brand<'FrameId'>();
export type FrameId = z.infer<typeof FrameId>;

/** Names an item of the stack, or an adjustment: whatever may own masks. No two of a scene share one. */
export const ItemId = z.string().min(1).brand<'ItemId'>();
export type ItemId = z.infer<typeof ItemId>;

export const LayerId = ItemId.brand<'LayerId'>();
export type LayerId = z.infer<typeof LayerId>;

export const GroupId = ItemId.brand<'GroupId'>();
export type GroupId = z.infer<typeof GroupId>;

export const StrokeId = z.string().min(1).brand<'StrokeId'>();
export type StrokeId = z.infer<typeof StrokeId>;

/** Names a place that is retouched. */
export const SpotId = z.string().min(1).max(60).brand<'SpotId'>();
export type SpotId = z.infer<typeof SpotId>;

/** Names a part within its mask. */
export const PartId = z.string().min(1).max(60).brand<'PartId'>();
export type PartId = z.infer<typeof PartId>;

/** Names a stencil, whatever becomes of its recipe. */
export const StencilId = z.string().min(1).brand<'StencilId'>();
export type StencilId = z.infer<typeof StencilId>;

/** Names a frozen recipe by what is in it. */
export const RecipeId = z.string().min(1).brand<'RecipeId'>();
export type RecipeId = z.infer<typeof RecipeId>;
