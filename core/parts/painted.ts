import { z } from 'zod';
import { isFill, Touch } from '../masks/stroke.ts';
import { definePart } from './definePart.ts';
import { partBase, plainPart } from './partBase.ts';

export const PaintedPart = z.strictObject({ kind: z.literal('painted'), ...partBase, strokes: z.array(Touch) });
export type PaintedPart = z.infer<typeof PaintedPart>;

export function newPaintedPart(id?: string): PaintedPart {
  return { kind: 'painted', ...plainPart('painted', id), strokes: [] };
}

/** Whether painting begins with a fill that covers all, and counts as it is. */
export function beginsWithAll({ strokes: [first], join, refine }: PaintedPart): boolean {
  if (first === undefined || !isFill(first) || first.outline || first.stencil) return false;
  return first.target * first.strength === 1 && join === 'add' && !refine.inverted && refine.strength === 1;
}

/** Painting sees the mask before it, and decides more than it covers: the plan makes its node with both. */
export const painted = definePart({
  schema: PaintedPart,
  begin: () => newPaintedPart(),
  withNearPlaces: (part, near) =>
    part.strokes.some((touch) => isFill(touch) && touch.outline)
      ? {
          ...part,
          strokes: part.strokes.map((touch) =>
            isFill(touch) && touch.outline ? { ...touch, outline: touch.outline.map(near) } : touch,
          ),
        }
      : part,
  build: (_part, tools) => tools.nothing,
  rows: [],
});
