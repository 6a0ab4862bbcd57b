import { addressOf, defineKernel } from './defineKernel.ts';
import type { SampleMaker } from './sampleMaker.ts';

/** Where a membrane is sought: a plane whose cells are 1 where it is unknown, 0 where it is held, and 2 beyond the picture, where nothing pulls. */
export interface Domain {
  cells: Uint8Array;
  width: number;
  height: number;
}

const UNKNOWN = 1;
const BEYOND = 2;

/** Most rounds over all grids. Each takes at least half of what is left. */
const MOST_ROUNDS = 60;
/** Sweeps before and after each correction, and over the coarsest grid. */
const SWEEPS = 2;
const LAST_SWEEPS = 30;
/** Narrower grids are relaxed until they are done. */
const NARROWEST = 6;

/** Doubles of a cell: what three channels are to be lifted by, and one that pads them. */
const CHANNELS = 4;
const COLOURS = [0, 1, 2] as const;

/** The surfaces that membranes take over unknown cells while they are held at the others: Laplace's equation, as Poisson image editing joins a
 * patch to what surrounds it (Perez, Gangnet and Blake 2003, equation 7), solved by multigrid (Brandt 1977), three channels at once.
 * @param lifts - Four doubles a cell, the last of them nothing. Unknown ones are overwritten.
 * @param tolerance - By how much a cell may still be off the mean of its neighbours. */
export function solveMembranes(lifts: Float64Array, domain: Domain, tolerance: number): void {
  const grids = gridsOf(domain);
  const right = new Float64Array(domain.cells.length);
  const residual = new Float64Array(right.length);
  const planes = COLOURS.map((colour) => right.map((_, i) => lifts[CHANNELS * i + colour]));
  for (const plane of planes) fillUnknown(plane, domain);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    for (const plane of planes) cycle(grids, 0, plane, right);
    if (planes.every((plane) => residualOf(domain, plane, right, residual) <= 4 * tolerance)) break;
  }
  for (const [colour, plane] of planes.entries())
    for (let i = 0; i < plane.length; i++) lifts[CHANNELS * i + colour] = plane[i];
}

const padded = (bytes: number): number => Math.ceil(bytes / 16) * 16;
const liftBytes = (cells: number): number => CHANNELS * Float64Array.BYTES_PER_ELEMENT * cells;

/** Bytes that the compiled kernel takes for grids. */
export function membraneRoom(width: number, height: number): number {
  let bytes = 512 + padded(width * height);
  for (let [w, h] = [width, height]; Math.min(w, h) > NARROWEST; ) {
    [w, h] = [Math.ceil(w / 2), Math.ceil(h / 2)];
    bytes += padded(w * h) + 2 * liftBytes(w * h);
  }
  return bytes;
}

/** Bytes of what the kernel works on: lifts, cells, and all with its room. */
export function membraneBytes(width: number, height: number): { lifts: number; cells: number; all: number } {
  const [lifts, cells] = [liftBytes(width * height), padded(width * height)];
  return { lifts, cells, all: lifts + cells + membraneRoom(width, height) };
}

/** In shared memory: with room as {@link membraneRoom} tells. */
export const solveMembranesKernel = defineKernel(
  (
    lifts: Float64Array,
    cells: Uint8Array,
    width: number,
    height: number,
    tolerance: number,
    _room: Uint8ClampedArray,
  ) => solveMembranes(lifts, { cells, width, height }, tolerance),
)({
  compiled: ['membrane'],
  bind:
    ({ wasm }) =>
    (lifts, cells, width, height, tolerance, room) =>
      void wasm.membrane(addressOf(lifts), addressOf(cells), width, height, tolerance, addressOf(room)),
  samples: {
    'a membrane': (make) => holes(make, 45, 38, false),
    'a membrane at the edge of the picture': (make) => holes(make, 23, 40, true),
  },
});

/** A disc to be found, some of it beyond the picture if it lies at its edge. */
function holes(make: SampleMaker, width: number, height: number, isAtEdge: boolean) {
  const cells = make.bytesOf(width * height, (i) => {
    const [x, y] = [(i % width) - width / 2, Math.floor(i / width) - height / 2];
    if (isAtEdge && x > width / 4) return BEYOND;
    return Math.hypot(x, y) < Math.min(width, height) / 2 - (isAtEdge ? 0 : 1) ? UNKNOWN : 0;
  });
  const room = make.arena.bytes(membraneRoom(width, height));
  const lifts = make.doubles(CHANNELS * width * height);
  for (let i = CHANNELS - 1; i < lifts.length; i += CHANNELS) lifts[i] = 0;
  return [lifts, cells, width, height, 0.002, room] as [
    ...[lifts: Float64Array, cells: Uint8Array, width: number, height: number, tolerance: number],
    Uint8ClampedArray,
  ];
}

/** Unknown cells begin at the mean of those that are held beside them. */
function fillUnknown(plane: Float64Array, { cells, width }: Domain): void {
  let [sum, count] = [0, 0];
  for (let i = 0; i < cells.length; i++) {
    if (cells[i] !== 0) continue;
    const isBeside = [i - 1, i + 1, i - width, i + width].some((at) => cells[at] === UNKNOWN);
    if (!isBeside) continue;
    sum += plane[i];
    count++;
  }
  const mean = count > 0 ? sum / count : 0;
  for (let i = 0; i < cells.length; i++) if (cells[i] === UNKNOWN) plane[i] = mean;
}

/** A grid and those of half its width each; a coarse cell is unknown where all that it covers is. */
function gridsOf(domain: Domain): Domain[] {
  const grids = [domain];
  for (let fine = domain; Math.min(fine.width, fine.height) > NARROWEST; ) {
    const [width, height] = [Math.ceil(fine.width / 2), Math.ceil(fine.height / 2)];
    const cells = new Uint8Array(width * height);
    let isAny = false;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const at = 2 * y * fine.width + 2 * x;
        const isWhole = 2 * x + 1 < fine.width && 2 * y + 1 < fine.height;
        if (!isWhole) continue;
        const isUnknown = (i: number) => fine.cells[i] === UNKNOWN && fine.cells[i + 1] === UNKNOWN;
        if (!isUnknown(at) || !isUnknown(at + fine.width)) continue;
        cells[y * width + x] = UNKNOWN;
        isAny = true;
      }
    if (!isAny) break;
    fine = { cells, width, height };
    grids.push(fine);
  }
  return grids;
}

/** One V-cycle: relax, correct by the coarser grid, relax again. */
function cycle(grids: readonly Domain[], level: number, plane: Float64Array, right: Float64Array): void {
  const domain = grids[level];
  const isLast = level === grids.length - 1;
  for (let sweep = 0; sweep < (isLast ? LAST_SWEEPS : SWEEPS); sweep++) relax(domain, plane, right);
  if (isLast) return;
  const coarse = grids[level + 1];
  const residual = new Float64Array(plane.length);
  residualOf(domain, plane, right, residual);
  const [below, correction] = [new Float64Array(coarse.cells.length), new Float64Array(coarse.cells.length)];
  for (let y = 0; y < coarse.height; y++)
    for (let x = 0; x < coarse.width; x++) {
      const to = y * coarse.width + x;
      if (coarse.cells[to] !== UNKNOWN) continue;
      const at = 2 * y * domain.width + 2 * x;
      // Cells are twice as wide: four times the mean, which is the sum.
      below[to] = residual[at] + residual[at + 1] + residual[at + domain.width] + residual[at + domain.width + 1];
    }
  cycle(grids, level + 1, correction, below);
  for (let y = 0; y < coarse.height; y++)
    for (let x = 0; x < coarse.width; x++) {
      const by = correction[y * coarse.width + x];
      if (by === 0) continue;
      const at = 2 * y * domain.width + 2 * x;
      plane[at] += by;
      plane[at + 1] += by;
      plane[at + domain.width] += by;
      plane[at + domain.width + 1] += by;
    }
  for (let sweep = 0; sweep < SWEEPS; sweep++) relax(domain, plane, right);
}

/** One sweep over unknown cells, in two colours (Gauss and Seidel). */
function relax(domain: Domain, plane: Float64Array, right: Float64Array): void {
  const { width, height } = domain;
  const { runs, edge } = cellsOf(domain);
  for (let colour = 0; colour < 2; colour++) {
    for (let run = 0; run < runs.length; run += RUN_NUMBERS) {
      const end = runs[run + 1];
      for (let i = runs[run] + (runs[run + 2] ^ colour); i < end; i += 2)
        plane[i] = (plane[i - 1] + plane[i + 1] + plane[i - width] + plane[i + width] + right[i]) / 4;
    }
    for (const i of edge[colour]) plane[i] = relaxedAt(i, domain, plane, right, width, height);
  }
}

function relaxedAt(
  i: number,
  { cells }: Domain,
  plane: Float64Array,
  right: Float64Array,
  width: number,
  height: number,
): number {
  const [x, y] = [i % width, Math.floor(i / width)];
  let [sum, count] = [0, 0];
  const take = (at: number) => {
    if (cells[at] === BEYOND) return;
    sum += plane[at];
    count++;
  };
  if (x > 0) take(i - 1);
  if (x + 1 < width) take(i + 1);
  if (y > 0) take(i - width);
  if (y + 1 < height) take(i + width);
  return count > 0 ? (sum + right[i]) / count : plane[i];
}

interface Cells {
  /** Unknown ones with four neighbours that pull, as runs within rows: the first, one past the last, and the colour of the first. */
  runs: Int32Array;
  /** Others, at the border of the picture, in two colours. */
  edge: readonly [Int32Array, Int32Array];
}
const RUN_NUMBERS = 3;

const known = new WeakMap<Domain, Cells>();

function cellsOf(domain: Domain): Cells {
  const made = known.get(domain) ?? findCells(domain);
  known.set(domain, made);
  return made;
}

function findCells({ cells, width, height }: Domain): Cells {
  const runs: number[] = [];
  const edge: [number[], number[]] = [[], []];
  let end = -1;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (cells[i] !== UNKNOWN) continue;
      const isInner =
        x > 0 &&
        y > 0 &&
        x + 1 < width &&
        y + 1 < height &&
        cells[i - 1] !== BEYOND &&
        cells[i + 1] !== BEYOND &&
        cells[i - width] !== BEYOND &&
        cells[i + width] !== BEYOND;
      if (!isInner) edge[(x + y) & 1].push(i);
      else if (i === end) runs[runs.length - 2] = ++end;
      else {
        end = i + 1;
        runs.push(i, end, (x + y) & 1);
      }
    }
  return { runs: Int32Array.from(runs), edge: [Int32Array.from(edge[0]), Int32Array.from(edge[1])] };
}

/** What is left of each cell against its neighbours.
 * @returns The most. */
function residualOf(domain: Domain, plane: Float64Array, right: Float64Array, out: Float64Array): number {
  const { cells, width, height } = domain;
  const { runs, edge } = cellsOf(domain);
  let most = 0;
  out.fill(0);
  for (let run = 0; run < runs.length; run += RUN_NUMBERS)
    for (let i = runs[run]; i < runs[run + 1]; i++) {
      const rest = plane[i - 1] + plane[i + 1] + plane[i - width] + plane[i + width] - 4 * plane[i] + right[i];
      out[i] = rest;
      most = Math.max(most, Math.abs(rest));
    }
  for (const list of edge)
    for (const i of list) {
      const [x, y] = [i % width, Math.floor(i / width)];
      const pull = (isThere: boolean, at: number) => (isThere && cells[at] !== BEYOND ? plane[at] - plane[i] : 0);
      const across = pull(x > 0, i - 1) + pull(x + 1 < width, i + 1);
      out[i] = right[i] + across + pull(y > 0, i - width) + pull(y + 1 < height, i + width);
      most = Math.max(most, Math.abs(out[i]));
    }
  return most;
}
