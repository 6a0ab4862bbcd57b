import { z } from 'zod';
import { StrokeId } from './ids.ts';

const Unit = z.number().min(0).max(1);

export const Join = z.enum(['add', 'subtract', 'intersect', 'exclude']);
export type Join = z.infer<typeof Join>;

/** Where a tone part reads its tones: the base frame, the layer's own frame, or all that lies under the layer. */
export const ToneSource = z.enum(['base', 'layer', 'sofar']);
export type ToneSource = z.infer<typeof ToneSource>;

export const ToneSide = z.enum(['light', 'dark', 'middle']);
export type ToneSide = z.infer<typeof ToneSide>;

/** Coverage by tone: the side's own coverage, narrowed, within a range with soft shoulders. */
export const ToneSettings = z.strictObject({
  source: ToneSource,
  side: ToneSide,
  /** The range that is let through in full, in tones 0..1. */
  from: Unit,
  to: Unit,
  /** How far outside the range the coverage takes to fall to nothing, in tones. */
  fromShoulder: Unit,
  toShoulder: Unit,
  /** How many times more the coverage is multiplied by itself; fractions allowed. */
  narrowing: z.number().min(0).max(8),
});
export type ToneSettings = z.infer<typeof ToneSettings>;

const partBase = { join: Join, enabled: z.boolean() };

export const TonePart = z.strictObject({ kind: z.literal('tone'), ...partBase, ...ToneSettings.shape });
export type TonePart = z.infer<typeof TonePart>;

/** A mask without strokes; what a stencil is made of. */
export const Stencil = z.strictObject({ tone: TonePart });
export type Stencil = z.infer<typeof Stencil>;

/** One stroke of the brush. Its points are kept apart, by id: x, y in scene pixels, pressure 0..1, milliseconds. */
export const Stroke = z.strictObject({
  id: StrokeId,
  /** What the stroke pulls the mask towards: 1 reveals, 0 hides, greys in between. */
  target: Unit,
  /** Diameter in scene pixels. */
  size: z.number().min(1).max(20000),
  /** Share of the radius that is full, 0..1. */
  hardness: Unit,
  /** The most that the stroke changes the mask, however often it crosses itself. */
  strength: Unit,
  /** How quickly each touch builds up to the strength. */
  flow: z.number().min(0.01).max(1),
  pressure: z.enum(['none', 'size', 'strength']),
  /** The recipe it was painted through, as it was then. */
  stencil: Stencil.nullable(),
});
export type Stroke = z.infer<typeof Stroke>;

export const PaintedPart = z.strictObject({ kind: z.literal('painted'), ...partBase, strokes: z.array(Stroke) });
export type PaintedPart = z.infer<typeof PaintedPart>;

const ScenePoint = z.strictObject({ x: z.number(), y: z.number() });

/** A fall along a line: all up to where it starts, nothing from where it ends, on lines at right angles to it. */
export const GradientPart = z.strictObject({
  kind: z.literal('gradient'),
  ...partBase,
  /** Scene points. */
  start: ScenePoint,
  end: ScenePoint,
  /** How it falls: evenly, or slowly at both ends. */
  profile: z.enum(['linear', 'smooth']),
  /** Where it has fallen by half, as a share of the way. */
  middle: z.number().min(0.05).max(0.95),
});
export type GradientPart = z.infer<typeof GradientPart>;

export const Part = z.discriminatedUnion('kind', [TonePart, PaintedPart, GradientPart]);
export type Part = z.infer<typeof Part>;

/** A mask is a recipe: parts joined first to last, then refined. It starts from nothing. */
export const Mask = z.strictObject({
  parts: z.array(Part),
  /** Standard deviation of the blur over the joined mask, in scene pixels. */
  softness: z.number().min(0).max(400),
  inverted: z.boolean(),
});
export type Mask = z.infer<typeof Mask>;

/** Light tones of a source, as they are: coverage equal to tone. */
export function newTonePart(source: ToneSource): TonePart {
  return {
    kind: 'tone',
    join: 'add',
    enabled: true,
    source,
    side: 'light',
    from: 0,
    to: 1,
    fromShoulder: 0,
    toShoulder: 0,
    narrowing: 0,
  };
}

/** The mask of a new layer: nothing shows until something is painted or laid. */
export function newMask(): Mask {
  return { parts: [{ kind: 'painted', join: 'add', enabled: true, strokes: [] }], softness: 0, inverted: false };
}
