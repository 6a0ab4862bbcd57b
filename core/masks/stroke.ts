import { z } from 'zod';
import { FrameId, RecipeId, StrokeId } from '../ids.ts';

const Unit = z.number().min(0).max(1);

const touch = {
  id: StrokeId,
  /** What the stroke pulls the mask towards: 1 reveals, 0 hides, greys in between. */
  target: Unit,
  /** The most that the stroke changes the mask, however often it crosses itself. */
  strength: Unit,
  /** The recipe it was painted through, as it was then. */
  stencil: RecipeId.nullable(),
};

/** One stroke of the brush. Its points are kept apart, by id: x, y in scene pixels, pressure 0..1, milliseconds. */
export const Stroke = z.strictObject({
  ...touch,
  /** `tone` pulls towards the target, `soften` towards the mask blurred, `even` towards its mean around. */
  effect: z.enum(['tone', 'soften', 'even']).default('tone'),
  /** Diameter in scene pixels. */
  size: z.number().min(1).max(20000),
  /** Share of the radius that is full, 0..1. */
  hardness: Unit,
  /** How quickly each touch builds up to the strength. */
  flow: z.number().min(0.01).max(1),
  pressure: z.enum(['none', 'size', 'strength', 'both']),
  /** Power of the pressure: above 1 a light hand does less. */
  pressureCurve: z.number().min(0.2).max(5).default(1),
  /** Each touch stays on the colour of a frame under its centre, within this distance in Oklab; absent: it goes anywhere. */
  keepTo: z.strictObject({ frame: FrameId, tolerance: z.number().min(0.001).max(1) }).optional(),
});
export type Stroke = z.infer<typeof Stroke>;

/** A stroke that reveals fully, with a hard brush, as others are said to differ from it. */
export const plainStroke = (id: StrokeId): Stroke => ({
  id,
  target: 1,
  strength: 1,
  stencil: null,
  effect: 'tone',
  size: 400,
  hardness: 1,
  flow: 1,
  pressure: 'none',
  pressureCurve: 1,
});

/** The whole of a painted part at once, or the inside of an outline. */
export const Fill = z.strictObject({
  ...touch,
  fill: z.literal(true),
  /** Corners x, y, x, y in scene pixels; null fills all. */
  outline: z.array(z.number()).max(8000).nullable(),
  feather: z.number().min(0).max(400),
});
export type Fill = z.infer<typeof Fill>;

export const Touch = z.union([Fill, Stroke]);
export type Touch = z.infer<typeof Touch>;

/** A text for a stroke or fill, different for all that differ in anything but what they were painted through: ids come from files too,
 * and two files may use one for different strokes. */
export function touchName(touch: Touch): string {
  const { id, target, strength } = touch;
  if (isFill(touch)) return `${id}:${target}:${strength}:${touch.feather}:${touch.outline ?? 'all'}`;
  const { effect, flow, keepTo } = touch;
  return `${brushName(touch)}:${target}:${strength}:${effect}:${flow}:${keepTo ? `${keepTo.frame}:${keepTo.tolerance}` : ''}`;
}

/** Strokes never change, and are asked for their names many times a tile. */
const brushNames = new WeakMap<Stroke, string>();

/** A text for what decides where the dabs of a stroke lie, and how large they are. */
export function brushName(stroke: Stroke): string {
  const known = brushNames.get(stroke);
  if (known !== undefined) return known;
  const { id, size, hardness, pressure, pressureCurve } = stroke;
  const name = `${id}:${size}:${hardness}:${pressure}:${pressureCurve}`;
  brushNames.set(stroke, name);
  return name;
}

export const isFill = (touched: Touch): touched is Fill => 'fill' in touched;
