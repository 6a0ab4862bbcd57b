/** What a cell is: unknown with four neighbours that pull, beyond the picture, or unknown beside such or at the border. */
const INNER: u8 = 1;
const BEYOND: u8 = 2;
const EDGE: u8 = 3;

/** Those of the twin. */
const MOST_ROUNDS: i32 = 60;
const SWEEPS: i32 = 2;
const LAST_SWEEPS: i32 = 30;
const NARROWEST: i32 = 6;

/** Bytes of a cell: three channels in doubles, and one that pads them. */
const CELL: usize = 32;
const GRID: usize = 32;
const MOST_GRIDS: usize = 16;

/** A grid, or one of half its width; `right` is 0 where nothing but the neighbours pulls. */
@unmanaged
class Grid {
  cells: usize;
  values: usize;
  right: usize;
  width: i32;
  height: i32;
  isLast: bool;
}

// @ts-ignore: decorator
@inline
function gridAt(room: usize, level: usize): Grid {
  return changetype<Grid>(room + level * GRID);
}

/** Membranes over three channels at once, see the twin.
 * @param lifts - Four doubles a cell, the last of them nothing.
 * @param room - As many bytes as the twin's `roomFor` tells. */
export function membrane(
  lifts: usize,
  cells: usize,
  width: i32,
  height: i32,
  tolerance: f64,
  room: usize,
): void {
  let free = room + MOST_GRIDS * GRID;
  const first = gridAt(room, 0);
  first.cells = free;
  first.values = lifts;
  first.right = 0;
  first.width = width;
  first.height = height;
  memory.copy(free, cells, <usize>(width * height));
  free = (free + <usize>(width * height) + 15) & ~15;
  let level: usize = 0;
  for (;;) {
    const fine = gridAt(room, level);
    fine.isLast = min(fine.width, fine.height) <= NARROWEST;
    if (!fine.isLast) {
      const coarse = gridAt(room, level + 1);
      coarse.width = (fine.width + 1) >> 1;
      coarse.height = (fine.height + 1) >> 1;
      const count = <usize>(coarse.width * coarse.height);
      coarse.cells = free;
      coarse.values = (free + count + 15) & ~15;
      coarse.right = coarse.values + count * CELL;
      free = coarse.right + count * CELL;
      fine.isLast = !findCoarse(fine, coarse);
    }
    findEdges(fine);
    if (fine.isLast) break;
    level++;
  }
  fillUnknown(first);
  let round = 0;
  do {
    cycle(room, 0);
    round++;
  } while (round < MOST_ROUNDS && mostLeft(first) > 4 * tolerance);
}

/** A coarse cell is unknown where all that it covers is. */
function findCoarse(fine: Grid, coarse: Grid): bool {
  let isAny = false;
  let to = coarse.cells;
  for (let y = 0; y < coarse.height; y++)
    for (let x = 0; x < coarse.width; x++, to++) {
      let isUnknown = false;
      if (2 * x + 1 < fine.width && 2 * y + 1 < fine.height) {
        const at = fine.cells + <usize>(2 * y * fine.width + 2 * x);
        isUnknown = load<u16>(at) == 0x0101 && load<u16>(at + fine.width) == 0x0101;
      }
      store<u8>(to, isUnknown ? 1 : 0);
      if (isUnknown) isAny = true;
    }
  return isAny;
}

/** Tells unknown cells beside those that do not pull from the others. */
function findEdges(grid: Grid): void {
  const width = grid.width;
  const height = grid.height;
  let at = grid.cells;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) {
      if (load<u8>(at) != INNER) continue;
      const isInner =
        x > 0 &&
        y > 0 &&
        x + 1 < width &&
        y + 1 < height &&
        load<u8>(at - 1) != BEYOND &&
        load<u8>(at + 1) != BEYOND &&
        load<u8>(at - width) != BEYOND &&
        load<u8>(at + width) != BEYOND;
      if (!isInner) store<u8>(at, EDGE);
    }
}

// @ts-ignore: decorator
@inline
function isUnknown(cell: u8): bool {
  return (cell & 1) != 0;
}

/** Unknown cells begin at the mean of those that are held beside them. */
function fillUnknown(grid: Grid): void {
  const cells = grid.cells;
  const width = grid.width;
  const count = width * grid.height;
  let low = f64x2.splat(0);
  let high = f64x2.splat(0);
  let held = 0;
  for (let i = 0; i < count; i++) {
    const at = cells + i;
    if (load<u8>(at)) continue;
    const isBeside =
      (i > 0 && isUnknown(load<u8>(at - 1))) ||
      (i + 1 < count && isUnknown(load<u8>(at + 1))) ||
      (i >= width && isUnknown(load<u8>(at - width))) ||
      (i + width < count && isUnknown(load<u8>(at + width)));
    if (!isBeside) continue;
    const value = grid.values + <usize>i * CELL;
    low = f64x2.add(low, v128.load(value));
    high = f64x2.add(high, v128.load(value, 16));
    held++;
  }
  if (held > 0) {
    low = f64x2.div(low, f64x2.splat(<f64>held));
    high = f64x2.div(high, f64x2.splat(<f64>held));
  }
  let value = grid.values;
  for (let i = 0; i < count; i++, value += CELL) {
    if (!isUnknown(load<u8>(cells + i))) continue;
    v128.store(value, low);
    v128.store(value, high, 16);
  }
}

/** One V-cycle: relax, correct by the coarser grid, relax again. */
function cycle(room: usize, level: usize): void {
  const grid = gridAt(room, level);
  let sweeps = grid.isLast ? LAST_SWEEPS : SWEEPS;
  while (sweeps-- > 0) relax(grid);
  if (grid.isLast) return;
  const coarse = gridAt(room, level + 1);
  memory.fill(coarse.values, 0, <usize>(coarse.width * coarse.height) * CELL);
  gatherRest(grid, coarse);
  cycle(room, level + 1);
  correct(grid, coarse);
  sweeps = SWEEPS;
  while (sweeps-- > 0) relax(grid);
}

/** One sweep over unknown cells, in two colours. */
function relax(grid: Grid): void {
  const cells = grid.cells;
  const right = grid.right;
  const width = grid.width;
  const height = grid.height;
  const row = <usize>width * CELL;
  const quarter = f64x2.splat(0.25);
  for (let colour = 0; colour < 2; colour++)
    for (let y = 0; y < height; y++) {
      const line = y * width;
      for (let x = (y + colour) & 1; x < width; x += 2) {
        const cell = load<u8>(cells + line + x);
        if (!isUnknown(cell)) continue;
        const from = <usize>(line + x) * CELL;
        const at = grid.values + from;
        if (cell == EDGE) {
          relaxEdge(grid, x, y, at, right ? right + from : 0);
          relaxEdge(grid, x, y, at + 16, right ? right + from + 16 : 0);
          continue;
        }
        let low = f64x2.add(v128.load(at - CELL), v128.load(at, 32));
        let high = f64x2.add(v128.load(at - CELL, 16), v128.load(at, 48));
        low = f64x2.add(f64x2.add(low, v128.load(at - row)), v128.load(at + row));
        high = f64x2.add(f64x2.add(high, v128.load(at - row, 16)), v128.load(at + row, 16));
        if (right) {
          low = f64x2.add(low, v128.load(right + from));
          high = f64x2.add(high, v128.load(right + from, 16));
        }
        v128.store(at, f64x2.mul(low, quarter));
        v128.store(at, f64x2.mul(high, quarter), 16);
      }
    }
}

/** Two channels of a cell some of whose neighbours do not pull. */
function relaxEdge(grid: Grid, x: i32, y: i32, at: usize, right: usize): void {
  const width = grid.width;
  const cell = grid.cells + y * width + x;
  const row = <usize>width * CELL;
  let sum = f64x2.splat(0);
  let count = 0;
  if (x > 0 && load<u8>(cell - 1) != BEYOND) (sum = f64x2.add(sum, v128.load(at - CELL))), count++;
  if (x + 1 < width && load<u8>(cell + 1) != BEYOND) (sum = f64x2.add(sum, v128.load(at + CELL))), count++;
  if (y > 0 && load<u8>(cell - width) != BEYOND) (sum = f64x2.add(sum, v128.load(at - row))), count++;
  if (y + 1 < grid.height && load<u8>(cell + width) != BEYOND) (sum = f64x2.add(sum, v128.load(at + row))), count++;
  if (right) sum = f64x2.add(sum, v128.load(right));
  if (count > 0) v128.store(at, f64x2.div(sum, f64x2.splat(<f64>count)));
}

/** What is left of two channels of an unknown cell against its neighbours. */
// @ts-ignore: decorator
@inline
function restOf(grid: Grid, i: i32, half: usize): v128 {
  const width = grid.width;
  const right = grid.right;
  const from = <usize>i * CELL + half;
  const at = grid.values + from;
  const row = <usize>width * CELL;
  if (load<u8>(grid.cells + i) == EDGE) return restOfEdge(grid, i, at, right ? right + from : 0);
  let sum = f64x2.add(v128.load(at - CELL), v128.load(at + CELL));
  sum = f64x2.add(f64x2.add(sum, v128.load(at - row)), v128.load(at + row));
  sum = f64x2.sub(sum, f64x2.mul(f64x2.splat(4), v128.load(at)));
  return right ? f64x2.add(sum, v128.load(right + from)) : sum;
}

function restOfEdge(grid: Grid, i: i32, at: usize, right: usize): v128 {
  const width = grid.width;
  const x = i % width;
  const cell = grid.cells + i;
  const row = <usize>width * CELL;
  const own = v128.load(at);
  let across = f64x2.splat(0);
  let rest = right ? v128.load(right) : f64x2.splat(0);
  if (x > 0 && load<u8>(cell - 1) != BEYOND) across = f64x2.sub(v128.load(at - CELL), own);
  if (x + 1 < width && load<u8>(cell + 1) != BEYOND)
    across = f64x2.add(across, f64x2.sub(v128.load(at + CELL), own));
  rest = f64x2.add(rest, across);
  if (i >= width && load<u8>(cell - width) != BEYOND) rest = f64x2.add(rest, f64x2.sub(v128.load(at - row), own));
  if (i + width < width * grid.height && load<u8>(cell + width) != BEYOND)
    rest = f64x2.add(rest, f64x2.sub(v128.load(at + row), own));
  return rest;
}

/** Coarse cells take what is left of the four that they cover: they are twice as wide, so four times the mean, which is the sum. */
function gatherRest(grid: Grid, coarse: Grid): void {
  const width = grid.width;
  let to = 0;
  for (let y = 0; y < coarse.height; y++)
    for (let x = 0; x < coarse.width; x++, to++) {
      if (!isUnknown(load<u8>(coarse.cells + to))) continue;
      const i = 2 * y * width + 2 * x;
      const out = coarse.right + <usize>to * CELL;
      for (let half: usize = 0; half < CELL; half += 16) {
        const upper = f64x2.add(restOf(grid, i, half), restOf(grid, i + 1, half));
        const lower = f64x2.add(upper, restOf(grid, i + width, half));
        v128.store(out + half, f64x2.add(lower, restOf(grid, i + width + 1, half)));
      }
    }
}

function correct(grid: Grid, coarse: Grid): void {
  const row = <usize>grid.width * CELL;
  let to = 0;
  for (let y = 0; y < coarse.height; y++)
    for (let x = 0; x < coarse.width; x++, to++) {
      if (!isUnknown(load<u8>(coarse.cells + to))) continue;
      for (let half: usize = 0; half < CELL; half += 16) {
        const by = v128.load(coarse.values + <usize>to * CELL + half);
        const at = grid.values + <usize>(2 * y * grid.width + 2 * x) * CELL + half;
        v128.store(at, f64x2.add(v128.load(at), by));
        v128.store(at + CELL, f64x2.add(v128.load(at + CELL), by));
        v128.store(at + row, f64x2.add(v128.load(at + row), by));
        v128.store(at + row + CELL, f64x2.add(v128.load(at + row + CELL), by));
      }
    }
}

/** The most that is left of a cell, of any channel. */
function mostLeft(grid: Grid): f64 {
  const count = grid.width * grid.height;
  let most = f64x2.splat(0);
  for (let i = 0; i < count; i++) {
    if (!isUnknown(load<u8>(grid.cells + i))) continue;
    most = f64x2.pmax(most, f64x2.abs(restOf(grid, i, 0)));
    most = f64x2.pmax(most, f64x2.abs(restOf(grid, i, 16)));
  }
  return max(f64x2.extract_lane(most, 0), f64x2.extract_lane(most, 1));
}
