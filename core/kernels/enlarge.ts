import { TILE } from '../raster/size.ts';
import { address, defineKernel } from './defineKernel.ts';

/** Reads rows of a tile of a finer level out of an area of a coarser one, between its pixels (bilinear).
 * @param area - `side` x `side` samples.
 * @param offsetX - Where the tile's left edge lies in the area, in the area's pixels; likewise `offsetY`, of the first row.
 * @param step - Pixels of the tile for one of the area.
 * @param out - As many rows of a tile as it holds; overwritten in full. */
export function enlarge(
  area: Float32Array,
  side: number,
  offsetX: number,
  offsetY: number,
  step: number,
  out: Float32Array,
): void {
  for (let y = 0; y < out.length / TILE; y++) {
    const sy = (y + 0.5) / step - 0.5 + offsetY;
    const row = Math.floor(sy);
    const fy = sy - row;
    for (let x = 0; x < TILE; x++) {
      const sx = (x + 0.5) / step - 0.5 + offsetX;
      const column = Math.floor(sx);
      const fx = sx - column;
      const at = row * side + column;
      const upper = area[at] + (area[at + 1] - area[at]) * fx;
      const lower = area[at + side] + (area[at + side + 1] - area[at + side]) * fx;
      out[y * TILE + x] = upper + (lower - upper) * fy;
    }
  }
}

export const enlargeKernel = defineKernel(enlarge)({
  compiled: ['enlarge'],
  bind:
    ({ wasm, room }) =>
    (area, side, offsetX, offsetY, step, out) => {
      const rows = out.length / TILE;
      wasm.enlarge(address(area), side, offsetX, offsetY, step, address(out), rows, room.line.byteOffset);
    },
  samples: {
    'enlarging 4 times': (make) => [make.floats(36 * 36), 36, 2, 2, 4, make.floats()],
    'enlarging half a tile 4 times': (make) => [make.floats(36 * 36), 36, 2, 18, 4, make.floats(8192)],
  },
  floats: 1e-5,
});
