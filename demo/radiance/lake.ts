import type { RadianceCanvas } from './canvas.ts';
import { fbm, lerp, type Noise, noiseOf, randomOf, smoothstep } from './noise.ts';

/** Where the far water begins. */
export const WATERLINE = 0.508;
/** Height at which the water reaches the eye's own level. */
const CAMERA = 0.47;

/** Still water of some picture: where it begins, at what height the eye is, and its own ripples. */
export interface Water {
  waterline: number;
  camera: number;
  seed: string;
  /** Light that comes out of the water itself, against that of a lake at dawn. */
  body: number;
}

const TARN_WATER: Water = { waterline: WATERLINE, camera: CAMERA, seed: 'tarn', body: 1 };
const TAPS = 14;

/** Fills everything below the waterline with water that mirrors what is above it, broken up by ripples. */
export function paintLake(
  canvas: RadianceCanvas,
  progress: (share: number) => void,
  { waterline, camera, seed, body: own }: Water = TARN_WATER,
): void {
  const wave = noiseOf(`${seed}-wave`);
  const wind = noiseOf(`${seed}-wind`);
  const random = randomOf(`${seed}-facets`);
  const taps = Array.from({ length: 4096 }, () => (random() + random() + random() - 1.5) / 0.87);
  const first = Math.floor(waterline * canvas.height);
  const mirrored: [number, number, number] = [0, 0, 0];
  for (let row = first; row < canvas.height; row++) {
    const y = (row + 0.5) / canvas.height;
    const depth = 0.05 / Math.max(0.004, y - camera);
    const near = smoothstep(waterline, 0.85, y);
    for (let column = 0; column < canvas.width; column++) {
      const x = (column + 0.5) / canvas.height;
      const { slope, rough } = ripple(wave, wind, x, depth, near);
      const light = [0, 0, 0];
      for (let tap = 0; tap < TAPS; tap++) {
        const jitter = taps[(column * 7919 + row * 104729 + tap * 271) & 4095];
        const lift = slope + rough * jitter;
        const seen = waterline - (y - waterline) * 0.93 - lift;
        canvas.sample(
          x + rough * 0.22 * taps[(column * 31 + row * 17 + tap * 977) & 4095],
          Math.max(0.004, Math.min(waterline - 0.001, seen)),
          mirrored,
        );
        for (let c = 0; c < 3; c++) light[c] += Math.min(9, mirrored[c]);
      }
      // Water mirrors most at a grazing view and lets one look in when looking down (Schlick's approximation).
      const down = Math.min(1, (y - camera) * 1.55);
      const mirror = 0.02 + 0.98 * (1 - Math.sin(Math.atan(down * 1.15))) ** 2.4;
      const body = 0.0042 * own * (1 - 0.3 * near);
      const at = (row * canvas.width + column) * 3;
      canvas.rgb[at] = (light[0] / TAPS) * mirror * 0.9 + body * 0.55;
      canvas.rgb[at + 1] = (light[1] / TAPS) * mirror * 0.93 + body * 1.0;
      canvas.rgb[at + 2] = (light[2] / TAPS) * mirror * 0.95 + body * 1.12;
    }
    if (row % 64 === 0) progress((row - first) / (canvas.height - first));
  }
}

/** How far the ripples at a place shift what is mirrored there, and how rough the water is below what a pixel shows. */
function ripple(wave: Noise, wind: Noise, x: number, depth: number, near: number): { slope: number; rough: number } {
  const u = (x - 0.75) * depth * 5;
  const w = depth * 42;
  const breeze = smoothstep(-0.2, 0.35, fbm(wind, u * 0.35 + 3, w * 0.22, 3) + 0.12 * Math.sin(w * 0.35));
  const swell = fbm(wave, u * 3.1, w * 1.9, 3) * 0.6 + fbm(wave, u * 11 + 50, w * 6.3, 3) * 0.4;
  const calm = lerp(0.25, 1, breeze);
  return { slope: swell * calm * lerp(0.006, 0.05, near), rough: calm * lerp(0.004, 0.021, near) };
}
