import { z } from 'zod';
import { finishTable } from '../masks/greyCurve.ts';
import { TableNode } from '../render/nodes/tableNode.ts';
import { defineRefinement } from './defineRefinement.ts';

/** Inversion, then strength: one table. */
export const finish = defineRefinement({
  schema: { inverted: z.boolean(), strength: z.number().min(0).max(1) },
  rest: { inverted: false, strength: 1 },
  isAtRest: ({ inverted, strength }) => !inverted && strength === 1,
  actsOnAlpha: true,
  build: (node, settings) =>
    new TableNode(node, `finish:${settings.inverted}:${settings.strength}`, () => finishTable(settings)),
  rows: [{ path: ['strength'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 1 }],
});
