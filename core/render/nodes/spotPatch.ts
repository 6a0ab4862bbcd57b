import { type Domain, solveMembranes } from '../../kernels/membrane.ts';
import { smoothstep } from '../../kernels/smoothstep.ts';
import { levelSize, type Region } from '../../raster/size.ts';
import type { RenderContext, TileNode } from '../tiles/renderContext.ts';
import { readRegion } from './readRegion.ts';

interface Point {
  x: number;
  y: number;
}

/** A place that is covered, in scene pixels: see `RetouchSpot`. */
export interface CoveredSpot {
  path: readonly Point[];
  radius: number;
  soft: number;
  how: 'heal' | 'clone';
  by: Point;
  flip: 'none' | 'across' | 'down';
  opacity: number;
}

/** What covers a spot at a level of the picture, and how much of it at each pixel. */
export interface SpotPatch {
  region: Region;
  planes: readonly Float32Array[];
  cover: Float32Array;
}

/** Spots that are narrower at a level than this many pixels are not seen there. */
const NARROWEST = 0.7;

/** Squared distance of a place from a way. */
function squaredDistance(path: readonly Point[], x: number, y: number): number {
  let least = Number.POSITIVE_INFINITY;
  for (let index = 0; index < path.length; index++) {
    const from = path[index];
    const to = path[index + 1] ?? from;
    const dx = to.x - from.x;
    const dy = to.y - from.y;
    const length = dx * dx + dy * dy;
    const along = length > 0 ? Math.min(1, Math.max(0, ((x - from.x) * dx + (y - from.y) * dy) / length)) : 0;
    const ox = x - from.x - along * dx;
    const oy = y - from.y - along * dy;
    least = Math.min(least, ox * ox + oy * oy);
  }
  return least;
}

/** Pixels of a level that a spot reaches over, with those around it that hold it; undefined where it is too small to be seen. */
export function spotRegion({ path, radius }: CoveredSpot, level: number): Region | undefined {
  const step = 2 ** level;
  if ((2 * radius) / step < NARROWEST) return undefined;
  const [xs, ys] = [path.map(({ x }) => x), path.map(({ y }) => y)];
  const [left, top] = [
    Math.floor((Math.min(...xs) - radius) / step) - 1,
    Math.floor((Math.min(...ys) - radius) / step) - 1,
  ];
  const right = Math.ceil((Math.max(...xs) + radius) / step) + 1;
  const bottom = Math.ceil((Math.max(...ys) + radius) / step) + 1;
  return { x: left, y: top, width: right - left, height: bottom - top };
}

/** Where what covers a region of a level is taken from, and from where each pixel of it: whole pixels at full size, whatever lies between them at
 * coarser levels. */
export function sourceRegion(spot: CoveredSpot, level: number, { x, y, width, height }: Region) {
  const step = 2 ** level;
  const [xs, ys] = [spot.path.map((at) => at.x), spot.path.map((at) => at.y)];
  const middle = {
    x: (Math.min(...xs) + Math.max(...xs)) / 2 / step,
    y: (Math.min(...ys) + Math.max(...ys)) / 2 / step,
  };
  const by = { x: Math.round(spot.by.x) / step, y: Math.round(spot.by.y) / step };
  const across = (at: number) => (spot.flip === 'across' ? mirrored(at, middle.x) : at) + by.x;
  const down = (at: number) => (spot.flip === 'down' ? mirrored(at, middle.y) : at) + by.y;
  const [a, b] = [across(x), across(x + width - 1)];
  const [c, d] = [down(y), down(y + height - 1)];
  const [left, top] = [Math.floor(Math.min(a, b)), Math.floor(Math.min(c, d))];
  const [right, bottom] = [Math.ceil(Math.max(a, b)) + 1, Math.ceil(Math.max(c, d)) + 1];
  return { region: { x: left, y: top, width: right - left + 1, height: bottom - top + 1 }, across, down };
}

/** The pixel that lies where another one does in a mirror; pixels by their numbers, the mirror as places are counted. */
const mirrored = (at: number, mirror: number): number => Math.round(2 * mirror) - 1 - at;

/** Computes what covers a spot.
 * @param below - The picture that it lies in.
 * @param source - That which it is taken of. */
export function makePatch(
  spot: CoveredSpot,
  level: number,
  { below, source }: { below: TileNode; source: TileNode },
  context: RenderContext,
): SpotPatch | undefined {
  const region = spotRegion(spot, level);
  if (!region) return undefined;
  const { cover, cells } = shapeOf(spot, level, region, below);
  const planes = taken(spot, level, region, source, context);
  if (spot.how === 'heal') {
    const around = readRegion(below, level, region, context);
    const domain = { cells, width: region.width, height: region.height };
    join(planes, around, domain, context);
  }
  return { region, planes, cover };
}

/** How much of each pixel is covered, and which of them are to be found. */
function shapeOf(spot: CoveredSpot, level: number, region: Region, below: TileNode) {
  const { x: left, y: top, width, height } = region;
  const step = 2 ** level;
  const size = levelSize(below.extent.size, level);
  const cover = new Float32Array(width * height);
  const cells = new Uint8Array(width * height);
  const inner = spot.radius * (1 - spot.soft);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const column = left + x;
      const row = top + y;
      const isBeyond = column < 0 || row < 0 || column >= size.width || row >= size.height;
      const squared = squaredDistance(spot.path, (column + 0.5) * step, (row + 0.5) * step);
      if (isBeyond) cells[i] = 2;
      if (squared >= spot.radius * spot.radius) continue;
      if (!isBeyond) cells[i] = 1;
      const away = Math.sqrt(squared);
      // An edge that is not soft goes over within a pixel.
      const fade = Math.max(spot.radius - inner, step);
      cover[i] = spot.opacity * smoothstep((spot.radius - away) / fade);
    }
  return { cover, cells };
}

/** Pixels that cover a region, read where they lie. */
function taken(
  spot: CoveredSpot,
  level: number,
  region: Region,
  source: TileNode,
  context: RenderContext,
): Float32Array[] {
  const from = sourceRegion(spot, level, region);
  const read = readRegion(source, level, from.region, context);
  const { width, height } = region;
  const stride = from.region.width;
  // Columns are the same in all rows.
  const [columns, shares] = [new Int32Array(width), new Float64Array(width)];
  for (let x = 0; x < width; x++) {
    const u = from.across(region.x + x) - from.region.x;
    columns[x] = Math.floor(u);
    shares[x] = u - columns[x];
  }
  const isBetween = shares.some((share) => share !== 0);
  return read.map((plane) => {
    const out = new Float32Array(width * height);
    for (let y = 0, i = 0; y < height; y++) {
      const v = from.down(region.y + y) - from.region.y;
      const [row, downwards] = [Math.floor(v) * stride, v - Math.floor(v)];
      if (!isBetween && downwards === 0) {
        for (let x = 0; x < width; x++, i++) out[i] = plane[row + columns[x]];
        continue;
      }
      for (let x = 0; x < width; x++, i++) {
        const at = row + columns[x];
        const rightwards = shares[x];
        const upper = plane[at] + (plane[at + 1] - plane[at]) * rightwards;
        const lower = plane[at + stride] + (plane[at + stride + 1] - plane[at + stride]) * rightwards;
        out[i] = upper + (lower - upper) * downwards;
      }
    }
    return out;
  });
}

/** Cells may be off by this much of 65,535 in all: sums over a domain grow with its width squared. */
const WITHIN = 2;

/** Lifts what covers a place by a membrane that is held where the place ends. */
function join(
  planes: readonly Float32Array[],
  around: readonly Float32Array[],
  domain: Domain,
  { kernels, scratch }: RenderContext,
): void {
  const { cells, width, height } = domain;
  const side = Math.min(width, height);
  const tolerance = Math.max(1e-4, WITHIN / (side * side));
  const count = cells.length;
  const lift = (lifts: Float64Array, solve: () => void) => {
    lifts.fill(0);
    for (let i = 0; i < count; i++) {
      if (cells[i] !== 0) continue;
      for (let channel = 0; channel < 3; channel++) lifts[4 * i + channel] = around[channel][i] - planes[channel][i];
    }
    solve();
    for (let i = 0; i < count; i++) {
      if (cells[i] !== 1) continue;
      for (let channel = 0; channel < 3; channel++) planes[channel][i] += lifts[4 * i + channel];
    }
  };
  const isSolved = scratch.lendMembrane(width, height, (lifts, shared, room) => {
    shared.set(cells);
    lift(lifts, () => kernels.solveMembranes(lifts, shared, width, height, tolerance, room));
    return true;
  });
  if (isSolved) return;
  // What is too large for a thread's memory is rare, and may take the slower way.
  const lifts = new Float64Array(4 * count);
  lift(lifts, () => solveMembranes(lifts, domain, tolerance));
}
