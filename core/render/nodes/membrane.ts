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
/** Narrower grids are relaxed until they are done. */
const NARROWEST = 6;

/** The surface that a membrane takes over the unknown cells of a plane while it is held at the others: Laplace's equation, as Poisson image
 * editing joins a patch to what surrounds it (Perez, Gangnet and Blake 2003, equation 7), solved by multigrid (Brandt 1977).
 * @param plane - Values where it is held; unknown ones are overwritten.
 * @param tolerance - By how much a cell may still be off the mean of its neighbours. */
export function solveMembrane(plane: Float64Array, domain: Domain, tolerance: number): void {
  const grids = gridsOf(domain);
  const right = new Float64Array(plane.length);
  const residual = new Float64Array(plane.length);
  fillUnknown(plane, domain);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    cycle(grids, 0, plane, right);
    if (residualOf(domain, plane, right, residual) <= 4 * tolerance) return;
  }
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
        const four = [at, at + 1, at + fine.width, at + fine.width + 1];
        if (!four.every((i) => fine.cells[i] === UNKNOWN)) continue;
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
  for (let sweep = 0; sweep < (isLast ? 30 : 2); sweep++) relax(domain, plane, right);
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
      for (const i of [at, at + 1, at + domain.width, at + domain.width + 1]) plane[i] += by;
    }
  for (let sweep = 0; sweep < 2; sweep++) relax(domain, plane, right);
}

/** One sweep over unknown cells, in two colours (Gauss and Seidel). */
function relax({ cells, width, height }: Domain, plane: Float64Array, right: Float64Array): void {
  for (let colour = 0; colour < 2; colour++)
    for (let y = 0; y < height; y++)
      for (let x = (y + colour) & 1, i = y * width + x; x < width; x += 2, i += 2) {
        if (cells[i] !== UNKNOWN) continue;
        let [sum, count] = [0, 0];
        if (x > 0 && cells[i - 1] !== BEYOND) [sum, count] = [sum + plane[i - 1], count + 1];
        if (x + 1 < width && cells[i + 1] !== BEYOND) [sum, count] = [sum + plane[i + 1], count + 1];
        if (y > 0 && cells[i - width] !== BEYOND) [sum, count] = [sum + plane[i - width], count + 1];
        if (y + 1 < height && cells[i + width] !== BEYOND) [sum, count] = [sum + plane[i + width], count + 1];
        if (count > 0) plane[i] = (sum + right[i]) / count;
      }
}

/** What is left of each cell against its neighbours.
 * @returns The most. */
function residualOf(
  { cells, width, height }: Domain,
  plane: Float64Array,
  right: Float64Array,
  out: Float64Array,
): number {
  let most = 0;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      out[i] = 0;
      if (cells[i] !== UNKNOWN) continue;
      let rest = right[i];
      if (x > 0 && cells[i - 1] !== BEYOND) rest += plane[i - 1] - plane[i];
      if (x + 1 < width && cells[i + 1] !== BEYOND) rest += plane[i + 1] - plane[i];
      if (y > 0 && cells[i - width] !== BEYOND) rest += plane[i - width] - plane[i];
      if (y + 1 < height && cells[i + width] !== BEYOND) rest += plane[i + width] - plane[i];
      out[i] = rest;
      most = Math.max(most, Math.abs(rest));
    }
  return most;
}
