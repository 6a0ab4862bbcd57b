import alea from 'alea';
import { ADJUSTMENTS } from '#core/develop/list.ts';

/** Settings of some adjustments at random, gentle ones, so that a rounding stays a rounding. */
export function randomDevelop(seed: string) {
  const random = alea(seed);
  const between = (low: number, high: number) => low + (high - low) * random();
  const chance = (share: number) => random() < share;
  const levels = () => ({ black: between(0, 0.08), white: between(0.85, 1), power: between(0.8, 1.25) });
  const points = () =>
    chance(0.5)
      ? []
      : [
          { x: 0, y: between(0, 0.05) },
          { x: between(0.3, 0.6), y: between(0.3, 0.6) },
          { x: 1, y: between(0.9, 1) },
        ];
  const tint = () => ({ hue: between(0, 360), chroma: between(0, 0.05) });
  const all = {
    whiteBalance: { kelvin: between(4000, 9000), tint: between(-12, 12) },
    exposure: { stops: between(-1.5, 1.5) },
    ends: {
      darks: { stops: between(-1, 2), reach: between(-5, -2) },
      brights: { stops: between(-2, 1), reach: between(-5, -2) },
    },
    contrast: {
      slope: between(0.75, 1.3),
      middle: between(-4, -1),
      of: chance(0.5) ? ('base' as const) : ('all' as const),
    },
    localContrast: {
      fine: { amount: chance(0.3) ? 0 : between(-0.5, 0.6), radius: Math.floor(between(2, 8)) },
      broad: { amount: 0, radius: 120 },
    },
    levels: {
      all: levels(),
      red: levels(),
      green: levels(),
      blue: levels(),
      outBlack: between(0, 0.05),
      outWhite: between(0.9, 1),
    },
    curve: { all: points(), red: points(), green: points(), blue: points(), lightness: points() },
    colour: {
      saturation: between(-0.5, 0.5),
      spare: random(),
      ranges: Array.from({ length: Math.floor(between(0, 3)) }, () => ({
        centre: between(0, 360),
        width: between(10, 60),
        shoulder: between(30, 90),
        turn: between(-20, 20),
        saturation: between(-0.5, 0.5),
        lightness: between(-0.3, 0.3),
      })),
    },
    colourBalance: {
      ...ADJUSTMENTS.colourBalance.rest,
      darks: tint(),
      middle: tint(),
      brights: tint(),
      strength: random(),
    },
    grey: { ...ADJUSTMENTS.grey.rest, strength: between(0, 0.5) },
  };
  const kept = Object.entries(all).filter(() => chance(0.6));
  return Object.fromEntries(kept) as Partial<typeof all>;
}
