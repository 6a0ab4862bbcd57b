import { z } from 'zod';
import type { Curve } from '../color/pointSteps.ts';
import { defineAdjustment } from './defineAdjustment.ts';

const Unit = z.number().min(0).max(1);
const Levels = z
  .strictObject({ black: Unit, white: Unit, power: z.number().min(0.1).max(10) })
  .refine(({ black, white }) => white > black, 'white has to lie above black');
type Levels = z.infer<typeof Levels>;

const PLAIN: Levels = { black: 0, white: 1, power: 1 };
const isPlain = ({ black, white, power }: Levels): boolean => black === 0 && white === 1 && power === 1;

const isSame = (a: Levels, b: Levels): boolean => a.black === b.black && a.white === b.white && a.power === b.power;

/** Values that become black and white, and the power of what lies between; what lies above white goes on rising. */
const curveOf =
  ({ black, white, power }: Levels): Curve =>
  (value) =>
    Math.max(0, (value - black) / (white - black)) ** (1 / power);

/** Encoded values that become black and white, for each channel and then for all, and what black and white become at last. */
export const levels = defineAdjustment({
  schema: z.strictObject({ all: Levels, red: Levels, green: Levels, blue: Levels, outBlack: Unit, outWhite: Unit }),
  rest: { all: PLAIN, red: PLAIN, green: PLAIN, blue: PLAIN, outBlack: 0, outWhite: 1 },
  isAtRest: ({ all, red, green, blue, outBlack, outWhite }) =>
    [all, red, green, blue].every(isPlain) && outBlack === 0 && outWhite === 1,
  rows: [
    { path: ['all', 'black'], min: 0, max: 0.9, step: 0.002, unit: 'share', usual: 0 },
    { path: ['all', 'power'], min: 0.1, max: 10, step: 0.01, unit: 'power', usual: 1, geometric: true },
    { path: ['all', 'white'], min: 0.1, max: 1, step: 0.002, unit: 'share', usual: 1 },
    { path: ['outBlack'], min: 0, max: 1, step: 0.002, unit: 'share', usual: 0 },
    { path: ['outWhite'], min: 0, max: 1, step: 0.002, unit: 'share', usual: 1 },
  ],
  steps: ({ all, red, green, blue, outBlack, outWhite }) => {
    const joined = curveOf(all);
    const channel = (own: Levels): Curve => {
      const first = curveOf(own);
      return (value) => outBlack + (outWhite - outBlack) * joined(first(value));
    };
    // Channels alike share their table.
    const [r, g, b] = [channel(red), isSame(green, red) ? undefined : channel(green), channel(blue)];
    return [{ step: 'channels', curves: [r, g ?? r, isSame(blue, red) ? r : b] }];
  },
});
