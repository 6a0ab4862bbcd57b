import { z } from 'zod';

const Unit = z.number().min(0).max(1);

/** A range that is let through in full, and how far outside it coverage takes to fall to nothing. */
export const Range = z.strictObject({ from: Unit, to: Unit, fromShoulder: Unit, toShoulder: Unit });
export type Range = z.infer<typeof Range>;

/** Whether all tones are let through. */
export const isWholeRange = ({ from, to }: Range): boolean => from === 0 && to === 1;

/** Everything lies within it. */
export const WHOLE_RANGE: Range = { from: 0, to: 1, fromShoulder: 0, toShoulder: 0 };
