import { TILE } from '../raster/size.ts';
import { address, addressOf, defineKernel } from './defineKernel.ts';
import type { SampleMaker } from './sampleMaker.ts';

/** Spreads a block of interleaved RGB over three tile planes.
 * @param block - Bytes of the block, from the first sample of its first row: one byte a sample, or two (low byte first).
 * @param stride - Bytes from one row to the next.
 * @param bits - 8 or 16; 8-bit values become 257 times themselves, so that 255 becomes 65,535.
 * @param planes - Red, green and blue, from the row of the tile where the block begins.
 * @param width - Pixels of a row, up to a tile's side. */
export function spreadRows(
  block: Uint8Array,
  stride: number,
  bits: 8 | 16,
  planes: readonly [Uint16Array, Uint16Array, Uint16Array],
  width: number,
  rows: number,
): void {
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      for (let channel = 0; channel < 3; channel++) {
        const sample = 3 * x + channel;
        const at = y * stride + (bits === 8 ? sample : 2 * sample);
        planes[channel][y * TILE + x] = bits === 8 ? block[at] * 257 : block[at] | (block[at + 1] << 8);
      }
    }
  }
}

export const spreadRowsKernel = defineKernel(spreadRows)({
  compiled: ['spread8', 'spread16'],
  bind:
    ({ wasm }) =>
    (block, stride, bits, planes, width, rows) => {
      const [red, green, blue] = planes.map(address);
      const spread = bits === 8 ? wasm.spread8 : wasm.spread16;
      spread(addressOf(block), stride, red, green, blue, width, rows);
    },
  samples: {
    'spreading rows, 8 bits': (make) => [blockOf(make), 384, 8, make.rgb(), 128, 128],
    'spreading rows, 16 bits': (make) => [blockOf(make), 768, 16, make.rgb(), 128, 64],
  },
});

function blockOf(make: SampleMaker): Uint8Array {
  const { buffer, byteOffset, length } = make.bytes(TILE * TILE * 3);
  return new Uint8Array(buffer, byteOffset, length);
}
