import type { RadianceCanvas, Rgb } from './canvas.ts';
import { fbm, lerp, noiseOf, smoothstep } from './noise.ts';

/** Where the sun waits below the ridge, in picture heights. */
export const GLOW = { x: 1.02, y: 0.378 };
/** Height of the true horizon in the picture. */
export const HORIZON = 0.47;

/** Clear-sky light by height above the horizon: elevation in picture heights, then linear RGB. */
const SKY: readonly (readonly [number, number, number, number])[] = [
  [0.0, 1.35, 0.78, 0.44],
  [0.05, 1.2, 0.8, 0.53],
  [0.11, 0.78, 0.64, 0.54],
  [0.18, 0.44, 0.45, 0.5],
  [0.28, 0.2, 0.265, 0.38],
  [0.38, 0.105, 0.16, 0.27],
  [0.5, 0.062, 0.1, 0.19],
];

function bySpline(elevation: number, channel: 1 | 2 | 3): number {
  const above = SKY.findIndex(([height]) => height >= elevation);
  if (above === 0) return SKY[0][channel];
  if (above < 0) return SKY[SKY.length - 1][channel];
  const [low, high] = [SKY[above - 1], SKY[above]];
  const t = (elevation - low[0]) / (high[0] - low[0]);
  return Math.exp(lerp(Math.log(low[channel]), Math.log(high[channel]), t));
}

const table = Array.from({ length: 1025 }, (_, i): Rgb => {
  const at = (offset: number): Rgb =>
    [1, 2, 3].map((channel) => bySpline(Math.max(0, i / 2048 + offset), channel as 1)) as unknown as Rgb;
  // Averaging neighbours takes the corners out of the gradient.
  const near = [-0.03, -0.015, 0, 0.015, 0.03].map(at);
  return [0, 1, 2].map((c) => near.reduce((sum, rgb) => sum + rgb[c], 0) / near.length) as unknown as Rgb;
});

/** Light of the cloudless sky at a place of the picture. */
export function clearSky(x: number, y: number): [number, number, number] {
  const elevation = Math.max(0, HORIZON - y);
  const [r, g, b] = table[Math.min(1024, Math.round(elevation * 2048))];
  const dx = x - GLOW.x;
  const side = 0.34 + 0.8 * Math.exp(-((dx / 0.62) ** 2));
  const warm = lerp(1, side, Math.exp(-elevation * 5));
  const distance = Math.hypot(dx * 0.62, (y - GLOW.y) * 1.25);
  const core = 17 * Math.exp(-((distance / 0.026) ** 1.25));
  const halo = 3 * Math.exp(-distance / 0.06) + 0.55 * Math.exp(-distance / 0.19);
  return [
    r * warm + core * 1.02 + halo * 1.0,
    g * (0.3 + 0.7 * warm) + core * 0.86 + halo * 0.66,
    b * (0.62 + 0.38 * warm) + core * 0.58 + halo * 0.34,
  ];
}

/** Fills the picture with sky and thin cloud. */
export function paintSky(canvas: RadianceCanvas, progress: (share: number) => void): void {
  const veil = noiseOf('tarn-veil');
  const warp = noiseOf('tarn-warp');
  const bank = noiseOf('tarn-bank');
  const rows = Math.ceil(canvas.height * 0.55);
  for (let row = 0; row < rows; row++) {
    const y = (row + 0.5) / canvas.height;
    const elevation = Math.max(0.002, HORIZON - y);
    for (let column = 0; column < canvas.width; column++) {
      const x = (column + 0.5) / canvas.height;
      const sky = clearSky(x, y);
      const cloud = cloudAt(x, elevation, veil, warp, bank);
      const lit = cloudLight(x, y, sky);
      const at = (row * canvas.width + column) * 3;
      for (let channel = 0; channel < 3; channel++)
        canvas.rgb[at + channel] = lerp(sky[channel], lit[channel] * (1 - 0.35 * cloud), cloud);
    }
    if (row % 64 === 0) progress(row / rows);
  }
}

/** How much cloud veils the sky: high streaks drawn out by perspective, and flat banks low down. */
function cloudAt(
  x: number,
  elevation: number,
  veil: (x: number, y: number) => number,
  warp: typeof veil,
  bank: typeof veil,
): number {
  const depth = 0.42 / (elevation + 0.11);
  const u = (x - 0.75) * depth * 1.15 + depth * 0.55;
  const w = depth * 2.1;
  const bendX = fbm(warp, u * 0.55, w * 0.55, 3) * 0.9;
  const bendY = fbm(warp, u * 0.55 + 31, w * 0.55 - 12, 3) * 0.9;
  const streak = fbm(veil, u * 0.62 + bendX, w * 1.5 + bendY + u * 0.25, 7);
  const patch = smoothstep(-0.28, 0.34, fbm(warp, u * 0.32 - 7, w * 0.5 + 3, 3));
  const high = smoothstep(-0.1, 0.52, streak) * patch * smoothstep(0.04, 0.16, elevation);
  const low = smoothstep(0.08, 0.5, fbm(bank, x * 2.1, elevation * 34 + fbm(bank, x * 3, elevation * 9, 2) * 1.2, 6));
  const lowBand = low * Math.exp(-(((elevation - 0.135) / 0.045) ** 2));
  return Math.min(0.8, 0.72 * high + 0.62 * lowBand);
}

/** Light that cloud sends on: lit from below the horizon, warm near the glow, dull rose away from it. */
function cloudLight(x: number, y: number, sky: Rgb): Rgb {
  const distance = Math.hypot((x - GLOW.x) * 0.7, (y - GLOW.y) * 1.1);
  const near = Math.exp(-distance / 0.2);
  const far = Math.exp(-distance / 0.62);
  return [
    sky[0] * 0.62 + 1.5 * near + 0.3 * far,
    sky[1] * 0.55 + 0.8 * near + 0.13 * far,
    sky[2] * 0.6 + 0.4 * near + 0.12 * far,
  ];
}
