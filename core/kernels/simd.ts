import type { Arena } from '../raster/arena.ts';
import { TILE } from '../raster/size.ts';
import { type GaussianSteps, gaussianSteps, PASSES } from './boxBlur.ts';
import { BEGINS, FULL } from './coreFill.ts';
import type { GuidedArea } from './guidedFilter.ts';
import type { Join } from './joinCoverage.ts';
import type { KernelExports } from './kernelExports.ts';
import type { CoarseCoverage, Kernels } from './kernels.ts';
import { LAB_UNIT } from './nearColour.ts';

const JOINS: readonly Join[] = ['add', 'subtract', 'intersect', 'exclude'];
const RECORD_WORDS = 8;
/** Layers that there is room for at first; for more, room is made. */
const LAYERS = 64;
/** Floats of three strips that a composite takes at a time. */
const STRIPS_FLOATS = 3 * 512;
/** Floats that enlarging takes to itself: places and fractions of a tile's columns, and a row of the widest area; boxes take a row. */
const LINE_FLOATS = 2 * TILE + 512;

/** Where a plane lies.
 * @throws {RangeError} when it is not in shared memory, where alone the kernels can reach it. */
function address(plane: Float32Array | Uint16Array | Uint32Array | Uint8ClampedArray | Uint8Array): number {
  if (!(plane.buffer instanceof SharedArrayBuffer)) throw new RangeError('The plane does not lie in shared memory');
  return plane.byteOffset;
}

const addressOrNull = (plane: Uint16Array | number): number => (typeof plane === 'number' ? 0 : address(plane));
const constantOf = (plane: Uint16Array | number): number => (typeof plane === 'number' ? plane : 0);

const floatsOver = ({ buffer, byteOffset, length }: Uint32Array) => new Float32Array(buffer, byteOffset, length);

/** What is painted with a coarser coverage, as the kernels are told. */
const paintOf = (
  { area, side, offset, step }: CoarseCoverage,
  target: number,
  strength: number,
  stencil: Uint16Array | number,
) => [address(area), side, offset, step, target, strength, addressOrNull(stencil), constantOf(stencil)] as const;

/** The SIMD kernels of an instance that works on the shared memory.
 * @param arena - Of this thread; a little of it holds what kernels are told. */
export function simdKernels(wasm: KernelExports, arena: Arena): Kernels {
  let records = arena.words(LAYERS * RECORD_WORDS);
  const line = arena.floats(LINE_FLOATS);
  const row = arena.floats(TILE);
  const strips = arena.floats(STRIPS_FLOATS);
  let factors = floatsOver(records);
  /** Room for some layers. What kernels are told is read before they return, so the room before can be forgotten. */
  const makeRoom = (layers: number) => {
    if (layers * RECORD_WORDS <= records.length) return;
    records = arena.words(Math.max(layers * RECORD_WORDS, 2 * records.length));
    factors = floatsOver(records);
  };
  return {
    composite(base, layers, out) {
      makeRoom(layers.length);
      const floats = (base[0] instanceof Float32Array ? 1 : 0) + (out[0] instanceof Float32Array ? 2 : 0);
      for (const [index, { upper, mask, opacity }] of layers.entries()) {
        const at = index * RECORD_WORDS;
        for (let channel = 0; channel < 3; channel++) records[at + channel] = address(upper[channel]);
        records[at + 3] = addressOrNull(mask);
        factors[at + 4] = (opacity / 65535) * (typeof mask === 'number' ? mask : 1);
      }
      const below = [address(base[0]), address(base[1]), address(base[2])] as const;
      const to = [address(out[0]), address(out[1]), address(out[2])] as const;
      wasm.composite(...below, records.byteOffset, layers.length, ...to, base[0].length, floats, strips.byteOffset);
    },
    widen: (samples, out) => wasm.widen(address(samples), address(out), samples.length),
    widenRows: (samples, out, { from, stride, to, outStride, width, rows }) =>
      wasm.widenRows(address(samples) + 2 * from, 2 * stride, address(out) + 4 * to, 4 * outStride, width, rows),
    narrow: (values, out) => wasm.narrow(address(values), address(out), values.length),
    uniformValue: (samples) => wasm.uniform(address(samples), samples.length),
    joinCoverage: (join, mask, part, alpha = part) =>
      wasm.join(JOINS.indexOf(join), address(mask), address(part), address(alpha), mask.length),
    joinFromSamples: (join, mask, part) =>
      wasm.joinFromSamples(JOINS.indexOf(join), address(mask), address(part), mask.length),
    findCore: (mean, meanSquare, amount, from) =>
      wasm.findCore(address(mean), address(meanSquare), amount, from, BEGINS, 1 / (FULL - BEGINS), mean.length),
    joinSamples: (join, mask, part, alpha, out) =>
      wasm.joinSamples(JOINS.indexOf(join), address(mask), address(part), address(alpha), address(out), mask.length),
    invert: (plane) => wasm.invert(address(plane), plane.length),
    maxInto: (out, other) => wasm.maxInto(address(out), address(other), out.length),
    layDab(coverage, x, y, radius, hardness, share, flow, near) {
      const [l, a, b] = near ? near.lab.map(address) : [0, 0, 0];
      const [centreL, centreA, centreB] = near ? near.centre : [0, 0, 0];
      const perTolerance = near ? 1 / (near.tolerance * LAB_UNIT) : 0;
      const dab = [x, y, radius, hardness, share, flow] as const;
      wasm.layDab(address(coverage), ...dab, l, a, b, centreL, centreA, centreB, perTolerance);
    },
    paintOver: (value, alpha, coverage, target, strength, stencil, fresh) =>
      wasm.paintOver(
        address(value),
        address(alpha),
        address(coverage),
        target,
        strength,
        addressOrNull(stencil),
        constantOf(stencil),
        value.length,
        fresh ? 1 : 0,
      ),
    paintEnlarged(value, alpha, coverage, target, strength, stencil, fresh) {
      const paint = paintOf(coverage, target, strength, stencil);
      wasm.paintEnlarged(address(value), address(alpha), ...paint, fresh ? 1 : 0, line.byteOffset, row.byteOffset);
    },
    joinEnlarged(mask, coverage, target, strength, stencil, out) {
      const paint = paintOf(coverage, target, strength, stencil);
      return wasm.joinEnlarged(address(mask), address(out), ...paint, line.byteOffset, row.byteOffset);
    },
    luminance: (red, green, blue, [wr, wg, wb], out) =>
      wasm.luminance(address(red), address(green), address(blue), wr, wg, wb, address(out), out.length),
    lookUp(table, samples, out) {
      if (table.length !== 65536) throw new RangeError('A look-up table has 65,536 values');
      wasm.lookUp(address(table), address(samples), address(out), samples.length);
    },
    halveTile: (fine, out, quarterX, quarterY) => wasm.halve(address(fine), address(out), quarterX, quarterY),
    halvePlane: (plane, side, out) => wasm.halvePlane(address(plane), side, address(out)),
    spreadRows(block, stride, bits, planes, width, rows) {
      const [red, green, blue] = planes.map(address);
      const spread = bits === 8 ? wasm.spread8 : wasm.spread16;
      spread(address(block), stride, red, green, blue, width, rows);
    },
    interleave: (red, green, blue, out) =>
      wasm.interleave(address(red), address(green), address(blue), address(out), red.length),
    drawRgba: (red, green, blue, rgba) =>
      wasm.drawRgba(address(red), address(green), address(blue), address(rgba), red.length),
    drawGrey: (plane, rgba) => wasm.drawGrey(address(plane), address(rgba), plane.length),
    tint: (rgba, mask, [red, green, blue], strength) =>
      wasm.tint(address(rgba), addressOrNull(mask), constantOf(mask), red, green, blue, strength, rgba.length / 4),
    countLevels: (plane, width, height, bins) => wasm.countLevels(address(plane), width, height, address(bins)),
    blurPlane(plane, spare, width, height, sigmaPx) {
      const { box, distance, weight } = stepsOf(sigmaPx);
      const [from, to] = [address(plane), address(spare)];
      for (let pass = 0; pass < PASSES; pass++) {
        wasm.boxRows(from, to, width, height, box.radius, box.edge, line.byteOffset);
        wasm.boxColumns(to, from, width, height, box.radius, box.edge);
      }
      wasm.tapRows(from, to, width, height, distance, weight);
      wasm.tapColumns(to, from, width, height, distance, weight);
    },
    enlarge: (area, side, offsetX, offsetY, step, out) =>
      wasm.enlarge(address(area), side, offsetX, offsetY, step, address(out), line.byteOffset),
    fillGradient: (out, start, across, down, profile) =>
      typeof profile === 'string'
        ? wasm.gradient(address(out), start, across, down, 0, profile === 'smooth' ? 1 : 0)
        : wasm.gradient(address(out), start, across, down, address(profile), 0),
    fitGuided: (area, radius, epsilon) => fitGuided(wasm, area, radius, epsilon),
    applyGuided: (slope, offset, stride, guide, out) =>
      wasm.applyLine(
        address(slope),
        address(offset),
        4 * stride,
        addressOrNull(guide),
        constantOf(guide),
        address(out),
      ),
    linearize: (table, samples, out) => wasm.linearize(address(table), address(samples), address(out), samples.length),
    encodeLinear: (knots, values, out) =>
      wasm.encodeLinear(address(knots), address(values), address(out), values.length),
    warpTile(area, side, matrix, weights, out) {
      records.set([...area, ...out].map(address));
      factors.set(matrix, 8);
      wasm.warp(records.byteOffset, side, factors.byteOffset + 32, address(weights));
    },
  };
}

/** Blurs of which the steps are remembered: all tiles of a mask ask for the same. */
const REMEMBERED = 64;
const knownSteps = new Map<number, GaussianSteps>();

function stepsOf(sigmaPx: number): GaussianSteps {
  const known = knownSteps.get(sigmaPx);
  if (known) return known;
  if (knownSteps.size >= REMEMBERED) knownSteps.clear();
  const steps = gaussianSteps(sigmaPx);
  knownSteps.set(sigmaPx, steps);
  return steps;
}

/** Windows of up to this radius are summed anew for every sample. */
const NARROW = 8;

/** The guided filter, see its twin: step by step, or in one go where windows are narrow. */
function fitGuided(wasm: KernelExports, area: GuidedArea, radius: number, epsilon: number): void {
  const { width, height } = area;
  const [guide, mask, slope, offset] = [area.guide, area.mask, area.slope, area.offset].map(address);
  const [meanGuide, meanMask, line] = area.spare.map(address);
  const n = width * height;
  const rows = 6 * (2 * radius + 2) + 4;
  if (radius <= NARROW && width >= 2 * radius + 16 && rows <= height) {
    wasm.fitNarrow(guide, mask, slope, offset, width, height, radius, epsilon, meanGuide);
    return;
  }
  const mean = (plane: number, out: number) => {
    wasm.meanRows(plane, line, width, height, radius);
    wasm.meanColumns(line, out, width, height, radius);
  };
  mean(guide, meanGuide);
  mean(mask, meanMask);
  wasm.multiply(guide, mask, slope, n);
  mean(slope, offset);
  wasm.multiply(guide, guide, mask, n);
  mean(mask, slope);
  wasm.fitLine(meanGuide, meanMask, slope, offset, epsilon, n);
  mean(slope, slope);
  mean(offset, offset);
}
