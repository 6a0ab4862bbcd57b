import { z } from 'zod';

export const FrameId = z.string().min(1).brand<'FrameId'>();
export type FrameId = z.infer<typeof FrameId>;

export const LayerId = z.string().min(1).brand<'LayerId'>();
export type LayerId = z.infer<typeof LayerId>;

export const StrokeId = z.string().min(1).brand<'StrokeId'>();
export type StrokeId = z.infer<typeof StrokeId>;
