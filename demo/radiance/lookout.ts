import { knollTop } from './banks.ts';
import { drawTwig, fillPolygon, type RadianceCanvas, type Rgb } from './canvas.ts';
import { fbm, noiseOf, smoothstep } from './noise.ts';

const AT = 0.365;
const LEG_HEIGHT = 0.074;
const CABIN_HEIGHT = 0.03;
const HALF = 0.0285;

const grain = noiseOf('lookout-grain');

/** Weathered boards: each of its own tone, with fine grain along it. */
function boards(tone: number, size: number): (x: number, y: number) => Rgb {
  return (x, y) => {
    const board = Math.floor(y / size);
    const gap = smoothstep(0.06, 0.16, y / size - board) * smoothstep(0.98, 0.9, y / size - board);
    const own = 0.75 + 0.4 * grain(board * 7.7, 2) + 0.3 * fbm(grain, x * 220 + board * 13, y * 2600, 3);
    const value = Math.max(0.0012, tone * own * (0.25 + 0.75 * gap));
    return [value * 1.06, value, value * 0.98];
  };
}

/** The wooden fire lookout on the knoll: braced legs, a railed walk, a glazed cabin with one lamp lit. */
export function paintLookout(canvas: RadianceCanvas): void {
  const ground = knollTop(AT) + 0.006;
  const deck = ground - LEG_HEIGHT;
  const eaves = deck - CABIN_HEIGHT;
  drawLegs(canvas, ground, deck);
  drawCabin(canvas, deck, eaves);
  drawRoof(canvas, eaves);
  drawRailing(canvas, deck);
}

const TIMBER: Rgb = [0.0072, 0.0066, 0.0066];
const LIT_TIMBER: Rgb = [0.017, 0.0135, 0.0115];

function drawLegs(canvas: RadianceCanvas, ground: number, deck: number): void {
  const legs = [-0.027, -0.0115, 0.0125, 0.0275];
  const splay = 1.28;
  const at = (leg: number, t: number) => AT + leg * (1 + (splay - 1) * t);
  const level = (t: number) => deck + (ground - deck) * t;
  for (const leg of [legs[1], legs[2]])
    drawTwig(canvas, at(leg, 0), level(0), at(leg, 0.94), level(0.94), 0.0021, 0.0023, [0.0052, 0.005, 0.0054]);
  for (const [t0, t1] of [
    [0.04, 0.34],
    [0.34, 0.66],
    [0.66, 0.97],
  ]) {
    drawTwig(canvas, at(legs[0], t0), level(t0), at(legs[3], t1), level(t1), 0.0012, 0.0012, TIMBER);
    drawTwig(canvas, at(legs[3], t0), level(t0), at(legs[0], t1), level(t1), 0.0012, 0.0012, TIMBER);
    drawTwig(canvas, at(legs[0], t1), level(t1), at(legs[3], t1), level(t1), 0.0014, 0.0014, TIMBER);
  }
  for (const leg of [legs[0], legs[3]]) {
    drawTwig(canvas, at(leg, 0), level(0), at(leg, 1), level(1), 0.0027, 0.003, TIMBER);
    const edge = 0.0011;
    drawTwig(canvas, at(leg, 0) + edge, level(0), at(leg, 1) + edge, level(1), 0.0005, 0.0005, LIT_TIMBER);
  }
  // A ladder stair in two flights on the left.
  for (const [x0, t0, x1, t1] of [
    [-0.05, 1, -0.012, 0.5],
    [-0.012, 0.5, -0.034, 0.02],
  ]) {
    for (const offset of [0, 0.0045])
      drawTwig(canvas, AT + x0 + offset, level(t0), AT + x1 + offset, level(t1), 0.0008, 0.0008, TIMBER);
    for (let step = 0; step < 14; step++) {
      const t = step / 13;
      const [x, y] = [AT + x0 + (x1 - x0) * t, level(t0) + (level(t1) - level(t0)) * t];
      drawTwig(canvas, x, y, x + 0.0045, y, 0.0006, 0.0006, TIMBER);
    }
  }
}

function drawCabin(canvas: RadianceCanvas, deck: number, eaves: number): void {
  const box = (x0: number, y0: number, x1: number, y1: number) =>
    [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ] as const;
  fillPolygon(canvas, box(AT - HALF, eaves, AT + HALF, deck), boards(0.0105, 0.0031));
  const sill = deck - CABIN_HEIGHT * 0.42;
  const top = eaves + CABIN_HEIGHT * 0.1;
  const panes = 6;
  for (let i = 0; i < panes; i++) {
    const x0 = AT - HALF + 0.002 + (i * (2 * HALF - 0.004)) / panes + 0.0008;
    const x1 = AT - HALF + 0.002 + ((i + 1) * (2 * HALF - 0.004)) / panes - 0.0008;
    const lamp = AT + 0.0068;
    fillPolygon(canvas, box(x0, top, x1, sill), (x, y) => {
      const fall = Math.exp(-(((x - lamp) / 0.0085) ** 2) - ((y - top - 0.006) / 0.011) ** 2);
      const sky = 0.02 + 0.016 * (1 - (y - top) / (sill - top));
      const furniture = 0.55 + 0.45 * smoothstep(-0.25, 0.2, fbm(grain, x * 320, y * 420, 3));
      return [
        sky * 0.8 + 0.62 * fall * furniture,
        sky + 0.31 * fall * furniture,
        sky * 1.35 + 0.095 * fall * furniture,
      ];
    });
    drawTwig(canvas, (x0 + x1) / 2, top, (x0 + x1) / 2, sill, 0.0004, 0.0004, TIMBER);
    drawTwig(canvas, x0, (top + sill) / 2, x1, (top + sill) / 2, 0.0004, 0.0004, TIMBER);
  }
}

function drawRoof(canvas: RadianceCanvas, eaves: number): void {
  const wide = HALF + 0.0075;
  const ridge = eaves - 0.0195;
  fillPolygon(
    canvas,
    [
      [AT - wide, eaves + 0.0015],
      [AT - 0.002, ridge],
      [AT + 0.002, ridge],
      [AT + wide, eaves + 0.0015],
    ],
    (x, y) => {
      const shingle = boards(0.0125, 0.0016)(x, y);
      const frost = smoothstep(-0.05, 0.35, fbm(grain, x * 130, y * 300, 4)) * 0.02;
      return [shingle[0] + frost * 0.85, shingle[1] + frost * 0.97, shingle[2] + frost * 1.25];
    },
  );
  drawTwig(canvas, AT - wide, eaves + 0.0018, AT + wide, eaves + 0.0018, 0.0016, 0.0016, TIMBER);
  drawTwig(canvas, AT, ridge, AT, ridge - 0.016, 0.0009, 0.0004, TIMBER);
  fillPolygon(
    canvas,
    [
      [AT + 0.0115, ridge + 0.0035],
      [AT + 0.015, ridge + 0.0035],
      [AT + 0.015, ridge + 0.013],
      [AT + 0.0115, ridge + 0.0115],
    ],
    boards(0.008, 0.0009),
  );
}

function drawRailing(canvas: RadianceCanvas, deck: number): void {
  const wide = HALF + 0.0095;
  drawTwig(canvas, AT - wide, deck + 0.001, AT + wide, deck + 0.001, 0.0026, 0.0026, TIMBER);
  drawTwig(canvas, AT - wide, deck + 0.0025, AT + wide, deck + 0.0025, 0.0006, 0.0006, [0.004, 0.004, 0.0042]);
  for (const height of [0.0045, 0.0092])
    drawTwig(canvas, AT - wide, deck - height, AT + wide, deck - height, 0.0008, 0.0008, TIMBER);
  for (let i = 0; i <= 14; i++) {
    const x = AT - wide + (2 * wide * i) / 14;
    drawTwig(canvas, x, deck, x, deck - 0.0096, i % 7 === 0 ? 0.0012 : 0.0005, i % 7 === 0 ? 0.0012 : 0.0005, TIMBER);
  }
}
