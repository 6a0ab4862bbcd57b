import { drawTwig, fillPolygon, type RadianceCanvas, type Rgb } from '../canvas.ts';
import { fbm, lerp, noiseOf, smoothstep } from '../noise.ts';
import { SUN } from './clouds.ts';
import { hillTop } from './hills.ts';

const AT = 0.6;
const RADIUS = 0.098;
const DRUM = 0.072;
/** Half of the angle that the slit leaves open, and where it looks, in radians round the axis (0: at the camera). */
const SLIT_HALF = 0.13;
const SLIT_AT = 0.42;

const wear = noiseOf('observatory-wear');

/** Direction to the sun as the dome sees it: behind it, to the right, above. */
const TO_SUN = unit([SUN.x - AT, -0.42, 0.62]);

type Vector = readonly [number, number, number];

function unit([x, y, z]: Vector): Vector {
  const length = Math.hypot(x, y, z);
  return [x / length, y / length, z / length];
}

/** Light on a white painted surface: sky from above, the bright side of the clouds, grass from below. */
function paint(normal: Vector, white: number): Rgb {
  const [nx, ny, nz] = normal;
  const direct = Math.max(0, nx * TO_SUN[0] + ny * TO_SUN[1] - nz * TO_SUN[2]);
  const above = 0.5 - 0.5 * ny;
  const side = smoothstep(-0.7, 1, nx);
  const cool = 0.07 + 0.2 * above;
  const warm = 0.16 * side * above + 0.85 * direct ** 1.4;
  const grass = 0.03 * (1 - above);
  return [
    white * (cool * 0.86 + warm * 1.08 + grass),
    white * (cool * 0.97 + warm * 0.94 + grass * 1.1),
    white * (cool * 1.2 + warm * 0.74 + grass * 0.5),
  ];
}

/** The observatory: a white dome, its slit open, on a drum with windows, and a low wing with a lit door. */
export function paintDome(canvas: RadianceCanvas): void {
  const foot = hillTop(AT) + 0.012;
  const ring = foot - DRUM;
  paintWing(canvas, foot);
  paintDrum(canvas, foot, ring);
  paintShell(canvas, ring);
  paintRing(canvas, ring);
  paintMast(canvas, foot);
}

function paintShell(canvas: RadianceCanvas, ring: number): void {
  const h = canvas.height;
  for (let row = Math.floor((ring - RADIUS) * h) - 1; row <= ring * h; row++) {
    const y = (row + 0.5) / h - ring;
    for (let column = Math.floor((AT - RADIUS) * h) - 1; column <= (AT + RADIUS) * h + 1; column++) {
      const x = (column + 0.5) / h - AT;
      const distance = Math.hypot(x, y);
      const coverage = Math.min(1, Math.max(0, (RADIUS - distance) * h + 0.5));
      if (coverage <= 0 || y > 0) continue;
      const scale = 1 / Math.max(distance, RADIUS);
      const z = Math.sqrt(Math.max(0, RADIUS * RADIUS - distance * distance)) * scale;
      canvas.cover(column, row, shellAt(x * scale, y * scale, z), coverage);
    }
  }
}

/** The dome's skin at a direction from its middle: gores riveted side by side, streaked by rain, and the slit. */
function shellAt(nx: number, ny: number, nz: number): Rgb {
  const round = Math.atan2(nx, nz);
  const height = Math.asin(Math.min(1, -ny));
  const fromSlit = Math.abs(round - SLIT_AT) * Math.cos(height);
  const open = smoothstep(SLIT_HALF + 0.012, SLIT_HALF - 0.012, fromSlit) * smoothstep(0.3, 0.34, height);
  const gore = (round / Math.PI) * 18;
  const seam = Math.abs(gore - Math.round(gore)) * Math.cos(height);
  const groove = smoothstep(0.004, 0.035, seam);
  const streak = 0.93 + 0.1 * fbm(wear, round * 34, height * 3, 4) + 0.05 * fbm(wear, round * 120, height * 90, 3);
  const rail = smoothstep(0.012, 0.004, Math.abs(fromSlit - SLIT_HALF - 0.022)) * smoothstep(0.28, 0.34, height);
  const skin = paint([nx, ny, nz], 0.82 * streak * (0.78 + 0.22 * groove) * (1 - 0.35 * rail));
  // Inside it is dark but for what falls in through the slit, and the pale end of the telescope.
  const tube =
    smoothstep(0.05, 0.03, Math.abs(round - SLIT_AT - 0.01)) *
    smoothstep(0.75, 0.7, height) *
    smoothstep(0.4, 0.45, height);
  const inside = 0.006 + 0.02 * (height / 1.57) + 0.05 * tube;
  return [0, 1, 2].map((c) => lerp(skin[c], inside * [1.05, 1, 0.95][c], open)) as unknown as Rgb;
}

function paintDrum(canvas: RadianceCanvas, foot: number, ring: number): void {
  const half = RADIUS * 0.94;
  const shade = (x: number, y: number): Rgb => {
    const nx = Math.max(-1, Math.min(1, (x - AT) / half));
    const nz = Math.sqrt(Math.max(0, 1 - nx * nx));
    const course = (y - ring) / 0.0088;
    const brick = Math.atan2(nx, nz) * 17 + (Math.floor(course) % 2) * 0.5;
    const joint =
      smoothstep(0.02, 0.1, course - Math.floor(course)) * smoothstep(0.01, 0.06, Math.abs(brick - Math.round(brick)));
    const stone = 0.5 * (0.85 + 0.25 * wear(Math.floor(course) * 5.3, Math.round(brick) * 3.7)) * (0.8 + 0.2 * joint);
    const damp = 1 - 0.3 * smoothstep(0.6, 1, (y - ring) / DRUM) * (0.7 + 0.3 * fbm(wear, x * 60, 2, 3));
    return paint([nx, -0.05, nz], stone * damp * 0.9);
  };
  fillPolygon(
    canvas,
    [
      [AT - half, ring],
      [AT + half, ring],
      [AT + half, foot + 0.03],
      [AT - half, foot + 0.03],
    ],
    shade,
  );
  for (const place of [-0.62, -0.12, 0.42]) {
    const middle = AT + half * place;
    const wide = 0.0075 * Math.sqrt(1 - place * place);
    window(canvas, middle, ring + 0.021, wide, 0.024, place === -0.12);
  }
}

/** A window with a stone frame; `lit` from inside by a lamp. */
function window(canvas: RadianceCanvas, x: number, y: number, half: number, tall: number, lit: boolean): void {
  const box = (grow: number) =>
    [
      [x - half - grow, y - grow],
      [x + half + grow, y - grow],
      [x + half + grow, y + tall + grow],
      [x - half - grow, y + tall + grow],
    ] as const;
  fillPolygon(canvas, box(0.0016), () => [0.105, 0.1, 0.095]);
  fillPolygon(canvas, box(0), (px, py) => {
    const fall = Math.exp(-(((px - x) / half) ** 2) - (((py - y - tall * 0.3) / tall) * 1.4) ** 2);
    const glass = 0.02 + 0.03 * (1 - (py - y) / tall);
    return lit ? [0.75 * fall + 0.05, 0.42 * fall + 0.035, 0.14 * fall + 0.02] : [glass * 0.8, glass, glass * 1.3];
  });
  drawTwig(canvas, x, y, x, y + tall, 0.0007, 0.0007, [0.06, 0.058, 0.055]);
  drawTwig(canvas, x - half, y + tall * 0.45, x + half, y + tall * 0.45, 0.0007, 0.0007, [0.06, 0.058, 0.055]);
}

/** The rail on which the dome turns, with a narrow walk round it. */
function paintRing(canvas: RadianceCanvas, ring: number): void {
  const half = RADIUS * 1.035;
  fillPolygon(
    canvas,
    [
      [AT - half, ring - 0.004],
      [AT + half, ring - 0.004],
      [AT + half, ring + 0.0045],
      [AT - half, ring + 0.0045],
    ],
    (x, y) => {
      const nx = Math.max(-1, Math.min(1, (x - AT) / half));
      return paint([nx, y < ring - 0.002 ? -0.7 : 0.1, Math.sqrt(1 - nx * nx)], 0.5);
    },
  );
  for (let post = 0; post <= 26; post++) {
    const x = AT + half * Math.sin(((post / 26) * 2 - 1) * 1.5);
    drawTwig(canvas, x, ring - 0.003, x, ring - 0.0155, 0.0006, 0.0006, [0.05, 0.05, 0.052]);
  }
  for (const lift of [0.009, 0.0155])
    drawTwig(canvas, AT - half, ring - lift, AT + half, ring - lift, 0.0006, 0.0006, [0.055, 0.055, 0.058]);
}

/** The low wing on the left: whitewashed, slate roof, a door with a lamp over it. */
function paintWing(canvas: RadianceCanvas, foot: number): void {
  const [left, right] = [AT - 0.255, AT - 0.05];
  const ground = foot - 0.014;
  const eaves = ground - 0.043;
  fillPolygon(
    canvas,
    [
      [left, eaves],
      [right, eaves],
      [right, ground + 0.05],
      [left, ground + 0.05],
    ],
    (x, y) => {
      const stain = 0.85 + 0.2 * fbm(wear, x * 50, y * 70, 4) - 0.25 * smoothstep(ground - 0.008, ground + 0.006, y);
      return paint([-0.1, -0.05, 0.95], 0.78 * stain);
    },
  );
  fillPolygon(
    canvas,
    [
      [left - 0.007, eaves + 0.002],
      [left + 0.02, eaves - 0.03],
      [right, eaves - 0.03],
      [right, eaves + 0.002],
    ],
    (x, y) => {
      const row = Math.floor((y - eaves) / 0.0036);
      const slate = 0.075 * (0.8 + 0.35 * wear(row * 3.1, Math.floor(x * 130 + (row % 2) * 0.5) * 2.3));
      return [slate * 0.95, slate, slate * 1.1];
    },
  );
  for (const place of [0.05, 0.135]) window(canvas, left + place, eaves + 0.011, 0.0062, 0.015, false);
  const door = left + 0.093;
  fillPolygon(
    canvas,
    [
      [door - 0.007, eaves + 0.01],
      [door + 0.007, eaves + 0.01],
      [door + 0.007, ground + 0.003],
      [door - 0.007, ground + 0.003],
    ],
    (x) => {
      const board = 0.02 * (0.7 + 0.5 * Math.abs(wear(Math.floor(x * 900), 4)));
      return [board * 0.8, board * 1.05, board * 1.1];
    },
  );
  fillPolygon(
    canvas,
    [
      [left + 0.15, eaves - 0.046],
      [left + 0.161, eaves - 0.046],
      [left + 0.161, eaves - 0.028],
      [left + 0.15, eaves - 0.028],
    ],
    () => [0.09, 0.085, 0.08],
  );
}

/** A weather mast with its stays: thin things that show whether frames lie on each other. */
function paintMast(canvas: RadianceCanvas, foot: number): void {
  const x = AT + 0.205;
  const base = hillTop(x) + 0.004;
  const top = foot - 0.2;
  const metal: Rgb = [0.045, 0.046, 0.05];
  drawTwig(canvas, x, base, x, top, 0.0015, 0.0009, metal);
  for (const [dx, t] of [
    [-0.05, 0.8],
    [0.045, 0.8],
    [-0.03, 0.45],
    [0.028, 0.45],
  ])
    drawTwig(canvas, x, base + (top - base) * t, x + dx, hillTop(x + dx) + 0.003, 0.0003, 0.0003, metal);
  for (const [dy, half] of [
    [0.004, 0.012],
    [0.03, 0.009],
  ])
    drawTwig(canvas, x - half, top + dy, x + half, top + dy, 0.0006, 0.0006, metal);
  drawTwig(canvas, x + 0.012, top + 0.004, x + 0.012, top - 0.003, 0.0018, 0.0018, metal);
}
