import { z } from 'zod';
import { BLOCKED_TO, BLOWN_FROM } from '#core/checks/limits.ts';
import { ItemId } from '#core/ids.ts';

const Unit = z.number().min(0).max(1);

/** What the canvas looks at. `layer` is the selected layer's frame alone; `edge` the picture with lines where the mask passes. */
export const Look = z.enum(['picture', 'grey', 'overlay', 'edge', 'layer']);
export type Look = z.infer<typeof Look>;

export const Brush = z.strictObject({
  /** `back` pulls a map back to what changes nothing. */
  effect: z.enum(['reveal', 'hide', 'soften', 'even', 'back']),
  /** What revealing pulls the mask towards. */
  grey: Unit,
  size: z.number().min(1).max(4000),
  hardness: Unit,
  strength: Unit,
  flow: z.number().min(0.01).max(1),
  pressure: z.enum(['none', 'size', 'strength', 'both']),
  pressureCurve: z.number().min(0.2).max(5),
  /** The speed of the hand stands for the pressure of a pen. */
  speedAsPen: z.boolean(),
  /** A stroke stays on the colour under the brush's centre, within this distance in Oklab; 0 lets it go anywhere. */
  keepTo: z.number().min(0).max(0.3),
});
export type Brush = z.infer<typeof Brush>;

/** Where the canvas stands: screen pixels per scene pixel, and the scene point in its middle; or fitted. */
export const Viewport = z.strictObject({
  fit: z.boolean(),
  scale: z.number().positive(),
  x: z.number(),
  y: z.number(),
});
export type Viewport = z.infer<typeof Viewport>;

/** Which of a layer's masks is worked on. */
export const MaskChoice = z.enum(['mask', 'guard', 'stencil', 'group']);
export type MaskChoice = z.infer<typeof MaskChoice>;

/** Strengths that a brush is used with (common practice, no source). */
export const STRENGTHS = [0.1, 0.2, 0.4, 0.7, 1] as const;

/** The next of the usual strengths, or the one before. */
export const strengthAfter = (strength: number, steps: 1 | -1): number =>
  (steps > 0
    ? STRENGTHS.find((each) => each > strength + 1e-6)
    : STRENGTHS.findLast((each) => each < strength - 1e-6)) ?? strength;

/** What a picture is compared with: the base alone, all but the card at hand or but its group, or an earlier step. */
export const Before = z.enum(['base', 'layer', 'group', 'step']);
export type Before = z.infer<typeof Before>;

/** How the bench of a scene was left; kept with it, but no part of what makes the picture. */
export const BenchState = z.strictObject({
  /** The layer or adjustment that is worked on. */
  layerId: ItemId.nullable(),
  /** Groups that are folded to one card. */
  folded: z.array(ItemId).default([]),
  look: Look,
  /** The mask that is laid open: its parts are listed. */
  of: MaskChoice,
  /** The mask that strokes go to; a layer that has no such mask takes them in its own. */
  paintsOn: MaskChoice.default('mask'),
  /** What the grey, overlay and edge views show: how much of the layer counts in the picture, or the mask that is open alone. */
  shows: z.enum(['effect', 'mask']).default('effect'),
  overlay: z.strictObject({ colour: z.tuple([z.number(), z.number(), z.number()]), strength: Unit }),
  /** How the stencil shows while it holds the brush. */
  stencilShown: z.enum(['overlay', 'grey', 'edge', 'not']),
  /** What is shown as before. */
  beforeIs: Before.default('base'),
  loupe: z.boolean(),
  /** Blown and blocked places are hatched over the picture. */
  limits: z.boolean().default(false),
  /** Levels of 255 up to which a place counts as blocked, and from which on as blown. */
  blockedTo: z.number().int().min(0).max(255).default(BLOCKED_TO),
  blownFrom: z.number().int().min(0).max(255).default(BLOWN_FROM),
  /** Places of the checks that are left as they are, by name. */
  dismissed: z.array(z.string().max(200)).max(600).default([]),
  brush: Brush,
  viewport: Viewport,
});
export type BenchState = z.infer<typeof BenchState>;

/** Colours for a mask over the picture, verdigris first; 8-bit sRGB. */
export const OVERLAY_COLOURS = [
  { name: 'Verdigris', rgb: [94, 196, 178] },
  { name: 'Ochre', rgb: [222, 160, 48] },
  { name: 'Violet', rgb: [170, 110, 224] },
  { name: 'White', rgb: [255, 255, 255] },
  { name: 'Black', rgb: [0, 0, 0] },
] as const;

/** Skies are begun with a wide soft brush (common practice, no source). */
export function newBenchState(): BenchState {
  return {
    layerId: null,
    folded: [],
    look: 'picture',
    of: 'mask',
    paintsOn: 'mask',
    shows: 'effect',
    overlay: { colour: [...OVERLAY_COLOURS[0].rgb], strength: 0.72 },
    stencilShown: 'not',
    beforeIs: 'base',
    loupe: false,
    limits: false,
    blockedTo: BLOCKED_TO,
    blownFrom: BLOWN_FROM,
    dismissed: [],
    brush: {
      effect: 'reveal',
      grey: 1,
      size: 400,
      hardness: 0,
      strength: 0.4,
      flow: 1,
      pressure: 'strength',
      pressureCurve: 1,
      speedAsPen: false,
      keepTo: 0,
    },
    viewport: { fit: true, scale: 1, x: 0, y: 0 },
  };
}
