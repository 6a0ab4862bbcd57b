import { z } from 'zod';
import { FrameId, ItemId, PartId, RecipeId, StencilId } from './ids.ts';
import { AT_REST, CurvePoint, Refinements } from './refinements.ts';
import { Source } from './source.ts';
import { Touch } from './stroke.ts';

const Unit = z.number().min(0).max(1);

export const Join = z.enum(['add', 'subtract', 'intersect', 'exclude']);
export type Join = z.infer<typeof Join>;

export const ToneSide = z.enum(['light', 'dark', 'middle', 'curve']);
export type ToneSide = z.infer<typeof ToneSide>;

/** What is read of a pixel: luminance (of the encoded values), lightness L*, its brightest channel, one channel, or its chroma in
 * Oklab. */
export const Measure = z.enum(['luminance', 'lightness', 'brightest', 'red', 'green', 'blue', 'chroma']);
export type Measure = z.infer<typeof Measure>;

/** A range that is let through in full, and how far outside it coverage takes to fall to nothing. */
const range = { from: Unit, to: Unit, fromShoulder: Unit, toShoulder: Unit };
export const Range = z.strictObject(range);
export type Range = z.infer<typeof Range>;

/** Coverage by tone: the side's own coverage, narrowed, within a range with soft shoulders. */
export const ToneSettings = z.strictObject({
  source: Source,
  measure: Measure,
  side: ToneSide,
  /** Coverage over tones, for the side that is a curve: a smooth one through points, their x rising. It has no range besides. */
  curve: z.array(CurvePoint).max(16).optional(),
  ...range,
  /** How many times more the coverage is multiplied by itself; fractions allowed. */
  narrowing: z.number().min(0).max(8),
});
export type ToneSettings = z.infer<typeof ToneSettings>;

const partBase = {
  id: PartId,
  /** Of the user's, empty for what the part is. */
  name: z.string().max(60),
  join: Join,
  enabled: z.boolean(),
  refine: Refinements,
};

export const TonePart = z.strictObject({ kind: z.literal('tone'), ...partBase, ...ToneSettings.shape });
export type TonePart = z.infer<typeof TonePart>;

/** Hue, chroma and lightness in Oklab, each a range with soft shoulders. */
export const ColourPart = z.strictObject({
  kind: z.literal('colour'),
  ...partBase,
  source: Source,
  /** Middle of the hues in degrees, how far they reach each way in full, and the shoulder beyond. */
  hue: z.strictObject({
    centre: z.number().min(0).max(360),
    width: z.number().min(0).max(180),
    shoulder: z.number().min(0).max(180),
  }),
  /** Of the most vivid that a screen shows, see `CHROMA_FULL`. */
  chroma: Range,
  lightness: Range,
});
export type ColourPart = z.infer<typeof ColourPart>;

export const PaintedPart = z.strictObject({ kind: z.literal('painted'), ...partBase, strokes: z.array(Touch) });
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

/** An ellipse: full inside, falling to nothing at its rim. */
export const RadialPart = z.strictObject({
  kind: z.literal('radial'),
  ...partBase,
  centre: ScenePoint,
  radiusX: z.number().min(1).max(100_000),
  radiusY: z.number().min(1).max(100_000),
  /** Degrees, clockwise. */
  turn: z.number().min(-180).max(180),
  /** Share of the radii over which it falls. */
  feather: Unit,
});
export type RadialPart = z.infer<typeof RadialPart>;

/** The inside of a closed line of straight pieces. */
export const OutlinePart = z.strictObject({
  kind: z.literal('outline'),
  ...partBase,
  /** x, y, x, y in scene pixels. */
  corners: z.array(z.number()).max(8000),
  /** How far the edge is soft, in scene pixels. */
  feather: z.number().min(0).max(400),
});
export type OutlinePart = z.infer<typeof OutlinePart>;

/** Where two frames differ after their exposures are matched. */
export const DifferencePart = z.strictObject({
  kind: z.literal('difference'),
  ...partBase,
  first: FrameId,
  second: FrameId,
  /** Stops by which the second is brighter; null takes those of the camera. */
  stops: z.number().min(-20).max(20).nullable(),
  /** Difference of lightness that covers nothing yet, and how much more covers fully. */
  from: Unit,
  shoulder: Unit,
});
export type DifferencePart = z.infer<typeof DifferencePart>;

/** A grey picture from a file, scaled to the scene. */
export const PicturePart = z.strictObject({
  kind: z.literal('picture'),
  ...partBase,
  file: z.strictObject({ sha256: z.string().length(64), name: z.string(), bytes: z.number().int().nonnegative() }),
  /** The size that it was scaled to when it was read, null where it had the scene's. */
  scaleTo: z.strictObject({ width: z.number().int().positive(), height: z.number().int().positive() }).nullable(),
});
export type PicturePart = z.infer<typeof PicturePart>;

/** Another mask: as it is at any time, or as it was. */
export const ReferencePart = z.strictObject({
  kind: z.literal('reference'),
  ...partBase,
  to: z.union([
    /** The mask of an item. */
    z.strictObject({ item: ItemId }),
    z.strictObject({ stencil: StencilId }),
    z.strictObject({ frozen: RecipeId, of: z.string().max(80) }),
  ]),
});
export type ReferencePart = z.infer<typeof ReferencePart>;

export const Part = z.discriminatedUnion('kind', [
  TonePart,
  ColourPart,
  PaintedPart,
  GradientPart,
  RadialPart,
  OutlinePart,
  DifferencePart,
  PicturePart,
  ReferencePart,
]);
export type Part = z.infer<typeof Part>;
export type PartKind = Part['kind'];

/** A mask is a recipe: parts joined first to last, then refined. It starts from nothing. */
export const Mask = z.strictObject({ parts: z.array(Part), refine: Refinements });
export type Mask = z.infer<typeof Mask>;

/** A mask with a name, to paint through. */
export const Stencil = z.strictObject({ id: StencilId, name: z.string().max(60), mask: Mask });
export type Stencil = z.infer<typeof Stencil>;

/** A mask as it was at some time. */
export const Recipe = z.strictObject({
  /** The stencil that it is of, null for other masks. */
  of: StencilId.nullable(),
  /** The item that its sources are seen from; null: the one that it is used on. */
  seenFrom: ItemId.nullable(),
  mask: Mask,
});
export type Recipe = z.infer<typeof Recipe>;

/** What every part begins with. */
export const plainPart = (kind: PartKind, id: string = kind) => ({
  id: PartId.parse(id),
  name: '',
  join: 'add' as Join,
  enabled: true,
  refine: AT_REST,
});

/** Everything lies within it. */
export const WHOLE_RANGE: Range = { from: 0, to: 1, fromShoulder: 0, toShoulder: 0 };

/** Light tones of a source, as they are: coverage equal to tone. */
export function newTonePart(source: Source, id?: string): TonePart {
  return {
    kind: 'tone',
    ...plainPart('tone', id),
    source,
    measure: 'luminance',
    side: 'light',
    ...WHOLE_RANGE,
    narrowing: 0,
  };
}

export function newPaintedPart(id?: string): PaintedPart {
  return { kind: 'painted', ...plainPart('painted', id), strokes: [] };
}

export const emptyMask = (): Mask => maskOfParts([]);

/** A mask that hides nothing until it says so. */
export const openMask = (): Mask => ({ ...emptyMask(), refine: { ...AT_REST, inverted: true } });

export const maskOfParts = (parts: Part[]): Mask => ({ parts, refine: AT_REST });

/** The mask of a new layer: nothing shows until something is painted or laid. */
export const newMask = (): Mask => maskOfParts([newPaintedPart()]);

/** An id that no part of a mask has yet. */
export function freshPartId({ parts }: Mask, kind: PartKind): PartId {
  for (let n = 1; ; n++) {
    const id = n === 1 ? kind : `${kind}-${n}`;
    if (!parts.some((part) => part.id === id)) return PartId.parse(id);
  }
}
