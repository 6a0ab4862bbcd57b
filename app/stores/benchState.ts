import { z } from 'zod';
import { LayerId } from '#core/scene/ids.ts';

const Unit = z.number().min(0).max(1);

/** What the canvas looks at. `layer` is the selected layer's frame alone. */
export const Look = z.enum(['picture', 'grey', 'overlay', 'layer']);
export type Look = z.infer<typeof Look>;

export const Brush = z.strictObject({
  effect: z.enum(['reveal', 'hide']),
  size: z.number().min(1).max(4000),
  hardness: Unit,
  strength: Unit,
  flow: z.number().min(0.01).max(1),
  pressure: z.enum(['none', 'size', 'strength']),
});
export type Brush = z.infer<typeof Brush>;

/** Where the canvas stands: screen pixels per scene pixel, and the scene point in its middle; or fitted. */
export const Viewport = z.strictObject({
  fit: z.boolean(),
  scale: z.number().positive(),
  x: z.number(),
  y: z.number(),
});
export type Viewport = z.infer<typeof Viewport>;

/** How the bench of a scene was left; kept with it, but no part of what makes the picture. */
export const BenchState = z.strictObject({
  layerId: LayerId.nullable(),
  look: Look,
  /** Which coverage the grey and overlay views show. */
  coverage: z.enum(['mask', 'stencil']),
  brush: Brush,
  viewport: Viewport,
});
export type BenchState = z.infer<typeof BenchState>;

/** Skies are begun with a wide soft brush (common practice, no source). */
export function newBenchState(): BenchState {
  return {
    layerId: null,
    look: 'picture',
    coverage: 'mask',
    brush: { effect: 'reveal', size: 400, hardness: 0, strength: 0.4, flow: 1, pressure: 'none' },
    viewport: { fit: true, scale: 1, x: 0, y: 0 },
  };
}
