import type { RadianceCanvas, Rgb } from '../canvas.ts';
import { crests, fbm, lerp, noiseOf, smoothstep } from '../noise.ts';

/** Height of the true horizon in the picture. */
export const HORIZON = 0.5;
/** Where the sun has set. */
const SUNK = { x: 0.36, y: 0.5 };

const veil = noiseOf('viaduct-veil');
const line = noiseOf('viaduct-line');

/** How far dusk has come: 0 at the sunset glow, 1 in the blue hour; and the light of the sky as a whole then. */
export interface Dusk {
  late: number;
  /** Share of the first moment's light that is left. */
  light: number;
}

/** Dusk some minutes after the sunset glow: light falls by half about every eleven minutes (from memory, civil dusk). */
export function duskAfter(minutes: number): Dusk {
  return { late: Math.min(1, minutes / 50), light: 2 ** (-minutes / 11) };
}

/** Light of the sky: embers at the horizon that sink and redden, blue that deepens above. */
export function skyAt(x: number, y: number, { late, light }: Dusk): [number, number, number] {
  const height = Math.max(0, HORIZON - y) / HORIZON;
  const toSun = Math.abs(x - SUNK.x);
  const side = Math.exp(-((toSun / lerp(0.75, 0.5, late)) ** 2));
  const ember = Math.exp(-height / lerp(0.2, 0.085, late)) * side * lerp(1, 0.34, late);
  const band = Math.exp(-(((height - 0.3) / 0.22) ** 2)) * side * (1 - late) * 0.4;
  const blue = lerp(0.55, 1, height ** 0.7);
  const zenith: Rgb = [lerp(0.115, 0.045, late), lerp(0.15, 0.085, late), lerp(0.25, 0.2, late)];
  const low = Math.exp(-height * 3.2);
  // The afterglow fades more slowly than the sky above it.
  const glow = light ** 0.72;
  return [
    light * (zenith[0] * (1.5 - 0.8 * blue) + 0.1 * low) + glow * (0.95 * ember + 0.42 * band),
    light * (zenith[1] * (1.4 - 0.6 * blue) + 0.1 * low) + glow * (0.4 * ember + 0.16 * band),
    light * (zenith[2] * (1.15 - 0.2 * blue) + 0.1 * low) + glow * (0.13 * ember + 0.12 * band),
  ];
}

/** Fills the sky with thin cloud in bands, lit from below while the glow lasts. */
export function paintDusk(
  canvas: RadianceCanvas,
  dusk: Dusk,
  minutes: number,
  progress: (share: number) => void,
): void {
  const rows = Math.ceil(canvas.height * 0.56);
  for (let row = 0; row < rows; row++) {
    const y = (row + 0.5) / canvas.height;
    const rise = Math.max(0.01, HORIZON - y);
    for (let column = 0; column < canvas.width; column++) {
      const x = (column + 0.5) / canvas.height;
      const sky = skyAt(x, y, dusk);
      const depth = 0.3 / (rise + 0.12);
      const u = (x - 0.5) * depth + minutes * 0.012;
      const bend = 0.3 * fbm(veil, u * 1.2, depth * 2, 4);
      const body = fbm(veil, u * 0.9 + bend, depth * 3.4 - bend, 7);
      const cloud = 0.75 * smoothstep(-0.02, 0.5, body + 0.1) * smoothstep(0.01, 0.09, rise);
      const below = Math.exp(-Math.abs(x - SUNK.x) / 0.55) * (1 - 0.75 * dusk.late) * dusk.light ** 0.72;
      const lit: Rgb = [sky[0] * 0.62 + 0.42 * below, sky[1] * 0.6 + 0.17 * below, sky[2] * 0.66 + 0.1 * below];
      const at = (row * canvas.width + column) * 3;
      for (let channel = 0; channel < 3; channel++) canvas.rgb[at + channel] = lerp(sky[channel], lit[channel], cloud);
    }
    if (row % 64 === 0) progress(row / rows);
  }
}

/** Paints the hills behind the town, from far to near. */
export function paintHills(canvas: RadianceCanvas, dusk: Dusk, waterline: number): void {
  for (const { crest, swing, scale, air, seed } of [
    { crest: 0.455, swing: 0.05, scale: 1.4, air: 0.5, seed: 5 },
    { crest: 0.485, swing: 0.06, scale: 2.1, air: 0.26, seed: 19 },
  ]) {
    for (let column = 0; column < canvas.width; column++) {
      const x = (column + 0.5) / canvas.height;
      const wood = 0.002 * Math.abs(line(x * 240, seed));
      const top = crest - 0.07 * smoothstep(0.7, 1.5, x) - swing * (crests(line, x * scale, seed, 6) - 0.4) - wood;
      const haze = skyAt(x, HORIZON - 0.02, dusk);
      for (let row = Math.max(0, Math.floor(top * canvas.height)); row < waterline * canvas.height; row++) {
        const y = (row + 0.5) / canvas.height;
        const coverage = Math.min(1, (y - top) * canvas.height + 0.5);
        if (coverage <= 0) continue;
        const grain = 0.6 + 0.7 * Math.abs(fbm(line, x * 110, y * 170 + seed, 4));
        const own = 0.03 * grain * dusk.light;
        const colour = [own * 0.85, own, own * 1.15].map((value, c) => lerp(value, haze[c] * 0.5, air));
        canvas.cover(column, row, colour as unknown as Rgb, coverage);
      }
    }
  }
}
