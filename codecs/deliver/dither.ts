import alea from 'alea';
import type Vips from 'wasm-vips';
import type { Keep, VipsModule } from '../vipsModule.ts';

/** Side of the piece of noise that is laid over a picture again and again. */
export const NOISE_SIDE = 256;

/** Noise of -1 to 1 level with a triangular spread: with it no mean and no strength of the error depends on the tone
 * (S. Lipshitz, R. Wannamaker, J. Vanderkooy, "Quantization and Dither", 1992). Always the same, so that equal pictures are
 * equal files. */
export function triangularNoise(count: number): Float32Array {
  const random = alea('dither');
  return Float32Array.from({ length: count }, () => random() - random());
}

/** The noise over a whole picture, three channels each of its own. */
export function noiseOver(vips: VipsModule, { width, height }: Vips.Image, keep: Keep): Vips.Image {
  const side = NOISE_SIDE;
  const tile = keep(vips.Image.newFromMemory(triangularNoise(side * side * 3), side, side, 3, vips.BandFormat.float));
  const across = Math.ceil(width / side);
  const down = Math.ceil(height / side);
  return keep(keep(tile.replicate(across, down)).crop(0, 0, width, height));
}
