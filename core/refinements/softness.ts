import { z } from 'zod';
import { SoftenNode } from '../render/nodes/softenNode.ts';
import { defineRefinement } from './defineRefinement.ts';

/** A blur. */
export const softness = defineRefinement({
  schema: {
    /** Its standard deviation. */
    softness: z.number().min(0).max(400),
  },
  rest: { softness: 0 },
  isAtRest: (settings) => settings.softness === 0,
  reach: (settings) => 4 * settings.softness,
  actsOnAlpha: true,
  build: (node, settings) => new SoftenNode(node, settings.softness),
  rows: [{ path: ['softness'], min: 0, max: 200, step: 0.5, unit: 'px', usual: 0 }],
});
