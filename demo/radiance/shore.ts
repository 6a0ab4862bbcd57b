import { paintBoulder } from './boulder.ts';
import { drawTwig, type RadianceCanvas, type Rgb } from './canvas.ts';
import { fbm, lerp, noiseOf, randomOf, smoothstep } from './noise.ts';

const edge = noiseOf('tarn-shore');

/** Where the near shore meets the water. */
export function shoreEdge(x: number): number {
  return (
    0.845 -
    0.085 * smoothstep(0.95, 0.05, x) -
    0.04 * smoothstep(1.2, 1.5, x) +
    0.03 * fbm(edge, x * 2.6, 2, 4) +
    0.006 * fbm(edge, x * 21, 7, 4)
  );
}

/** Paints the near shore: gravel, wet at its edge, boulders from far to near, and frosted grass between them. */
export function paintShore(canvas: RadianceCanvas, progress: (share: number) => void): void {
  paintGravel(canvas);
  const random = randomOf('tarn-boulders');
  const items: { y: number; draw: () => void }[] = [];
  for (let i = 0; i < 1500; i++) {
    const x = 1.54 * random() - 0.02;
    const y = shoreEdge(x) - 0.014 + (1.04 - shoreEdge(x)) * random() ** 0.85;
    const closeness = smoothstep(0.76, 1.02, y);
    const large = random();
    const radius =
      lerp(0.003, 0.009, closeness) * (0.5 + large) +
      (large > 0.945 ? lerp(0.01, 0.052, closeness) * (0.35 + 1.5 * random() ** 2) : 0);
    const seed = `${i}`;
    items.push({
      y,
      draw: () => paintBoulder(canvas, { x, y, radius, seed, wet: smoothstep(0.02, -0.004, y - shoreEdge(x)) }),
    });
  }
  const grass = randomOf('tarn-grass');
  for (let i = 0; i < 150; i++) {
    const x = 1.54 * grass() - 0.02;
    const y = shoreEdge(x) + 0.02 + (1.03 - shoreEdge(x)) * grass() ** 0.7;
    if (fbm(edge, x * 5, y * 6, 3) < -0.02) continue;
    items.push({
      y,
      draw: () => drawTuft(canvas, x, y, lerp(0.012, 0.05, smoothstep(0.8, 1.02, y)), randomOf(`tuft-${i}`)),
    });
  }
  items.sort((a, b) => a.y - b.y);
  items.forEach(({ draw }, index) => {
    draw();
    if (index % 100 === 0) progress(index / items.length);
  });
}

function paintGravel(canvas: RadianceCanvas): void {
  const grit = noiseOf('tarn-grit');
  for (let column = 0; column < canvas.width; column++) {
    const x = (column + 0.5) / canvas.height;
    const top = shoreEdge(x);
    for (let row = Math.floor((top - 0.02) * canvas.height); row < canvas.height; row++) {
      const y = (row + 0.5) / canvas.height;
      const near = smoothstep(0.78, 1, y);
      const pebble =
        lerp(fbm(grit, x * 170, y * 310, 5), fbm(grit, x * 62 + 9, y * 96, 6), near) +
        0.35 * fbm(grit, x * 13, y * 24, 3);
      const coverage = smoothstep(-0.004, 0.004, y - top + pebble * 0.006);
      if (coverage <= 0) continue;
      const wet = smoothstep(0.022, 0.002, y - top);
      const frost = smoothstep(0.2, 0.5, pebble) * (1 - wet) * 0.6;
      const tone = Math.max(0.0009, (0.0075 + 0.011 * pebble) * (1 - 0.55 * wet) + 0.016 * frost);
      canvas.cover(column, row, [tone, tone * 1.02, tone * (1.12 + 0.2 * frost)], coverage);
    }
  }
}

/** Stiff frosted grass: pale straw, each blade bowed by its own weight. */
function drawTuft(canvas: RadianceCanvas, x: number, y: number, height: number, random: () => number): void {
  const blades = 36;
  for (let i = 0; i < blades; i++) {
    const lean = (random() - 0.5) * 1.7;
    const length = height * (0.45 + 0.6 * random());
    const frost = random() ** 2;
    const pale = 0.5 + 0.8 * random();
    let [px, py] = [x + (random() - 0.5) * height * 0.55, y + (random() - 0.5) * height * 0.12];
    const pieces = 6;
    for (let k = 1; k <= pieces; k++) {
      const t = k / pieces;
      const nx = px + (lean * (0.25 + 0.9 * t) * length) / pieces;
      const ny = py - ((1.15 - 0.95 * t * Math.abs(lean)) * length) / pieces;
      const tone = lerp(0.006, 0.026, t) * pale;
      const colour: Rgb = [tone * lerp(1.15, 0.95, frost), tone * lerp(0.95, 1, frost), tone * lerp(0.62, 1.2, frost)];
      drawTwig(canvas, px, py, nx, ny, height * 0.017 * (1.1 - t), height * 0.017 * (1.05 - t), colour);
      [px, py] = [nx, ny];
    }
  }
}
