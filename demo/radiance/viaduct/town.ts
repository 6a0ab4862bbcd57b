import { drawTwig, fillPolygon, type RadianceCanvas, type Rgb } from '../canvas.ts';
import { fbm, lerp, noiseOf, randomOf, smoothstep } from '../noise.ts';
import type { Dusk } from './dusk.ts';
import { LAMP, paintBlock } from './masonry.ts';

const plaster = noiseOf('viaduct-plaster');

interface House {
  left: number;
  right: number;
  eaves: number;
  ground: number;
  tone: Rgb;
  seed: number;
}

/** Houses in rows up the slope on the right, and a few under the viaduct, from the farthest to the nearest. */
function houses(): House[] {
  const random = randomOf('viaduct-houses');
  const made: House[] = [];
  for (let row = 0; row < 5; row++) {
    const size = 0.6 + row * 0.16;
    for (let x = 0.98 - row * 0.03 + random() * 0.02; x < 1.52; ) {
      const wide = (0.038 + 0.034 * random()) * size;
      const slope = 0.085 * smoothstep(0.95, 1.45, x);
      const ground = 0.475 + row * 0.025 - slope * (1 - row * 0.17) + 0.004 * random();
      const tall = (0.03 + 0.026 * random()) * size;
      const warm = random();
      const pale = 0.16 + 0.2 * random();
      made.push({
        left: x,
        right: x + wide,
        eaves: ground - tall,
        ground,
        tone: [pale * lerp(1, 1.25, warm), pale * lerp(1, 1.02, warm), pale * lerp(0.98, 0.72, warm)],
        seed: made.length,
      });
      x += wide + (random() < 0.4 ? 0.004 + random() * 0.01 : 0.0004);
    }
  }
  return made;
}

/** Paints the town.
 * @param lit - Share of the windows that have light. */
export function paintTown(canvas: RadianceCanvas, dusk: Dusk, lit: number): void {
  for (const house of houses()) paintHouse(canvas, house, dusk, lit);
  paintQuay(canvas, dusk, lit);
}

function paintHouse(
  canvas: RadianceCanvas,
  { left, right, eaves, ground, tone, seed }: House,
  dusk: Dusk,
  lit: number,
): void {
  const light = dusk.light * 0.32;
  paintBlock(canvas, [left, eaves, right, ground + 0.03], (x, y) => {
    const worn = 0.8 + 0.3 * fbm(plaster, x * 90, y * 120 + seed, 4) - 0.15 * smoothstep(ground - 0.006, ground, y);
    const street = 0.16 * lit * Math.exp(-((ground - y) / 0.012)) * (0.6 + 0.4 * Math.sin(seed * 2.3));
    return [0, 1, 2].map((c) => tone[c] * worn * (light * [0.96, 0.98, 1.12][c] + street * LAMP[c])) as unknown as Rgb;
  });
  const wide = right - left;
  const ridge = eaves - wide * (0.22 + 0.12 * Math.abs(Math.sin(seed * 3.1)));
  const over = 0.0022;
  fillPolygon(
    canvas,
    [
      [left - over, eaves + 0.0012],
      [left + wide * 0.16, ridge],
      [right - wide * 0.16, ridge],
      [right + over, eaves + 0.0012],
    ],
    (x, y) => {
      const tile = 0.055 * (0.75 + 0.4 * plaster(Math.floor(y * 420) * 1.7, Math.floor(x * 300) * 2.1 + seed));
      return [tile * light * 3 * 1.15, tile * light * 3 * 0.92, tile * light * 3 * 0.9];
    },
  );
  if (seed % 3 !== 1) {
    const chimney = left + wide * (0.28 + 0.4 * Math.abs(Math.sin(seed)));
    paintBlock(canvas, [chimney, ridge - 0.007, chimney + 0.0045, ridge + 0.004], () => [
      0.03 * light * 3,
      0.026 * light * 3,
      0.026 * light * 3,
    ]);
  }
  paintWindows(canvas, { left, right, eaves, ground, tone, seed }, dusk, lit);
}

function paintWindows(
  canvas: RadianceCanvas,
  { left, right, eaves, ground, seed }: House,
  dusk: Dusk,
  lit: number,
): void {
  const random = randomOf(`viaduct-windows-${seed}`);
  const [columns, rows] = [
    Math.max(2, Math.round((right - left) / 0.0125)),
    Math.max(1, Math.round((ground - eaves) / 0.0165)),
  ];
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const x = left + ((column + 0.5) * (right - left)) / columns;
      const y = eaves + ((row + 0.42) * (ground - eaves)) / rows;
      // Each window has its own hour: those lit early stay lit.
      const hour = random();
      const warmth = random();
      const bright = (0.12 + 0.34 * random()) * smoothstep(hour - 0.04, hour + 0.04, lit * 0.72);
      const glass: Rgb = [0.03 * dusk.light, 0.037 * dusk.light, 0.055 * dusk.light];
      const lamp: Rgb = [1.25, lerp(0.62, 0.86, warmth), lerp(0.2, 0.5, warmth)];
      paintBlock(canvas, [x - 0.0021, y - 0.0034, x + 0.0021, y + 0.0034], (_, py) => {
        const curtain = 0.55 + 0.45 * smoothstep(y + 0.003, y - 0.002, py);
        return [0, 1, 2].map((c) => glass[c] + lamp[c] * bright * curtain) as unknown as Rgb;
      });
      drawTwig(canvas, x, y - 0.0034, x, y + 0.0034, 0.0004, 0.0004, [
        0.02 * dusk.light,
        0.02 * dusk.light,
        0.02 * dusk.light,
      ]);
    }
  }
}

/** The quay wall along the water, with its lamps. */
function paintQuay(canvas: RadianceCanvas, dusk: Dusk, lit: number): void {
  const top = 0.578;
  paintBlock(canvas, [0.78, top, 1.6, 0.604], (x, y) => {
    const course = Math.floor(y * 260);
    const own = 0.8 + 0.35 * plaster(course * 2.3, Math.floor(x * 70 + (course % 2) * 0.5) * 1.9);
    let lamp = 0;
    for (let i = 0; i < 6; i++) lamp += Math.exp(-(((x - 0.86 - i * 0.125) / 0.028) ** 2) - (y - top) / 0.018);
    const light = dusk.light * 0.22;
    return [0, 1, 2].map((c) => 0.13 * own * (light + 0.9 * lit * lamp * LAMP[c])) as unknown as Rgb;
  });
  for (let i = 0; i < 6; i++) {
    const x = 0.86 + i * 0.125;
    drawTwig(canvas, x, top, x, top - 0.026, 0.001, 0.0008, [
      0.008 * dusk.light + 0.001,
      0.008 * dusk.light + 0.001,
      0.01 * dusk.light + 0.001,
    ]);
    const globe = 6 * lit + 0.04 * dusk.light;
    drawTwig(canvas, x, top - 0.0265, x, top - 0.0295, 0.003, 0.003, [
      globe * LAMP[0],
      globe * LAMP[1],
      globe * LAMP[2],
    ]);
  }
}

/** The clock tower at the tram stop: brick, a steep roof, and a dial that is lit from behind.
 * @param dial - Brightness of the dial. */
export function paintClockTower(canvas: RadianceCanvas, dusk: Dusk, dial: number, minutes: number): void {
  const at = 1.075;
  const [top, foot, half] = [0.275, 0.5, 0.019];
  const light = dusk.light * 0.3;
  paintBlock(canvas, [at - half, top, at + half, foot], (x, y) => {
    const course = Math.floor(y / 0.0042);
    const brick = 0.75 + 0.35 * plaster(course * 1.7, Math.floor(x / 0.008 + (course % 2) * 0.5) * 2.7);
    const corner = Math.abs(x - at) > half - 0.0035 ? 1.5 : 1;
    const near = dial * 0.06 * Math.exp(-Math.hypot(x - at, y - 0.312) / 0.03);
    const side = lerp(1.15, 0.75, smoothstep(at - half, at + half, x));
    return [0.17, 0.105, 0.08].map(
      (c, i) => c * brick * corner * side * (light * [1, 1, 1.15][i] + near * LAMP[i]),
    ) as unknown as Rgb;
  });
  paintBlock(canvas, [at - half - 0.003, top - 0.004, at + half + 0.003, top + 0.002], () => [
    0.08 * light,
    0.078 * light,
    0.085 * light,
  ]);
  fillPolygon(
    canvas,
    [
      [at - half - 0.002, top - 0.003],
      [at, top - 0.062],
      [at + half + 0.002, top - 0.003],
    ],
    (x, y) => {
      const slate = 0.06 * (0.8 + 0.4 * plaster(Math.floor(y * 500) * 1.3, Math.floor(x * 380) * 1.9));
      return [slate * light * 2, slate * light * 2.1, slate * light * 2.5];
    },
  );
  drawTwig(canvas, at, top - 0.06, at, top - 0.078, 0.0008, 0.0005, [0.01 * light, 0.01 * light, 0.01 * light]);
  paintDial(canvas, at, 0.312, 0.0125, dial, minutes, dusk);
}

function paintDial(
  canvas: RadianceCanvas,
  x: number,
  y: number,
  radius: number,
  dial: number,
  minutes: number,
  dusk: Dusk,
): void {
  const corners = Array.from({ length: 48 }, (_, i) => {
    const angle = (i / 48) * 2 * Math.PI;
    return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)] as const;
  });
  fillPolygon(canvas, corners, (px, py) => {
    const fall = 1 - 0.35 * (Math.hypot(px - x, py - y) / radius) ** 2;
    const glow = dial * fall + 0.12 * dusk.light;
    return [glow * 1.0, glow * 0.93, glow * 0.74];
  });
  const ink: Rgb = [0.004 + 0.03 * dial, 0.004 + 0.03 * dial, 0.004 + 0.025 * dial];
  for (let hour = 0; hour < 12; hour++) {
    const [sin, cos] = [Math.sin((hour / 6) * Math.PI), -Math.cos((hour / 6) * Math.PI)];
    const inner = hour % 3 === 0 ? 0.74 : 0.82;
    drawTwig(
      canvas,
      x + radius * inner * sin,
      y + radius * inner * cos,
      x + radius * 0.93 * sin,
      y + radius * 0.93 * cos,
      0.0009,
      0.0009,
      ink,
    );
  }
  // Twenty to eight in the first moment.
  const clock = 19 * 60 + 40 + minutes;
  for (const [turn, long, thick] of [
    [clock / 720, 0.5, 0.0014],
    [(clock % 60) / 60, 0.78, 0.0009],
  ]) {
    const angle = turn * 2 * Math.PI;
    drawTwig(
      canvas,
      x,
      y,
      x + radius * long * Math.sin(angle),
      y - radius * long * Math.cos(angle),
      thick,
      thick * 0.6,
      ink,
    );
  }
}
