import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';
import { GlowNode } from './glowNode.ts';

const Unit = z.number().min(0).max(1);
const FARTHEST = 1e6;
const Place = z.number().min(-FARTHEST).max(FARTHEST);

/** A light that glows: where it is and how far it reaches, in scene pixels; its colour, encoded. */
export const Light = z.strictObject({
  x: Place,
  y: Place,
  radius: z.number().min(2).max(20_000),
  strength: Unit,
  colour: z.tuple([Unit, Unit, Unit]),
});
export type Light = z.infer<typeof Light>;

/** Light that falls off around lamps, windows or the sun. */
export const lights = defineAdjustment({
  schema: z.strictObject({
    lights: z.array(Light).max(100),
    /** Weakens them all. */
    strength: Unit,
    mode: z.enum(['screen', 'plus-lighter']),
  }),
  rest: { lights: [], strength: 1, mode: 'screen' },
  isAtRest: ({ lights: all, strength }) => strength === 0 || all.every((light) => light.strength === 0),
  rows: [{ path: ['strength'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 1 }],
  steps: () => [],
  isPointwise: true,
  build: (source, { lights: all, strength, mode }, { turned }) =>
    new GlowNode(
      source,
      all.map((light) => ({ ...light, strength: light.strength * strength })),
      mode,
      turned?.toScene,
    ),
});
