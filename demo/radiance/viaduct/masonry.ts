import { drawTwig, fillPolygon, type RadianceCanvas, type Rgb } from '../canvas.ts';
import { fbm, lerp, noiseOf, smoothstep } from '../noise.ts';
import type { Dusk } from './dusk.ts';

/** Top of the viaduct's roadway, where its arches spring, and how far it reaches, in picture heights. */
export const DECK = 0.405;
const SPRING = 0.455;
const ARCH = 0.128;
const PIER = 0.02;
const FROM = -0.06;
/** Where the last arch ends and the solid head of the bridge begins. */
const HEAD = FROM + 8 * ARCH;
const TO = 1.1;

const stone = noiseOf('viaduct-stone');

export const LAMP: Rgb = [1, 0.62, 0.24];

/** Light of a lamp on things near it. */
function lampLight(x: number, y: number, lamps: readonly (readonly [number, number])[], strength: number): number {
  let light = 0;
  for (const [lx, ly] of lamps) light += 0.00035 / (0.0009 + (x - lx) ** 2 + 1.4 * (y - ly) ** 2);
  return strength * light * 0.16;
}

/** Where the lamps of the roadway stand. */
export const ROAD_LAMPS: readonly (readonly [number, number])[] = Array.from(
  { length: 8 },
  (_, i) => [FROM + 0.08 + i * 0.139, DECK - 0.03] as const,
);

/** Dressed stone: courses, joints, streaks of damp; lit by the sky and, later, by lamps. */
function masonry(x: number, y: number, dusk: Dusk, lamps: number, albedo: number): Rgb {
  const course = y / 0.0068;
  const block = x / 0.0155 + (Math.floor(course) % 2) * 0.5;
  const joint =
    smoothstep(0.03, 0.13, course - Math.floor(course)) * smoothstep(0.02, 0.07, Math.abs(block - Math.round(block)));
  const own =
    0.78 + 0.3 * stone(Math.floor(course) * 3.7, Math.round(block) * 5.1) + 0.3 * fbm(stone, x * 120, y * 120, 4);
  const damp = 1 - 0.4 * smoothstep(-0.1, 0.4, fbm(stone, x * 16, y * 4, 4));
  const base = albedo * own * damp * (0.7 + 0.3 * joint);
  const ambient = dusk.light * 0.3;
  const lamp = lampLight(x, y, ROAD_LAMPS, lamps);
  return [
    base * (ambient * 1.0 + lamp * LAMP[0]),
    base * (ambient * 0.98 + lamp * LAMP[1]),
    base * (ambient * 1.08 + lamp * LAMP[2]),
  ];
}

/** The stone viaduct: round arches on tall piers, a string course, a parapet; what is behind shows through the arches. */
export function paintViaduct(canvas: RadianceCanvas, dusk: Dusk, lamps: number, foot: number): void {
  const h = canvas.height;
  for (let row = Math.floor((DECK - 0.013) * h); row < foot * h; row++) {
    const y = (row + 0.5) / h;
    for (let column = 0; column < Math.min(canvas.width, TO * h); column++) {
      const x = (column + 0.5) / h;
      const inside = wall(x, y, canvas.pixel);
      if (inside <= 0) continue;
      canvas.cover(column, row, wallLight(x, y, dusk, lamps), inside);
    }
  }
  for (const [lx, ly] of ROAD_LAMPS) paintLamp(canvas, lx, ly, dusk, lamps);
}

/** How much of a pixel is wall rather than opening. */
function wall(x: number, y: number, pixel: number): number {
  if (x < FROM || x > TO) return 0;
  if (y < DECK - 0.013) return 0;
  if (x > HEAD - PIER / 2) return Math.min(1, Math.max(0, (TO - 0.01 - x) / pixel + 0.5));
  const span = ARCH;
  const place = (x - FROM) / span;
  const middle = FROM + (Math.floor(place) + 0.5) * span;
  const half = (span - PIER) / 2 - 0.003 * smoothstep(SPRING, 0.56, y);
  const dx = Math.abs(x - middle);
  if (y >= SPRING) return Math.min(1, Math.max(0, (dx - half) / pixel + 0.5));
  const radius = half;
  const distance = Math.hypot(dx, (y - SPRING) * (radius / (SPRING - DECK - 0.012)));
  return Math.min(1, Math.max(0, (distance - radius) / pixel + 0.5));
}

function wallLight(x: number, y: number, dusk: Dusk, lamps: number): Rgb {
  const place = (x - FROM) / ARCH;
  const middle = FROM + (Math.floor(place) + 0.5) * ARCH;
  const half = (ARCH - PIER) / 2;
  const ring = Math.hypot(x - middle, (y - SPRING) * (half / (SPRING - DECK - 0.012))) - half;
  const voussoir = y < SPRING && ring < 0.0065 ? 1.25 : 1;
  const course = Math.abs(y - DECK + 0.001) < 0.002 ? 1.5 : 1;
  const parapet = y < DECK - 0.001 ? 1.15 : 1;
  // The flank of each pier that turns away from the afterglow is darker.
  const side = lerp(0.7, 1.12, smoothstep(-half, half, middle - x));
  const shade = 1 - 0.4 * smoothstep(0.46, 0.57, y);
  const [r, g, b] = masonry(x, y, dusk, lamps, 0.26);
  const factor = voussoir * course * parapet * side * shade;
  return [r * factor, g * factor, b * factor];
}

/** An iron lamp with two arms; `lit` 0..1. */
function paintLamp(canvas: RadianceCanvas, x: number, y: number, dusk: Dusk, lit: number): void {
  const iron: Rgb = [0.012 * dusk.light + 0.001, 0.012 * dusk.light + 0.001, 0.014 * dusk.light + 0.001];
  drawTwig(canvas, x, DECK - 0.01, x, y, 0.0012, 0.0009, iron);
  drawTwig(canvas, x - 0.005, y + 0.001, x + 0.005, y + 0.001, 0.0007, 0.0007, iron);
  for (const dx of [-0.005, 0.005]) {
    const globe = 7 * lit + 0.05 * dusk.light;
    drawTwig(canvas, x + dx, y + 0.002, x + dx, y + 0.0045, 0.0026, 0.0026, [
      globe * LAMP[0],
      globe * LAMP[1],
      globe * LAMP[2],
    ]);
  }
}

/** The trail that a tram's lamps leave along the roadway while the shutter is open, faded in where it came from. */
export function paintTramTrail(canvas: RadianceCanvas, from: number, to: number): void {
  const strands = [
    { dy: -0.0085, thick: 0.0011, colour: [5.2, 3.7, 2.1] },
    { dy: -0.0165, thick: 0.0026, colour: [1.5, 1.25, 0.85] },
    { dy: -0.0215, thick: 0.0006, colour: [0.9, 0.8, 0.6] },
    { dy: -0.0065, thick: 0.0007, colour: [2.6, 0.22, 0.1] },
  ] as const;
  const steps = 160;
  for (let step = 0; step < steps; step++) {
    const [a, b] = [from + ((to - from) * step) / steps, from + ((to - from) * (step + 1)) / steps];
    const fade = smoothstep(0, 0.2, step / steps) * smoothstep(1, 0.9, step / steps);
    for (const { dy, thick, colour } of strands) {
      const [r, g, bl] = colour;
      addLine(canvas, a, b, DECK + dy, thick, [r * fade, g * fade, bl * fade]);
    }
  }
}

/** Adds light along a level line, as an open shutter does. */
function addLine(canvas: RadianceCanvas, x0: number, x1: number, y: number, thick: number, light: Rgb): void {
  const h = canvas.height;
  for (let row = Math.floor((y - thick) * h) - 1; row <= (y + thick) * h + 1; row++) {
    const coverage =
      Math.min(1, Math.max(0, thick * h * 0.5 + 0.5 - Math.abs(row + 0.5 - y * h))) * Math.min(1, thick * h);
    if (coverage <= 0 || row < 0 || row >= canvas.height) continue;
    for (let column = Math.max(0, Math.round(x0 * h)); column < Math.min(canvas.width, Math.round(x1 * h)); column++) {
      const at = (row * canvas.width + column) * 3;
      for (let channel = 0; channel < 3; channel++) canvas.rgb[at + channel] += light[channel] * coverage;
    }
  }
}

/** A rectangle of masonry or plaster with one tone. */
export function paintBlock(
  canvas: RadianceCanvas,
  [left, top, right, bottom]: readonly [number, number, number, number],
  shade: (x: number, y: number) => Rgb,
): void {
  fillPolygon(
    canvas,
    [
      [left, top],
      [right, top],
      [right, bottom],
      [left, bottom],
    ],
    shade,
  );
}
