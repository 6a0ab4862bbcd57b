import type { Arena } from '../raster/arena.ts';
import { TILE } from '../raster/size.ts';
import { extendedBox } from './boxBlur.ts';
import type { Join } from './joinCoverage.ts';
import type { Kernels } from './kernels.ts';

/** What the compiled module of `core/assembly` exports; addresses in bytes. */
export interface KernelExports {
  composite(
    red: number,
    green: number,
    blue: number,
    layers: number,
    count: number,
    outRed: number,
    outGreen: number,
    outBlue: number,
    n: number,
    floats: number,
  ): void;
  widen(samples: number, out: number, n: number): void;
  narrow(values: number, out: number, n: number): number;
  uniform(samples: number, n: number): number;
  join(mode: number, mask: number, part: number, hold: number, n: number): void;
  invert(plane: number, n: number): void;
  layDab(coverage: number, x: number, y: number, radius: number, hardness: number, share: number, flow: number): void;
  paintOver(
    value: number,
    hold: number,
    coverage: number,
    target: number,
    strength: number,
    stencil: number,
    constant: number,
    n: number,
    fresh: number,
  ): void;
  luminance(red: number, green: number, blue: number, wr: number, wg: number, wb: number, out: number, n: number): void;
  lookUp(table: number, samples: number, out: number, n: number): void;
  halve(fine: number, out: number, quarterX: number, quarterY: number): void;
  spread8(block: number, stride: number, red: number, green: number, blue: number, width: number, rows: number): void;
  spread16(block: number, stride: number, red: number, green: number, blue: number, width: number, rows: number): void;
  interleave(red: number, green: number, blue: number, out: number, n: number): void;
  drawRgba(red: number, green: number, blue: number, out: number, n: number): void;
  drawGrey(plane: number, out: number, n: number): void;
  tint(
    rgba: number,
    mask: number,
    constant: number,
    red: number,
    green: number,
    blue: number,
    strength: number,
    n: number,
  ): void;
  countLevels(plane: number, width: number, height: number, bins: number): void;
  enlarge(area: number, side: number, offsetX: number, offsetY: number, step: number, out: number, spare: number): void;
  boxRows(plane: number, out: number, width: number, height: number, radius: number, edge: number): void;
  boxColumns(plane: number, out: number, width: number, height: number, radius: number, edge: number): void;
}

const JOINS: readonly Join[] = ['add', 'subtract', 'intersect', 'exclude'];
type Planes = readonly (Uint16Array | Float32Array)[];
const RECORD_WORDS = 8;
const MAX_LAYERS = 64;
/** Floats that enlarging takes to itself: places and fractions of a tile's columns, and a row of the widest area. */
const LINE_FLOATS = 2 * TILE + 512;

/** Where a plane lies.
 * @throws {RangeError} when it is not in shared memory, where alone the kernels can reach it. */
function address(plane: Float32Array | Uint16Array | Uint32Array | Uint8ClampedArray | Uint8Array): number {
  if (!(plane.buffer instanceof SharedArrayBuffer)) throw new RangeError('The plane does not lie in shared memory');
  return plane.byteOffset;
}

const addressOrNull = (plane: Uint16Array | number): number => (typeof plane === 'number' ? 0 : address(plane));
const constantOf = (plane: Uint16Array | number): number => (typeof plane === 'number' ? plane : 0);

/** The SIMD kernels of an instance that works on the shared memory.
 * @param arena - Of this thread; a little of it holds what kernels are told. */
export function simdKernels(wasm: KernelExports, arena: Arena): Kernels {
  const records = arena.words(MAX_LAYERS * RECORD_WORDS);
  const line = arena.floats(LINE_FLOATS);
  const factors = new Float32Array(records.buffer, records.byteOffset, records.length);
  return {
    composite(base, layers, out) {
      if (layers.length > MAX_LAYERS) throw new RangeError(`More than ${MAX_LAYERS} layers`);
      layers.forEach(({ upper, mask, opacity }, index) => {
        const at = index * RECORD_WORDS;
        for (let channel = 0; channel < 3; channel++) records[at + channel] = address(upper[channel]);
        records[at + 3] = addressOrNull(mask);
        factors[at + 4] = (opacity / 65535) * (typeof mask === 'number' ? mask : 1);
      });
      const [red, green, blue] = (base as Planes).map(address);
      const [outRed, outGreen, outBlue] = (out as Planes).map(address);
      const floats = (base[0] instanceof Float32Array ? 1 : 0) + (out[0] instanceof Float32Array ? 2 : 0);
      const { byteOffset } = records;
      wasm.composite(red, green, blue, byteOffset, layers.length, outRed, outGreen, outBlue, base[0].length, floats);
    },
    widen: (samples, out) => wasm.widen(address(samples), address(out), samples.length),
    narrow: (values, out) => wasm.narrow(address(values), address(out), values.length),
    uniformValue: (samples) => wasm.uniform(address(samples), samples.length),
    joinCoverage: (join, mask, part, hold = part) =>
      wasm.join(JOINS.indexOf(join), address(mask), address(part), address(hold), mask.length),
    invert: (plane) => wasm.invert(address(plane), plane.length),
    layDab: (coverage, ...dab) => wasm.layDab(address(coverage), ...dab),
    paintOver: (value, hold, coverage, target, strength, stencil, fresh) =>
      wasm.paintOver(
        address(value),
        address(hold),
        address(coverage),
        target,
        strength,
        addressOrNull(stencil),
        constantOf(stencil),
        value.length,
        fresh ? 1 : 0,
      ),
    luminance: (red, green, blue, [wr, wg, wb], out) =>
      wasm.luminance(address(red), address(green), address(blue), wr, wg, wb, address(out), out.length),
    lookUp(table, samples, out) {
      if (table.length !== 65536) throw new RangeError('A look-up table has 65,536 values');
      wasm.lookUp(address(table), address(samples), address(out), samples.length);
    },
    halveTile: (fine, out, quarterX, quarterY) => wasm.halve(address(fine), address(out), quarterX, quarterY),
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
      const { radius, edge } = extendedBox(sigmaPx);
      for (let pass = 0; pass < 3; pass++) {
        wasm.boxRows(address(plane), address(spare), width, height, radius, edge);
        wasm.boxColumns(address(spare), address(plane), width, height, radius, edge);
      }
    },
    enlarge: (area, side, offsetX, offsetY, step, out) =>
      wasm.enlarge(address(area), side, offsetX, offsetY, step, address(out), line.byteOffset),
  };
}
