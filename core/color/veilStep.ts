import type { Run } from './surroundings.ts';

/** A little of the veil stays, so that what is far looks far (the paper's omega). */
const KEPT = 0.05;
/** Light of which less than this share comes through is not made more of (the paper's t0). */
const LEAST_THROUGH = 0.1;
/** A veil that is laid covers what stands near by this share of what it covers at its thickest. */
const NEAR = 0.3;

/** Share of light that comes through a veil, and what becomes of light: J = (I - A) / t + A, and the other way round.
 * @param amount - Share that is taken away; below 0, laid.
 * @param thickness - From the dark channel, 0..1. */
export function throughVeil(amount: number, thickness: number): { gain: number; added: number } {
  if (amount >= 0) {
    const gain = 1 / Math.max(LEAST_THROUGH, 1 - amount * (1 - KEPT) * thickness);
    return { gain, added: 1 - gain };
  }
  const gain = 1 + amount * (NEAR + (1 - NEAR) * thickness);
  return { gain, added: 1 - gain };
}

/** @param veil - Its light. */
export function veilRun(amount: number, [r, g, b]: readonly [number, number, number]): Run {
  const [gains, adds] = [new Float32Array(65536), new Float32Array(65536)];
  for (let code = 0; code < 65536; code++) {
    const { gain, added } = throughVeil(amount, code / 65535);
    gains[code] = gain;
    adds[code] = added;
  }
  return (red, green, blue, { veil = 0 }) => {
    for (let i = 0; i < red.length; i++) {
      const code = typeof veil === 'number' ? veil : veil[i];
      const gain = gains[code];
      const added = adds[code];
      red[i] = red[i] * gain + r * added;
      green[i] = green[i] * gain + g * added;
      blue[i] = blue[i] * gain + b * added;
    }
  };
}
