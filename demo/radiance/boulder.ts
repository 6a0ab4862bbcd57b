import type { RadianceCanvas, Rgb } from './canvas.ts';
import { fbm, lerp, type Noise, noiseOf, randomOf, smoothstep } from './noise.ts';

interface Boulder {
  x: number;
  /** Where it meets the ground. */
  y: number;
  radius: number;
  seed: string;
  /** 0 dry to 1 standing in water. */
  wet: number;
}

interface Facet {
  nx: number;
  ny: number;
  nz: number;
  distance: number;
}

const bump = noiseOf('boulder-bump');
const spots = noiseOf('boulder-lichen');

/** A convex block: the lower envelope of a few random planes, so it breaks into faces as granite does. */
function cutFacets(random: () => number): Facet[] {
  const facets: Facet[] = [];
  const count = 9 + Math.floor(random() * 5);
  for (let i = 0; i < count; i++) {
    const turn = ((i + random() * 0.8) / count) * Math.PI * 2;
    const steep = 0.3 + 1.05 * random() ** 0.8;
    const nz = Math.cos(steep);
    facets.push({
      nx: Math.cos(turn) * Math.sin(steep),
      ny: Math.sin(turn) * Math.sin(steep),
      nz,
      distance: 0.58 + 0.32 * random(),
    });
  }
  facets.push({ nx: 0.15 * (random() - 0.5), ny: 0.5, nz: 0.85, distance: 0.66 + 0.12 * random() });
  return facets;
}

/** Depth of the block towards the viewer and its normal, both softened where faces meet. */
function surface(facets: readonly Facet[], u: number, v: number): [number, number, number, number] {
  const soft = 0.03;
  let total = 0;
  let [nx, ny, nz] = [0, 0, 0];
  let lowest = Infinity;
  const depths = facets.map((f) => (f.distance - f.nx * u - f.ny * v) / f.nz);
  for (const depth of depths) lowest = Math.min(lowest, depth);
  facets.forEach((f, i) => {
    const weight = Math.exp((lowest - depths[i]) / soft);
    total += weight;
    nx += f.nx * weight;
    ny += f.ny * weight;
    nz += f.nz * weight;
  });
  const length = Math.hypot(nx, ny, nz);
  return [lowest - soft * Math.log(total) * 0.4, nx / length, ny / length, nz / length];
}

/** Paints one boulder with its shadow on the ground. */
export function paintBoulder(canvas: RadianceCanvas, boulder: Boulder): void {
  const random = randomOf(`boulder-${boulder.seed}`);
  const facets = cutFacets(random);
  const flat = 0.5 + 0.35 * random();
  const lichen = random();
  const tint = 0.82 + 0.4 * random();
  const { x, y, radius } = boulder;
  const middle = y - radius * flat * 0.55;
  castShadow(canvas, boulder);
  const h = canvas.height;
  for (
    let row = Math.max(0, Math.floor((middle - radius * 1.1) * h));
    row < Math.min(h, (y + radius * 0.28) * h);
    row++
  ) {
    for (
      let column = Math.max(0, Math.floor((x - radius * 1.15) * h));
      column < Math.min(canvas.width, (x + radius * 1.15) * h);
      column++
    ) {
      const px = (column + 0.5) / h;
      const py = (row + 0.5) / h;
      const rough = 0.07 * fbm(bump, px / radius + x * 40, py / radius + y * 40, 4);
      const u = (px - x) / radius;
      const v = (middle - py) / (radius * flat);
      const [depth, nx, ny, nz] = surface(facets, u, v);
      const edge = (depth + rough) * radius * h * 0.55;
      const buried = (y + radius * 0.1 * fbm(bump, px * 60, 3, 3) - py) * h;
      const coverage = Math.min(1, Math.max(0, edge)) * Math.min(1, Math.max(0, buried));
      if (coverage > 0)
        canvas.cover(
          column,
          row,
          stoneLight({ px, py, radius, nx, ny, nz, lichen, tint, foot: (y - py) / radius, wet: boulder.wet }),
          coverage,
        );
    }
  }
}

interface StonePoint {
  px: number;
  py: number;
  radius: number;
  nx: number;
  ny: number;
  nz: number;
  lichen: number;
  tint: number;
  foot: number;
  wet: number;
}

function bumpSlope(noise: Noise, x: number, y: number, scale: number, octaves: number): [number, number] {
  const e = 0.35 / scale;
  const here = fbm(noise, x * scale, y * scale, octaves);
  return [
    (fbm(noise, (x + e) * scale, y * scale, octaves) - here) / 0.35,
    (fbm(noise, x * scale, (y + e) * scale, octaves) - here) / 0.35,
  ];
}

/** Light of one point of stone under the dawn sky: cool from overhead, warm on faces turned to the glow. */
function stoneLight(p: StonePoint): Rgb {
  const [bx, by] = bumpSlope(bump, p.px, p.py, 1.9 / p.radius + 30, 6);
  const [fx, fy] = bumpSlope(bump, p.px, p.py, 420, 3);
  let [nx, ny, nz] = [p.nx - 0.2 * bx - 0.05 * fx, p.ny + 0.2 * by + 0.05 * fy, p.nz];
  const length = Math.hypot(nx, ny, nz);
  [nx, ny, nz] = [nx / length, ny / length, nz / length];
  const up = ny * 0.9 + nz * 0.43;
  const overhead = Math.max(0, 0.5 + 0.5 * up) ** 2.2;
  const glow = Math.max(0, nx * 0.22 + ny * 0.86 - nz * 0.36) ** 1.3;
  const sheltered = 0.12 + 0.88 * smoothstep(-0.02, 0.5, p.foot);
  const grain = 1 + 0.55 * fbm(spots, p.px * 620, p.py * 620, 3) + 0.3 * fbm(spots, p.px * 90, p.py * 90, 3);
  const dry = 1 - 0.62 * p.wet;
  let albedo: [number, number, number] = [
    0.158 * p.tint * grain * dry,
    0.152 * p.tint * grain * dry,
    0.145 * p.tint * grain * dry,
  ];
  const patch = fbm(spots, p.px * 95 + 30, p.py * 120, 5);
  const yellow = smoothstep(0.2, 0.3, patch) * smoothstep(0.35, 0.7, p.lichen) * smoothstep(0.1, 0.5, up);
  const grey = smoothstep(0.18, 0.26, fbm(spots, p.px * 70 - 90, p.py * 90, 5)) * smoothstep(0.2, 0.6, p.lichen);
  albedo = mixRgb(albedo, [0.33 * grain, 0.31 * grain, 0.085 * grain], 0.75 * yellow * (1 - p.wet));
  albedo = mixRgb(albedo, [0.36 * grain, 0.38 * grain, 0.35 * grain], 0.6 * grey * (1 - p.wet));
  const frosted = fbm(spots, p.px * 38 + p.lichen * 50, p.py * 46, 6) + 0.3 * fbm(spots, p.px * 420, p.py * 420, 3);
  const rime = smoothstep(0.6, 1.08, up + 0.85 * frosted + 0.25 * (p.tint - 1)) * (1 - p.wet) * 0.8;
  albedo = mixRgb(albedo, [0.5 * grain, 0.53 * grain, 0.57 * grain], rime);
  const light: Rgb = [
    0.058 * overhead + 0.4 * glow + 0.004,
    0.066 * overhead + 0.235 * glow + 0.0043,
    0.085 * overhead + 0.125 * glow + 0.005,
  ];
  return [0, 1, 2].map((c) => Math.max(0.0006, albedo[c] * light[c] * sheltered)) as unknown as Rgb;
}

function mixRgb(a: readonly number[], b: readonly number[], t: number): [number, number, number] {
  return [lerp(a[0], b[0], t), lerp(a[1], b[1], t), lerp(a[2], b[2], t)];
}

/** The dark where a boulder meets the ground. */
function castShadow(canvas: RadianceCanvas, { x, y, radius, wet }: Boulder): void {
  const h = canvas.height;
  for (let row = Math.max(0, Math.floor((y - radius * 0.35) * h)); row < Math.min(h, (y + radius * 0.4) * h); row++) {
    for (
      let column = Math.max(0, Math.floor((x - radius * 1.3) * h));
      column < Math.min(canvas.width, (x + radius * 1.3) * h);
      column++
    ) {
      const distance = Math.hypot(((column + 0.5) / h - x) / (radius * 1.25), ((row + 0.5) / h - y) / (radius * 0.36));
      if (distance < 1) canvas.cover(column, row, [0.0011, 0.0012, 0.0014], (0.88 - 0.4 * wet) * (1 - distance) ** 0.8);
    }
  }
}
