import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';
import { EdgesNode } from './edgesNode.ts';
import { StopsByMapNode } from './stopsByMapNode.ts';
import { toneShare } from './toneShares.ts';

/** Edges of the picture darkened, or lightened, by stops of light. */
export const edges = defineAdjustment({
  schema: z.strictObject({
    /** At the outermost place. */
    stops: z.number().min(-4).max(2),
    /** From an ellipse, 0, to the frame of the picture, 1. */
    shape: z.number().min(0).max(1),
    /** Middle, as shares of the picture's width and height. */
    middle: z.strictObject({ x: z.number().min(-0.5).max(1.5), y: z.number().min(-0.5).max(1.5) }),
    /** Where half of it is reached: 1 where the frame is. */
    size: z.number().min(0.1).max(2),
    soft: z.number().min(0).max(1),
    /** Share that brights are spared. */
    keep: z.number().min(0).max(1),
    /** Whose edges: of the picture as it is cut, or of the whole scene. */
    follows: z.enum(['crop', 'scene']),
  }),
  rest: { stops: 0, shape: 0.3, middle: { x: 0.5, y: 0.5 }, size: 1, soft: 0.7, keep: 0.4, follows: 'crop' },
  isAtRest: ({ stops }) => stops === 0,
  rows: [
    { path: ['stops'], min: -4, max: 2, step: 0.05, unit: 'stops', usual: -0.5 },
    { path: ['size'], min: 0.1, max: 2, step: 0.01, unit: 'share', usual: 1 },
    { path: ['soft'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.7 },
    { path: ['shape'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.3 },
    { path: ['keep'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.4 },
  ],
  steps: () => [],
  isPointwise: true,
  build: (source, settings, { space, delivered, turned }) => {
    const { stops, keep, follows } = settings;
    const scene = turned && { fromScene: turned.toScene, size: turned.scene };
    const where = follows === 'crop' ? delivered : scene;
    return new StopsByMapNode(source, new EdgesNode(settings, source.extent, where), {
      name: ['edges', stops, keep],
      stopsOf: (code) => (stops * code) / 65535,
      shareOf: (lightness) => 1 - keep * toneShare('brights', 0.3, lightness),
      rest: 0,
      saturation: 1,
      space,
    });
  },
});
