import { z } from 'zod';
import { Source } from './source.ts';

const Unit = z.number().min(0).max(1);

/** A point of a curve over greys: what comes in, and what goes out. */
export const CurvePoint = z.strictObject({ x: Unit, y: Unit });
export type CurvePoint = z.infer<typeof CurvePoint>;

/** What is done to coverage after it is made, in this order: levels and curve, softness, edge fit, grow, core fill, inversion,
 * strength. Every one at rest leaves it as it is. Lengths are in scene pixels. */
export const Refinements = z.strictObject({
  /** Greys that become black and white, and the power of what lies between: above 1 it becomes brighter. */
  levels: z.strictObject({ black: Unit, white: Unit, gamma: z.number().min(0.1).max(10) }),
  /** A smooth curve through points, their x rising; none is the straight line. */
  curve: z.array(CurvePoint).max(16),
  /** Standard deviation of a blur. */
  softness: z.number().min(0).max(400),
  /** Coverage is fitted to the edges of a picture: windows of `radius` around a place; a radius of 0 does nothing. */
  edgeFit: z.strictObject({
    guide: Source,
    radius: z.number().min(0).max(200),
    /** Contrast (standard deviation of the tones) below which an edge counts as none. */
    contrast: z.number().min(0.002).max(0.5),
  }),
  /** How far covered places grow; negative shrinks. */
  grow: z.number().min(-100).max(100),
  /** The inside becomes full. */
  coreFill: z.strictObject({
    amount: Unit,
    /** Within how far of it a place must be covered to lie inside. */
    reach: z.number().min(1).max(400),
    /** Mean coverage around from which on a place surely belongs to an area; a third of it counts for nothing. */
    from: z.number().min(0.01).max(1),
  }),
  inverted: z.boolean(),
  strength: Unit,
});
export type Refinements = z.infer<typeof Refinements>;

export const AT_REST: Refinements = {
  levels: { black: 0, white: 1, gamma: 1 },
  curve: [],
  softness: 0,
  edgeFit: { guide: 'base', radius: 0, contrast: 0.05 },
  grow: 0,
  coreFill: { amount: 0, reach: 40, from: 0.25 },
  inverted: false,
  strength: 1,
};
