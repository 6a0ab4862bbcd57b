/** Tones as planes of 16 bits hold them: stops against white, from the darkest that is told apart to four above white. */
export const DARKEST_STOPS = -12;
export const TONE_SPAN = 16;

export const toneOfCode = (code: number): number => DARKEST_STOPS + (code / 65535) * TONE_SPAN;

/** @param light - Linear, 1 being white. */
export const stopsOfLight = (light: number): number => Math.log2(Math.max(light, 2 ** DARKEST_STOPS));
