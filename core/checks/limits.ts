/** The one definition of usable tones, in levels of 255: noise lives in the darkest 6 to 8, clipping counts from 254 (common
 * practice, no source). All else that asks whether a tone can be used goes by distances from these two. */
export const BLOCKED_TO = 7;
export const BLOWN_FROM = 254;

/** Whether a level holds detail. */
export const isUsable = (level: number): boolean => level > BLOCKED_TO && level < BLOWN_FROM;

/** Levels between which two frames are compared: one step into the noise either may be, and what is nearly clipped is bent. */
export const COMPARED = { from: BLOCKED_TO + 1, to: BLOWN_FROM - 4 } as const;

/** Levels between which a tone tells of the exposure: far from the noise, and from where cameras bend towards white. */
export const TELLING = { from: BLOCKED_TO + 13, to: BLOWN_FROM - 19 } as const;

/** Levels over which tones fade out at both ends where places are found again: a few steps of files of 8 bits. */
const FADES = { noise: [BLOCKED_TO - 5, BLOCKED_TO + 2], clip: [BLOWN_FROM - 10, BLOWN_FROM - 3] } as const;

/** How far a tone can be relied on, 0 (noise, or clipped) to 1.
 * @param code - Of 16 bits, of the brightest channel. */
export const trustIn = (code: number): number => ramp(code, FADES.noise) * (1 - ramp(code, FADES.clip));

function ramp(code: number, [from, to]: readonly [number, number]): number {
  const level = code / 257;
  return level <= from ? 0 : level >= to ? 1 : (level - from) / (to - from);
}
