import type { RadianceCanvas, Rgb } from './canvas.ts';
import { fbm, lerp, type Noise, noiseOf, smoothstep } from './noise.ts';
import { GLOW } from './sky.ts';

/** The two dark banks that close the lake: the knoll on the left, a low promontory on the right. */
const line = noiseOf('tarn-bank-line');

export function knollTop(x: number): number {
  const hill = 0.452 - 0.075 * Math.exp(-(((x - 0.36) / 0.125) ** 2)) - 0.03 * Math.exp(-(((x + 0.02) / 0.2) ** 2));
  const falling = hill + 0.075 * smoothstep(0.42, 0.72, x);
  return falling + 0.005 * fbm(line, x * 9, 1, 3) + 0.0032 * fbm(line, x * 46, 5, 4);
}

export function promontoryTop(x: number): number {
  const rise = 0.515 - 0.058 * smoothstep(0.68, 1.2, x) - 0.02 * smoothstep(1.15, 1.5, x);
  return rise + 0.004 * fbm(line, x * 8, 21, 3) + 0.0026 * fbm(line, x * 52, 25, 4);
}

/** Paints both banks down to the waterline, with heath, boulders and a wet stony edge. */
export function paintBanks(canvas: RadianceCanvas, waterline: number): void {
  paintBank(canvas, knollTop, waterline, noiseOf('tarn-knoll'));
  paintBank(canvas, promontoryTop, waterline, noiseOf('tarn-promontory'));
}

function paintBank(canvas: RadianceCanvas, top: (x: number) => number, waterline: number, face: Noise): void {
  for (let column = 0; column < canvas.width; column++) {
    const x = (column + 0.5) / canvas.height;
    const crest = top(x);
    const edge = waterline + 0.002 * fbm(face, x * 22, 8, 4);
    for (let row = Math.max(0, Math.floor(crest * canvas.height)); row <= edge * canvas.height; row++) {
      const y = (row + 0.5) / canvas.height;
      const coverage = Math.min(1, (y - crest) * canvas.height + 0.5);
      if (coverage > 0) canvas.cover(column, row, heath(face, x, y, y - crest, edge - y), coverage);
    }
  }
}

function heath(face: Noise, x: number, y: number, below: number, aboveWater: number): Rgb {
  const e = 0.0016;
  const bend = fbm(face, x * 14, y * 20, 3) * 0.014;
  const relief = (dx: number, dy: number) => fbm(face, (x + dx + bend) * 38 + (y + dy) * 7, (y + dy - bend) * 58, 7);
  const here = relief(0, 0);
  const up = (relief(0, e) - here) / e;
  const across = (relief(e, 0) - here) / e;
  const tuft = fbm(face, x * 240, y * 300, 4);
  const patch = smoothstep(-0.16, 0.3, fbm(face, x * 12 + 5, y * 24, 5));
  const frost = smoothstep(0.16, 0.6, tuft * 0.8 + 0.01 * up + 0.5 * fbm(face, x * 22 - 8, y * 40, 4)) * 0.42;
  const light = 0.0088 * (1 + 0.013 * up + 0.009 * across) * (0.8 + 1.1 * tuft) * (0.6 + 0.6 * patch);
  const stone = smoothstep(0.013, 0.002, aboveWater + 0.006 * here);
  const tone = Math.max(0.0012, lerp(light, 0.007 * (0.8 + 0.9 * tuft), stone) + 0.01 * frost * (1 - stone));
  const rim = Math.exp(-below / 0.0022) * Math.exp(-(((x - GLOW.x) / 0.3) ** 2)) * 0.05;
  const heather: Rgb = [lerp(0.98, 1.32, patch), lerp(1, 0.96, patch), lerp(0.98, 0.68, patch)];
  return [tone * heather[0] + rim, tone * heather[1] + rim * 0.6, tone * lerp(heather[2], 1.15, frost) + rim * 0.3];
}
