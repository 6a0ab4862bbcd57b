import type { RadianceCanvas, Rgb } from '../canvas.ts';
import { drawTwig } from '../canvas.ts';
import { crests, fbm, lerp, noiseOf, randomOf, smoothstep } from '../noise.ts';
import { HORIZON, openSky, SUN } from './clouds.ts';

const line = noiseOf('observatory-line');
const ground = noiseOf('observatory-ground');

/** Ranges behind one another: crest, swing, wavelengths a picture height, and how much air lies before each. */
const RANGES = [
  { crest: 0.6, swing: 0.05, scale: 1.7, air: 0.86, seed: 3 },
  { crest: 0.622, swing: 0.045, scale: 2.3, air: 0.7, seed: 14 },
  { crest: 0.65, swing: 0.05, scale: 2.9, air: 0.5, seed: 29 },
  { crest: 0.69, swing: 0.055, scale: 3.6, air: 0.3, seed: 41 },
] as const;

/** Paints the ranges of hills from far to near, paler and bluer the more air lies before them. */
export function paintRanges(canvas: RadianceCanvas): void {
  for (const { crest, swing, scale, air, seed } of RANGES) {
    for (let column = 0; column < canvas.width; column++) {
      const x = (column + 0.5) / canvas.height;
      const wood = 0.0016 * Math.abs(line(x * 190, seed)) * (1 - air);
      const top = crest - swing * (crests(line, x * scale, seed, 6) - 0.42) - wood;
      const toSun = Math.exp(-(((x - SUN.x) / 0.42) ** 2));
      const sky = openSky(x, HORIZON - 0.03);
      const haze: Rgb = [sky[0] * (0.36 + 0.3 * toSun), sky[1] * (0.42 + 0.22 * toSun), sky[2] * (0.56 + 0.12 * toSun)];
      for (let row = Math.max(0, Math.floor(top * canvas.height)); row < canvas.height; row++) {
        const y = (row + 0.5) / canvas.height;
        const coverage = Math.min(1, (y - top) * canvas.height + 0.5);
        if (coverage <= 0) continue;
        const own = woods(x, y, scale, seed);
        const lower = smoothstep(0, 0.09, y - top);
        const veil = Math.min(0.97, air + 0.1 * lower);
        canvas.cover(column, row, [0, 1, 2].map((c) => lerp(own[c], haze[c], veil)) as unknown as Rgb, coverage);
      }
    }
  }
}

/** Woods and pastures of the hill sides. */
function woods(x: number, y: number, scale: number, seed: number): Rgb {
  const field = smoothstep(-0.06, 0.1, fbm(line, x * scale * 3 + seed, y * scale * 8, 4));
  const grain = 0.7 + 0.6 * Math.abs(fbm(line, x * 150, y * 300 + seed, 3));
  const tone = lerp(0.02, 0.07, field) * grain;
  return [tone * lerp(0.75, 1.1, field), tone, tone * lerp(0.62, 0.5, field)];
}

/** Top of the hill on which the observatory stands. */
export function hillTop(x: number): number {
  const rise =
    0.17 * Math.exp(-(((x - 0.53) / 0.43) ** 4)) * (1 - 0.12 * Math.abs(x - 0.53)) +
    0.05 * Math.exp(-(((x - 0.1) / 0.3) ** 2));
  const flat = 0.02 * smoothstep(0.12, 0.02, Math.abs(x - 0.6));
  return 0.83 - rise + flat * 0.2 + 0.006 * fbm(line, x * 6, 90, 3) + 0.0022 * fbm(line, x * 40, 95, 4);
}

/** Paints the near hill: grass in tussocks, heather, outcrops of rock, a path worn pale. */
export function paintHill(canvas: RadianceCanvas, progress: (share: number) => void): void {
  for (let column = 0; column < canvas.width; column++) {
    const x = (column + 0.5) / canvas.height;
    const top = hillTop(x);
    for (let row = Math.max(0, Math.floor(top * canvas.height)); row < canvas.height; row++) {
      const y = (row + 0.5) / canvas.height;
      const coverage = Math.min(1, (y - top) * canvas.height + 0.5);
      if (coverage > 0) canvas.cover(column, row, turf(x, y, y - top), coverage);
    }
    if (column % 128 === 0) progress(column / canvas.width);
  }
  growGrass(canvas);
}

/** Middle of the path at a height of the picture, and half its width. */
function pathAt(y: number): { x: number; half: number } {
  const t = (y - 0.67) / 0.33;
  return { x: 0.615 + 0.1 * Math.sin(t * 5.2) * (0.3 + t) - 0.1 * t, half: 0.004 + 0.03 * Math.max(0, t) ** 1.4 };
}

function turf(x: number, y: number, below: number): Rgb {
  const near = 0.25 + 1.2 * below;
  const e = 0.0014;
  const relief = (dx: number, dy: number) => fbm(ground, ((x + dx) * 26) / near, ((y + dy) * 60) / near, 6);
  const here = relief(0, 0);
  const slope = (relief(e, 0) - here) / e;
  const tuft = fbm(ground, (x * 160) / near, (y * 250) / near, 4);
  const heather = smoothstep(0.02, 0.3, fbm(ground, x * 7 + 4, y * 18, 4));
  const rock = smoothstep(0.24, 0.36, fbm(ground, x * 13 - 9, y * 26 + 5, 5) + 0.12 * here);
  const { x: middle, half } = pathAt(y);
  const ragged = half * (1 + 0.5 * fbm(ground, x * 60, y * 90, 3));
  const path = smoothstep(ragged, ragged * 0.55, Math.abs(x - middle));
  const light = Math.max(0.25, 1 + 0.018 * slope) * (0.62 + 0.5 * tuft + 0.45 * Math.max(0, here));
  const grass: Rgb = [0.03, 0.034, 0.0125];
  const bloom: Rgb = [0.026, 0.017, 0.018];
  const stone: Rgb = [0.05, 0.05, 0.052];
  const worn: Rgb = [0.075, 0.062, 0.045];
  const mixed = [0, 1, 2].map((c) =>
    lerp(lerp(lerp(grass[c], bloom[c], heather), stone[c] * (0.7 + 0.7 * Math.abs(tuft)), rock), worn[c], path),
  );
  // The sun behind: rims of the ground catch its light.
  const rim = Math.exp(-below / 0.003) * 0.13 * Math.exp(-(((x - SUN.x) / 0.5) ** 2));
  const shade = 1 - 0.35 * smoothstep(0.05, 0.22, below);
  return [
    Math.max(0.0015, mixed[0] * light * shade) + rim,
    Math.max(0.0015, mixed[1] * light * shade) + rim * 0.85,
    Math.max(0.0015, mixed[2] * light * shade) + rim * 0.55,
  ];
}

/** Blades along the crest and in the foreground, lit through from behind. */
function growGrass(canvas: RadianceCanvas): void {
  const random = randomOf('observatory-grass');
  const wide = canvas.width / canvas.height;
  for (let blade = 0; blade < 26000; blade++) {
    const x = random() * wide;
    const depth = random() ** 1.7;
    const top = hillTop(x);
    const y = top + 0.002 + depth * (1.0 - top);
    const { x: middle, half } = pathAt(y);
    const tall = (0.0035 + 0.03 * depth) * (0.5 + random());
    const lean = (random() - 0.35) * tall * 0.8;
    if (Math.abs(x - middle) < half * 1.15) continue;
    const lit = (0.35 + 0.9 * random()) * (1 - 0.5 * depth) * (1 + 0.8 * Math.exp(-(((x - SUN.x) / 0.4) ** 2)));
    const dry = random();
    const colour: Rgb = [lerp(0.03, 0.075, dry) * lit, lerp(0.04, 0.06, dry) * lit, lerp(0.013, 0.022, dry) * lit];
    const thick = 0.0003 + 0.0009 * depth;
    drawTwig(canvas, x, y, x + lean * 0.4, y - tall * 0.6, thick, thick * 0.7, colour);
    drawTwig(canvas, x + lean * 0.4, y - tall * 0.6, x + lean, y - tall, thick * 0.7, thick * 0.2, colour);
  }
}
