import { z } from 'zod';

const Unit = z.number().min(0).max(1);

/** A point of a curve over greys: what comes in, and what goes out. */
export const CurvePoint = z.strictObject({ x: Unit, y: Unit });
export type CurvePoint = z.infer<typeof CurvePoint>;
