import { z } from 'zod';
import { keptNode } from '../render/nodes/keptNode.ts';
import { defineAdjustment } from './defineAdjustment.ts';
import { FringeNode } from './fringeNode.ts';

/** Shares by which a channel may be drawn larger: ten pixels in two thousand. */
const LARGEST = 0.005;
const Scale = z.number().min(-LARGEST).max(LARGEST);

const Line = z.strictObject({
  /** Share of their colour that is taken from lines, 0..1. */
  amount: z.number().min(0).max(1),
  /** Hues, in degrees of Oklab: their middle, and how far they reach each way in full. */
  centre: z.number().min(0).max(360),
  width: z.number().min(0).max(90),
});

/** Coloured lines at hard edges. Red and blue that the lens drew larger than green are laid on it where the frame is placed, in one
 * resampling: see `lensOf`. Lines of some hues lose their colour beside edges. */
export const fringes = defineAdjustment({
  schema: z.strictObject({
    /** Shares by which the lens drew red and blue larger than green. */
    red: Scale,
    blue: Scale,
    purple: Line,
    green: Line,
    /** How far from an edge lines lie, in pixels of the frame. */
    reach: z.number().min(1).max(8),
  }),
  rest: {
    red: 0,
    blue: 0,
    purple: { amount: 0, centre: 310, width: 30 },
    green: { amount: 0, centre: 145, width: 25 },
    reach: 3,
  },
  isAtRest: ({ red, blue, purple, green }) => red === 0 && blue === 0 && purple.amount === 0 && green.amount === 0,
  rows: [
    { path: ['red'], min: -LARGEST, max: LARGEST, step: 0.00002, unit: 'permille', usual: 0 },
    { path: ['blue'], min: -LARGEST, max: LARGEST, step: 0.00002, unit: 'permille', usual: 0 },
    { path: ['purple', 'amount'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0 },
    { path: ['purple', 'centre'], min: 0, max: 360, step: 1, unit: 'degrees', usual: 310, isDetail: true },
    { path: ['purple', 'width'], min: 0, max: 90, step: 1, unit: 'degrees', usual: 30, isDetail: true },
    { path: ['green', 'amount'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0 },
    { path: ['green', 'centre'], min: 0, max: 360, step: 1, unit: 'degrees', usual: 145, isDetail: true },
    { path: ['green', 'width'], min: 0, max: 90, step: 1, unit: 'degrees', usual: 25, isDetail: true },
    { path: ['reach'], min: 1, max: 8, step: 0.5, unit: 'px', usual: 3, isDetail: true },
  ],
  steps: () => [],
  build: (source, { purple, green, reach }, { space }) =>
    purple.amount === 0 && green.amount === 0
      ? source
      : new FringeNode(keptNode(source), [purple, green], reach, space),
});
