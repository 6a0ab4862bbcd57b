import type { RadianceCanvas, Rgb } from './canvas.ts';
import { crests, fbm, lerp, type Noise, noiseOf, smoothstep } from './noise.ts';
import { clearSky, GLOW, HORIZON } from './sky.ts';

interface Ridge {
  seed: string;
  /** Height of the crest line and how far it swings, in picture heights. */
  crest: (x: number) => number;
  swing: number;
  /** Wavelengths of the crest across one picture height. */
  scale: number;
  /** Share of its own light that reaches the camera through the air. */
  clear: number;
  snow: number;
  wood: number;
}

const RIDGES: readonly Ridge[] = [
  {
    seed: 'far',
    crest: (x) => 0.36 + 0.05 * Math.abs(x - 0.62) - 0.03 * Math.exp(-(((x - 0.3) / 0.2) ** 2)),
    swing: 0.1,
    scale: 1.5,
    clear: 0.3,
    snow: 1,
    wood: 0,
  },
  {
    seed: 'second',
    crest: (x) => 0.4 - 0.075 * smoothstep(0.95, 1.5, x) + 0.02 * x,
    swing: 0.085,
    scale: 1.9,
    clear: 0.5,
    snow: 0.55,
    wood: 0,
  },
  {
    seed: 'third',
    crest: (x) => 0.435 - 0.09 * smoothstep(0.42, 0, x),
    swing: 0.06,
    scale: 2.4,
    clear: 0.68,
    snow: 0.12,
    wood: 0.25,
  },
  {
    seed: 'near',
    crest: (x) => 0.47 - 0.03 * smoothstep(0.5, 1.35, x),
    swing: 0.04,
    scale: 3.4,
    clear: 0.84,
    snow: 0,
    wood: 1,
  },
];

/** Paints the ridges from far to near, each paler the more air lies before it. */
export function paintRidges(canvas: RadianceCanvas, waterline: number, progress: (share: number) => void): void {
  RIDGES.forEach((ridge, index) => {
    paintRidge(canvas, ridge, waterline);
    progress((index + 1) / RIDGES.length);
  });
}

function paintRidge(canvas: RadianceCanvas, ridge: Ridge, waterline: number): void {
  const line = noiseOf(`tarn-ridge-${ridge.seed}`);
  const face = noiseOf(`tarn-face-${ridge.seed}`);
  const lastRow = Math.ceil(waterline * canvas.height);
  for (let column = 0; column < canvas.width; column++) {
    const x = (column + 0.5) / canvas.height;
    const crest = crestAt(ridge, line, x);
    const haze = hazeAt(x, ridge.clear);
    for (let row = Math.max(0, Math.floor(crest * canvas.height)); row <= lastRow; row++) {
      const y = (row + 0.5) / canvas.height;
      const coverage = Math.min(1, (y - crest) * canvas.height + 0.5);
      if (coverage <= 0) continue;
      const own = faceLight(ridge, face, x, y, y - crest);
      const low = smoothstep(0.02, 0.12, y - crest);
      // Air lies thicker in the valley than at the crest.
      const clear = ridge.clear * (1 - 0.42 * low * (1 - ridge.clear * 0.6));
      canvas.cover(column, row, [0, 1, 2].map((c) => lerp(haze[c], own[c], clear)) as unknown as Rgb, coverage);
    }
  }
}

function crestAt(ridge: Ridge, line: Noise, x: number): number {
  const rough = crests(line, x * ridge.scale, 3.7, 9) - 0.42;
  const trees = ridge.wood > 0 ? Math.abs(line(x * 310, 9)) * 0.0045 + Math.abs(line(x * 97, 4)) * 0.004 : 0;
  return ridge.crest(x) - ridge.swing * rough - ridge.wood * trees;
}

/** Air between camera and ridge: bright and warm under the glow, blue away from it. */
function hazeAt(x: number, clear: number): Rgb {
  const [r, g, b] = clearSky(lerp(x, GLOW.x, 0.1), HORIZON - 0.02 - 0.03 * (1 - clear));
  const toGlow = Math.exp(-(((x - GLOW.x) / 0.4) ** 2));
  return [r * (0.085 + 0.2 * toGlow), g * (0.11 + 0.17 * toGlow), b * (0.19 + 0.14 * toGlow)];
}

/** Light of the mountain side itself: gullies and ribs, snow that lies in the folds, wood below. */
function faceLight(ridge: Ridge, face: Noise, x: number, y: number, below: number): Rgb {
  const s = ridge.scale;
  const bend = fbm(face, x * s * 2 + 40, y * s * 2, 3) * 0.35;
  const flow = x * s * 3.2 + bend + below * s * 1.1 * face(x * s * 0.9, 77);
  const e = 0.012;
  const height = (dx: number) => crests(face, flow + dx, below * s * 1.7 + 2, 6);
  const slope = (height(e) - height(-e)) / (2 * e);
  const toGlow = Math.sign(GLOW.x - x) || 1;
  const turned = 0.5 + 0.5 * Math.tanh(slope * 0.55 * toGlow);
  const grain = 0.85 + 0.35 * fbm(face, x * 160, y * 160, 3);
  const snowHere =
    ridge.snow *
    smoothstep(-0.15, 0.3, fbm(face, flow * 2.2, below * s * 9, 6) * 0.9 + 0.5 * (turned - 0.5) + 0.16 - below * 3.4);
  const woodHere = ridge.wood * smoothstep(-0.12, 0.2, fbm(face, x * 9, y * 16, 4) + 0.1 + below * 2);
  const rock = (0.012 + 0.05 * turned ** 1.5) * grain;
  const snow = 0.075 + 0.2 * turned;
  const wood = 0.011 * (0.6 + 0.8 * Math.abs(face(x * 420, y * 260)));
  const base = lerp(lerp(rock, snow, snowHere), wood, woodHere);
  return [base * (0.86 + 0.28 * turned), base * 0.98, base * (1.32 - 0.3 * turned)];
}
