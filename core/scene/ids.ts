import { z } from 'zod';

export const FrameId = z.string().min(1).brand<'FrameId'>();
export type FrameId = z.infer<typeof FrameId>;

export const LayerId = z.string().min(1).brand<'LayerId'>();
export type LayerId = z.infer<typeof LayerId>;

export const StrokeId = z.string().min(1).brand<'StrokeId'>();
export type StrokeId = z.infer<typeof StrokeId>;

/** Names a part within its mask. */
export const PartId = z.string().min(1).max(60).brand<'PartId'>();
export type PartId = z.infer<typeof PartId>;

/** Names a stencil, whatever becomes of its recipe. */
export const StencilId = z.string().min(1).brand<'StencilId'>();
export type StencilId = z.infer<typeof StencilId>;

/** Names a frozen recipe by what is in it. */
export const RecipeId = z.string().min(1).brand<'RecipeId'>();
export type RecipeId = z.infer<typeof RecipeId>;

export const GroupId = z.string().min(1).brand<'GroupId'>();
export type GroupId = z.infer<typeof GroupId>;
