import { z } from 'zod';
import { PartId } from '../ids.ts';
import { AT_REST, Refinements } from '../refinements/list.ts';

/** How a part meets the parts before it. */
export const Join = z.enum(['add', 'subtract', 'intersect', 'exclude']);
export type Join = z.infer<typeof Join>;

/** What every part has. */
export const partBase = {
  id: PartId,
  /** Of the user's, empty for what the part is. */
  name: z.string().max(60),
  join: Join,
  enabled: z.boolean(),
  refine: Refinements,
};

/** What every part begins with. */
export const plainPart = (kind: string, id: string = kind) => ({
  id: PartId.parse(id),
  name: '',
  join: 'add' as Join,
  enabled: true,
  refine: AT_REST,
});
