import { allTiles } from '../../raster/region.ts';
import { TILE, tileRegion } from '../../raster/size.ts';
import { withRounded } from '../tiles/pictureTile.ts';
import { type RenderContext, type TileNode, withTile } from '../tiles/renderContext.ts';

/** Tiles of a picture that tell of its noise. */
const MOST_TILES = 24;
/** Side of what is looked at one by one. */
const PATCH = 16;
/** Ranges of tone that are told apart. */
const BINS = 16;
/** Of the patches of a range, this share is quieter than what counts: in the others the picture itself varies. */
const QUIETEST = 0.25;
/** The median of a normal distribution's absolute values, in deviations. */
const MEDIAN = 0.6745;

/** Deviation of a picture's noise in one pixel at full size by encoded tone, 0..1, each range of it one value; from the median of the finest
 * diagonal detail of small patches (Donoho and Johnstone 1994, "Ideal spatial adaptation by wavelet shrinkage"). It pauses after each tile.
 * @param weights - Of red, green and blue in a tone. */
export function* measureNoiseByTone(
  node: TileNode,
  weights: readonly [number, number, number],
  context: RenderContext,
): Generator<undefined, Float32Array> {
  const found: number[][] = Array.from({ length: BINS }, () => []);
  const tiles = allTiles(node.extent.size, 0);
  const step = Math.max(1, Math.floor(tiles.length / MOST_TILES));
  // Steps that share no divisor with the rows, so that all columns have their turn.
  for (let index = step >> 1; index < tiles.length; index += step | 1) {
    yield undefined;
    const { tx, ty } = tiles[index];
    const { width, height } = tileRegion(node.extent.size, 0, tx, ty);
    withTile(node, { level: 0, tx, ty }, context, (tile) =>
      withRounded(tile, context, (rgb) => {
        const toneAt = (at: number) =>
          (weights[0] * rgb[0][at] + weights[1] * rgb[1][at] + weights[2] * rgb[2][at]) / 65535;
        for (let y = 0; y + PATCH <= height; y += PATCH)
          for (let x = 0; x + PATCH <= width; x += PATCH) {
            const { mean, deviation } = patchNoise(toneAt, y * TILE + x);
            found[Math.min(BINS - 1, Math.floor(mean * BINS))].push(deviation);
          }
      }),
    );
  }
  return filled(
    found.map((deviations) =>
      deviations.length < 3 ? undefined : deviations.sort((a, b) => a - b)[Math.floor(deviations.length * QUIETEST)],
    ),
  );
}

function patchNoise(toneAt: (sample: number) => number, from: number): { mean: number; deviation: number } {
  const details: number[] = [];
  let sum = 0;
  for (let y = 0; y < PATCH; y += 2)
    for (let x = 0; x < PATCH; x += 2) {
      const at = from + y * TILE + x;
      const [a, b, c, d] = [toneAt(at), toneAt(at + 1), toneAt(at + TILE), toneAt(at + TILE + 1)];
      sum += a + b + c + d;
      details.push(Math.abs(a - b - c + d) / 2);
    }
  details.sort((a, b) => a - b);
  return { mean: sum / PATCH ** 2, deviation: details[details.length >> 1] / MEDIAN };
}

/** Ranges that no patch fell into take what the nearest one has. */
function filled(values: readonly (number | undefined)[]): Float32Array {
  return Float32Array.from(values, (_, index) => {
    for (let by = 0; by < values.length; by++) {
      const near = values[index - by] ?? values[index + by];
      if (near !== undefined) return near;
    }
    return 0;
  });
}

/** What a table says at a tone. */
export const noiseAt = (table: Float32Array, tone: number): number =>
  table[Math.min(table.length - 1, Math.max(0, Math.floor(tone * table.length)))];
