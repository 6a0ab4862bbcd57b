import { z } from 'zod';
import { colour } from './colour.ts';
import type { PartKindOf } from './definePart.ts';
import { difference } from './difference.ts';
import { gradient } from './gradient.ts';
import { outline } from './outline.ts';
import { painted } from './painted.ts';
import { picture } from './picture.ts';
import { radial } from './radial.ts';
import { reference } from './reference.ts';
import { tone } from './tone.ts';

/** A part of a mask, of any kind. */
export const Part = z.discriminatedUnion('kind', [
  tone.schema,
  colour.schema,
  painted.schema,
  gradient.schema,
  radial.schema,
  outline.schema,
  difference.schema,
  picture.schema,
  reference.schema,
]);
export type Part = z.infer<typeof Part>;
export type PartKind = Part['kind'];

/** In the order in which they are offered. */
const PARTS = { tone, colour, gradient, radial, outline, difference, painted, reference, picture };
export const PART_KINDS = Object.keys(PARTS) as readonly PartKind[];

/** What there is to know of a part by its kind. */
export const kindOf = ({ kind }: Pick<Part, 'kind'>): PartKindOf<Part> => PARTS[kind] as unknown as PartKindOf<Part>;
