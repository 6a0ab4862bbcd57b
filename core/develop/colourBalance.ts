import { z } from 'zod';
import { TINT_KNOTS, tintLightness } from '../kernels/labSteps.ts';
import { smoothstep } from '../kernels/smoothstep.ts';
import { defineAdjustment } from './defineAdjustment.ts';

/** A tint: its hue in degrees of Oklab, and how far towards it, as chroma. */
const Tint = z.strictObject({ hue: z.number().min(0).max(360), chroma: z.number().min(0).max(0.2) });
type Tint = z.infer<typeof Tint>;
const NONE: Tint = { hue: 0, chroma: 0 };
const Unit = z.number().min(0).max(1);

/** A tint each for darks, middle and brights; lightness stays. */
export const colourBalance = defineAdjustment({
  schema: z.strictObject({
    darks: Tint,
    middle: Tint,
    brights: Tint,
    /** Lightness where darks go over into the middle, and the middle into brights, and how softly. */
    lower: Unit,
    upper: Unit,
    softness: z.number().min(0.01).max(1),
    strength: Unit,
  }),
  rest: { darks: NONE, middle: NONE, brights: NONE, lower: 0.35, upper: 0.7, softness: 0.3, strength: 1 },
  isAtRest: ({ darks, middle, brights, strength }) =>
    strength === 0 || [darks, middle, brights].every(({ chroma }) => chroma === 0),
  rows: [
    ...(['darks', 'middle', 'brights'] as const).flatMap((tones) => [
      { path: [tones, 'hue'], min: 0, max: 360, step: 1, unit: 'degrees', usual: 0 } as const,
      { path: [tones, 'chroma'], min: 0, max: 0.2, step: 0.002, unit: 'share', usual: 0 } as const,
    ]),
    { path: ['lower'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.35 },
    { path: ['upper'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.7 },
    { path: ['softness'], min: 0.01, max: 1, step: 0.01, unit: 'share', usual: 0.3 },
    { path: ['strength'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 1 },
  ],
  steps: ({ darks, middle, brights, lower, upper, softness, strength }) => {
    const axes = ({ hue, chroma }: Tint) => {
      const angle = (hue * Math.PI) / 180;
      return [strength * chroma * Math.cos(angle), strength * chroma * Math.sin(angle)];
    };
    const [[da, db], [ma, mb], [ba, bb]] = [darks, middle, brights].map(axes);
    const above = (border: number, lightness: number) => smoothstep((lightness - border) / softness + 0.5);
    const shiftAt = (l: number): [number, number] => {
      const [low, high] = [above(lower, l), above(upper, l)];
      const [dark, mid, bright] = [1 - low, low * (1 - high), low * high];
      // Black has no colour.
      const much = Math.min(1, Math.max(0, l) * 10);
      return [much * (dark * da + mid * ma + bright * ba), much * (dark * db + mid * mb + bright * bb)];
    };
    const table = new Float32Array(2 * TINT_KNOTS);
    for (let knot = 0; knot < TINT_KNOTS; knot++) table.set(shiftAt(tintLightness(knot)), 2 * knot);
    return [{ step: 'lab', change: (lab, { kernels, within }) => kernels.tintByLightness(within(table), lab) }];
  },
});
