import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { openPixels, testKernels } from '../../tests/smallScene.ts';
import { TileSlab } from '../raster/tileSlab.ts';
import { simdKernels } from './kernels.ts';
import { type Domain, membraneRoom, solveMembranes } from './membrane.ts';

const { memory } = openPixels(2 ** 20);
const { exports } = new WebAssembly.Instance(testKernels, { env: { memory } });
const arena = new TileSlab(memory).arena(0);

/** By the kernel, on copies in shared memory. */
function byKernel(lifts: Float64Array, { cells, width, height }: Domain, tolerance: number): Float64Array {
  arena.clear();
  const kernels = simdKernels(exports as never, arena);
  const [own, room] = [arena.doubles(lifts.length), arena.bytes(membraneRoom(width, height))];
  const { buffer, byteOffset } = arena.bytes(cells.length);
  const held = new Uint8Array(buffer, byteOffset, cells.length);
  own.set(lifts);
  held.set(cells);
  kernels.solveMembranes(own, held, width, height, tolerance, room);
  return Float64Array.from(own);
}

/** A hole of any shape, some of whose planes end at the picture's edge. */
function holeOf(chance: () => number, round: number, least: number, more: number): Domain {
  const [width, height] = [least + Math.floor(more * chance()), least + Math.floor(more * chance())];
  const [x, y] = [width * (0.3 + 0.4 * chance()), height * (0.3 + 0.4 * chance())];
  const radius = (least / 12) * (3 + 8 * chance());
  const cells = Uint8Array.from({ length: width * height }, (_, i) => {
    const [column, line] = [i % width, Math.floor(i / width)];
    if (round % 3 === 2 && column > width - 4) return 2;
    const isEdge = column === 0 || line === 0 || column === width - 1 || line === height - 1;
    return !isEdge && Math.hypot(column - x, line - y) < radius ? 1 : 0;
  });
  return { cells, width, height };
}

const liftsOf = (chance: () => number, { cells }: Domain) =>
  Float64Array.from({ length: 4 * cells.length }, (_, i) => (i % 4 === 3 ? 0 : 65535 * chance()));

describe('a membrane', () => {
  /** The same by elimination: a row for each unknown cell. */
  function directly(plane: Float64Array, { cells, width, height }: Domain): Float64Array {
    const unknown = [...cells.keys()].filter((i) => cells[i] === 1);
    const row = new Map(unknown.map((i, k) => [i, k]));
    const matrix = unknown.map(() => new Float64Array(unknown.length + 1));
    for (const [k, i] of unknown.entries()) {
      const [x, y] = [i % width, Math.floor(i / width)];
      const beside = [
        ...(x > 0 ? [i - 1] : []),
        ...(x + 1 < width ? [i + 1] : []),
        ...(y > 0 ? [i - width] : []),
        ...(y + 1 < height ? [i + width] : []),
      ].filter((at) => cells[at] !== 2);
      matrix[k][k] = beside.length;
      for (const at of beside) {
        const other = row.get(at);
        if (other === undefined) matrix[k][unknown.length] += plane[at];
        else matrix[k][other] -= 1;
      }
    }
    for (let i = 0; i < unknown.length; i++)
      for (let k = i + 1; k < unknown.length; k++) {
        const by = matrix[k][i] / matrix[i][i];
        if (by !== 0) for (let c = i; c <= unknown.length; c++) matrix[k][c] -= by * matrix[i][c];
      }
    const found = new Float64Array(unknown.length);
    for (let i = unknown.length - 1; i >= 0; i--) {
      let sum = matrix[i][unknown.length];
      for (let c = i + 1; c < unknown.length; c++) sum -= matrix[i][c] * found[c];
      found[i] = sum / matrix[i][i];
    }
    const out = Float64Array.from(plane);
    for (const [k, i] of unknown.entries()) out[i] = found[k];
    return out;
  }

  it('is that of a direct solver, within 8 of 65,535, whatever the shape of the hole', () => {
    const chance = alea('holes');
    for (let round = 0; round < 12; round++) {
      const domain = holeOf(chance, round, 12, 14);
      const lifts = liftsOf(chance, domain);
      const tolerance = 2 / Math.min(domain.width, domain.height) ** 2;
      const kernel = byKernel(lifts, domain, tolerance);
      const twin = Float64Array.from(lifts);
      solveMembranes(twin, domain, tolerance);
      for (let channel = 0; channel < 3; channel++) {
        const plane = lifts.filter((_, i) => i % 4 === channel);
        const wanted = directly(plane, domain);
        for (const found of [kernel, twin])
          for (const [i, value] of wanted.entries())
            if (domain.cells[i] === 1) expect(Math.abs(found[4 * i + channel] - value)).toBeLessThan(8);
      }
    }
  });

  it('is the same to the bit by the kernel, on many grids, and leaves what is held', () => {
    const chance = alea('many grids');
    for (let round = 0; round < 9; round++) {
      const domain = holeOf(chance, round, 30 + 25 * round, 40);
      const lifts = liftsOf(chance, domain);
      const twin = Float64Array.from(lifts);
      solveMembranes(twin, domain, 0.001);
      const found = byKernel(lifts, domain, 0.001);
      expect(found.every((value, i) => value === twin[i])).toBe(true);
      expect(found.every((value, i) => domain.cells[i >> 2] === 1 || value === lifts[i])).toBe(true);
    }
  });
});
