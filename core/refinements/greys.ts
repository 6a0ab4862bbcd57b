import { z } from 'zod';
import { CurvePoint } from '../masks/curvePoint.ts';
import { hasShape, shapeTable } from '../masks/greyCurve.ts';
import { TableNode } from '../render/nodes/tableNode.ts';
import { defineRefinement } from './defineRefinement.ts';

const Unit = z.number().min(0).max(1);
const share = { min: 0, max: 1, step: 0.005, unit: 'share' } as const;

/** Levels, then a curve: one table. */
export const greys = defineRefinement({
  schema: {
    /** Greys that become black and white, and the power of what lies between: above 1 it becomes brighter. */
    levels: z.strictObject({ black: Unit, white: Unit, gamma: z.number().min(0.1).max(10) }),
    /** A smooth curve through points, their x rising; none is the straight line. */
    curve: z.array(CurvePoint).max(16),
  },
  rest: { levels: { black: 0, white: 1, gamma: 1 }, curve: [] },
  isAtRest: (settings) => !hasShape(settings),
  actsOnAlpha: false,
  build: (node, settings) => {
    const { levels, curve } = settings;
    return new TableNode(node, `shape:${JSON.stringify([levels, curve])}`, () => shapeTable(settings));
  },
  rows: [
    { path: ['levels', 'black'], ...share, usual: 0 },
    { path: ['levels', 'gamma'], min: 0.1, max: 10, step: 0.01, unit: 'power', usual: 1, geometric: true },
    { path: ['levels', 'white'], ...share, usual: 1 },
  ],
});
