import type { RadianceCanvas, Rgb } from '../canvas.ts';
import { fbm, lerp, noiseOf, smoothstep } from '../noise.ts';

/** Where the sun stands behind the clouds, in picture heights. */
export const SUN = { x: 1.16, y: 0.235 };
/** Height of the true horizon in the picture. */
export const HORIZON = 0.64;

const heap = noiseOf('observatory-heap');
const wisp = noiseOf('observatory-wisp');
const field = noiseOf('observatory-field');

/** Cloudless sky of a late afternoon: blue overhead, pale and warm towards the sun and the horizon. */
export function openSky(x: number, y: number): [number, number, number] {
  const height = Math.max(0, HORIZON - y) / HORIZON;
  const distance = Math.hypot(x - SUN.x, (y - SUN.y) * 1.1);
  const haze = Math.exp(-height * 4.2);
  const glow = 0.9 * Math.exp(-distance / 0.12) + 0.34 * Math.exp(-distance / 0.4);
  const disc = 420 * Math.exp(-((distance / 0.0075) ** 2));
  return [
    lerp(0.085, 0.5, haze) + glow * 1.0 + disc,
    lerp(0.16, 0.5, haze) + glow * 0.84 + disc * 0.93,
    lerp(0.34, 0.47, haze) + glow * 0.6 + disc * 0.8,
  ];
}

/** How thick the cloud is at a place, 0 for none; clouds lie on a sheet that perspective draws together at the horizon.
 * @param drift - How far the wind has carried them, in widths of the sheet. */
function thickness(x: number, y: number, drift: number): number {
  const rise = Math.max(0.004, HORIZON - y);
  const depth = 0.3 / (rise + 0.1);
  const u = (x - 0.75) * depth * 1.5 + drift;
  const w = depth * 2.6;
  const bend = 0.2 * fbm(wisp, u * 1.7, w * 1.7, 4);
  const cover = fbm(field, u * 0.42 + 3, w * 0.55 - 8, 3) * 0.75;
  const body = fbm(heap, u * 1.3 + bend, w * 1.55 - bend, 9);
  // Heaps swell out in rounded heads.
  const heads = 0.5 - Math.abs(fbm(heap, u * 3.4 + 60, w * 3.4 - 20, 5)) * 1.6;
  return smoothstep(-0.1, 0.6, body * 0.92 + cover + 0.2 * heads - 0.02);
}

/** Fills the sky: heaps of cloud with dark undersides, torn open before the sun, whose light runs along their thin edges. */
export function paintClouds(canvas: RadianceCanvas, drift: number, progress: (share: number) => void): void {
  const rows = Math.ceil(canvas.height * (HORIZON + 0.02));
  for (let row = 0; row < rows; row++) {
    const y = (row + 0.5) / canvas.height;
    for (let column = 0; column < canvas.width; column++) {
      const x = (column + 0.5) / canvas.height;
      const at = (row * canvas.width + column) * 3;
      const light = skyLight(x, y, drift);
      for (let channel = 0; channel < 3; channel++) canvas.rgb[at + channel] = light[channel];
    }
    if (row % 64 === 0) progress(row / rows);
  }
}

function skyLight(x: number, y: number, drift: number): Rgb {
  const sky = openSky(x, y);
  const dense = thickness(x, y, drift);
  if (dense <= 0) return sky;
  const toSun = Math.hypot(x - SUN.x, (y - SUN.y) * 1.1);
  // A step towards the sun: where the cloud grows thinner that way, its flank is lit.
  const step = 0.016;
  const [dx, dy] = [(SUN.x - x) / (toSun + 0.02), (SUN.y - y) / (toSun + 0.02)];
  const flank = Math.tanh(9 * (dense - thickness(x + dx * step, y + dy * step, drift)));
  const through = Math.exp(-5.2 * dense);
  const near = Math.exp(-toSun / 0.34);
  const edge = smoothstep(0.02, 0.16, dense) * smoothstep(0.62, 0.16, dense);
  const rise = Math.max(0, HORIZON - y) / HORIZON;
  const under = 0.1 + 0.09 * (1 - dense) + 0.06 * Math.exp(-rise * 5);
  const lit = Math.max(0, 0.5 + 0.5 * flank);
  const silver = 2.6 * edge * Math.exp(-toSun / 0.17) + 0.3 * edge * near;
  const own = under + lit * (0.16 + 0.62 * near) * (1 - 0.5 * dense) + silver;
  const warm = 0.55 * near + 0.25 * Math.exp(-rise * 4);
  const cloud: Rgb = [own * (1 + 0.12 * warm), own * (1 - 0.02 * warm), own * (1.12 - 0.36 * warm)];
  return [0, 1, 2].map((c) => cloud[c] * (1 - through) + sky[c] * through) as unknown as Rgb;
}
