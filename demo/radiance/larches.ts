import { knollTop, promontoryTop } from './banks.ts';
import { drawTwig, type RadianceCanvas, type Rgb } from './canvas.ts';
import { lerp, randomOf } from './noise.ts';
import { GLOW } from './sky.ts';

interface Larch {
  x: number;
  foot: number;
  height: number;
  seed: number;
}

/** A thin wood on both banks, and one line of tall bare larches before the brightest sky. */
export function paintLarches(canvas: RadianceCanvas): void {
  const random = randomOf('tarn-larches');
  const trees: Larch[] = [];
  const stand = (x: number, top: (x: number) => number, height: number) =>
    trees.push({ x, foot: top(x) + 0.006 + 0.008 * random(), height, seed: random() });
  for (let i = 0; i < 70; i++) stand(random() ** 1.4 * 0.56, knollTop, 0.012 + 0.034 * random() ** 2);
  for (let i = 0; i < 60; i++) stand(0.8 + 0.72 * random(), promontoryTop, 0.012 + 0.03 * random() ** 2);
  for (let i = 0; i < 11; i++) stand(-0.02 + 0.22 * random(), knollTop, 0.06 + 0.05 * random());
  const line = [
    0.842, 0.868, 0.902, 0.918, 0.955, 0.985, 1.004, 1.031, 1.049, 1.086, 1.118, 1.134, 1.172, 1.225, 1.262, 1.306,
    1.352, 1.404, 1.447, 1.49,
  ];
  for (const x of line)
    stand(x + 0.012 * (random() - 0.5), promontoryTop, (0.1 + 0.075 * random()) * (x > 0.94 && x < 1.19 ? 1.15 : 0.95));
  trees.sort((a, b) => a.height - b.height);
  for (const tree of trees) drawLarch(canvas, tree);
}

/** Bark and twig against the light: nearly black, a little sky on it, warm where the glow shines through. */
function barkLight(x: number, depth: number): Rgb {
  const through = Math.exp(-(((x - GLOW.x) / 0.16) ** 2)) * depth;
  return [0.0052 + 0.075 * through, 0.0055 + 0.038 * through, 0.0068 + 0.016 * through];
}

/** A bare larch: straight stem, drooping boughs that turn up at their tips, hanging twigs with buds. */
function drawLarch(canvas: RadianceCanvas, { x, foot, height, seed }: Larch): void {
  const random = randomOf(`larch-${seed}`);
  const lean = (random() - 0.5) * 0.05;
  const bow = (random() - 0.5) * 0.03;
  const stemX = (t: number) => x + height * (lean * t + bow * Math.sin(t * 2.6));
  const stem = height * 0.02;
  const spread = 0.25 + 0.13 * random();
  const steps = 24;
  for (let i = 0; i < steps; i++) {
    const [t0, t1] = [i / steps, (i + 1) / steps];
    drawTwig(
      canvas,
      stemX(t0),
      foot - height * t0,
      stemX(t1),
      foot - height * t1,
      stem * (1.02 - t0),
      stem * (1.02 - t1),
      barkLight(x, 0.1),
    );
  }
  const boughs = Math.round(30 + 560 * height);
  for (let i = 0; i < boughs; i++) {
    const t = 0.1 + 0.885 * ((i + random() * 0.9) / boughs);
    // Boughs stand all round the stem; what we see of each is its length across the view.
    const across = Math.cos(random() * Math.PI * 2);
    const gaps = random() < 0.14 ? 0.35 : 1;
    const reach =
      height * spread * (0.025 + (1 - t) ** 0.72) * across * (0.6 + 0.5 * random()) * gaps * (t < 0.2 ? 0.55 : 1);
    drawBough(canvas, stemX(t), foot - height * t, reach, height, 1 - t, random);
  }
}

function drawBough(
  canvas: RadianceCanvas,
  x: number,
  y: number,
  reach: number,
  height: number,
  lower: number,
  random: () => number,
): void {
  const pieces = 6;
  const droop = 0.1 + 0.55 * lower * random();
  const turnUp = 0.35 * random();
  const thick = height * 0.0044 * (0.5 + 0.6 * lower);
  let [px, py] = [x, y];
  for (let i = 1; i <= pieces; i++) {
    const t = i / pieces;
    const nx = x + reach * t + height * 0.003 * (random() - 0.5);
    const ny = y + Math.abs(reach) * (droop * t - turnUp * t * t) + height * 0.003 * (random() - 0.5);
    const colour = barkLight(px, lerp(0.12, 0.5, t));
    drawTwig(canvas, px, py, nx, ny, thick * (1.1 - t), thick * (1.1 - t - 1 / pieces), colour);
    const twigs = height > 0.05 ? 4 : 1;
    for (let k = 0; k < twigs; k++)
      drawTwiglet(
        canvas,
        lerp(px, nx, random()),
        lerp(py, ny, random()),
        Math.sign(reach),
        height * (0.012 + 0.03 * random()) * (1.1 - t * 0.6) * Math.min(1, 0.22 + 1.5 * lower),
        colour,
        random,
      );
    [px, py] = [nx, ny];
  }
}

function drawTwiglet(
  canvas: RadianceCanvas,
  x: number,
  y: number,
  side: number,
  length: number,
  colour: Rgb,
  random: () => number,
): void {
  const angle = lerp(-0.5, 1.35, random());
  const midX = x + side * Math.cos(angle) * length * 0.5;
  const midY = y + Math.sin(angle) * length * 0.5;
  const endX = midX + side * Math.cos(angle - 0.5) * length * 0.5;
  const endY = midY + Math.sin(angle + 0.3) * length * 0.5;
  const thick = length * 0.045;
  drawTwig(canvas, x, y, midX, midY, thick, thick * 0.8, colour);
  drawTwig(canvas, midX, midY, endX, endY, thick * 0.8, thick * 0.4, colour);
  for (let i = 0; i < 3; i++) {
    const t = random();
    const bud = thick * 1.9;
    drawTwig(
      canvas,
      lerp(x, midX, t),
      lerp(y, midY, t),
      lerp(x, midX, t) + bud * 0.3,
      lerp(y, midY, t) + bud * 0.3,
      bud,
      bud,
      colour,
    );
  }
}
