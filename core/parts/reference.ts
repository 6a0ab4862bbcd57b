import { z } from 'zod';
import { definePart } from './definePart.ts';
import { partBase, plainPart } from './partBase.ts';
import { ReferenceTarget } from './referenceTarget.ts';

/** Another mask: as it is at any time, or as it was. */
export const ReferencePart = z.strictObject({ kind: z.literal('reference'), ...partBase, to: ReferenceTarget });
export type ReferencePart = z.infer<typeof ReferencePart>;

export const reference = definePart({
  schema: ReferencePart,
  begin: ({ otherMask: to }): ReferencePart | undefined => to && { kind: 'reference', ...plainPart('reference'), to },
  build: ({ to }, tools) => tools.reference(to) ?? tools.nothing,
  rows: [],
});
