import { z } from 'zod';
import { definePart } from './definePart.ts';
import { partBase } from './partBase.ts';
import { ReferenceTarget } from './referenceTarget.ts';

/** Another mask: as it is at any time, or as it was. */
export const ReferencePart = z.strictObject({ kind: z.literal('reference'), ...partBase, to: ReferenceTarget });
export type ReferencePart = z.infer<typeof ReferencePart>;

export const reference = definePart({
  schema: ReferencePart,
  build: ({ to }, tools) => tools.reference(to) ?? tools.nothing,
  rows: [],
});
