import { DecodeError } from '#codecs/decodeError.ts';
import { restOf } from '#codecs/deliver/formats/list.ts';
import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import { type Region, TILE } from '#core/raster/size.ts';
import { fileOfImage } from './fileOfImage.ts';
import { asTheyAre, type LayeredWork } from './layeredFile.ts';
import type { BandedPicture } from './writeBands.ts';

/** Tiles that a picture is judged by, across and down. */
const ACROSS = 5;
const DOWN = 4;
/** What deflating must leave at most to be worth its time. */
const WORTH = 0.5;
/** About so many bytes of a file may wait in the memory of the library that writes it. */
const MOST_WHOLE = 250e6;

/** How a picture becomes a PNG among layers, in 16 bits, as it is: deflated a little where that at least halves it, stored elsewhere. What covers
 * a corner, and pictures of 8 bits, shrink to a tenth and less. Noise of 16 bits does not: it takes most of the time, and the fast way even lets it
 * grow. It is judged by some tiles from all over the picture.
 * @throws {DecodeError} `cancelled`, or why it could not be written.
 * @throws {EngineError} when it cannot be rendered. */
export async function layerOptions(
  { machine, scene, watch: { signal } }: LayeredWork,
  picture: BandedPicture,
): Promise<WriteOptions> {
  const { of, covers, size, region: whole, channels, clears } = picture;
  const space = scene.workingSpace;
  const file = { ...restOf('png'), effort: 1 };
  const deflated = asTheyAre(whole, space, file);
  const tiles = tilesAllOver(whole);
  if (tiles.length === 0) return deflated;
  const samples = new Uint16Array(tiles.length * TILE * TILE * channels);
  for (const [index, region] of tiles.entries()) {
    const image = new SharedArrayBuffer(samples.byteLength / tiles.length);
    const forms = [{ space, kind: 'codes', image, clears } as const];
    const isDone = await machine.engine.write({ of, covers, held: machine.held, size, region, forms });
    if (!isDone || signal?.aborted) throw new DecodeError('cancelled', 'while it was weighed');
    samples.set(new Uint16Array(image), index * TILE * TILE * channels);
  }
  const tower = { width: TILE, height: TILE * tiles.length };
  const pieces = await fileOfImage(machine.codec, samples, tower, channels, { ...deflated, size: tower });
  const left = pieces.reduce((sum, { length }) => sum + length, 0) / samples.byteLength;
  return left > WORTH
    ? { ...deflated, file: { ...file, effort: 0 } }
    : { ...deflated, inPieces: left * 2 * whole.width * whole.height * channels > MOST_WHOLE };
}

/** Whole tiles of a region, spread over it; none where it holds none. */
function tilesAllOver({ x, y, width, height }: Region): Region[] {
  const [left, right] = [Math.ceil(x / TILE), Math.floor((x + width) / TILE)];
  const [top, bottom] = [Math.ceil(y / TILE), Math.floor((y + height) / TILE)];
  const tiles = new Map<string, Region>();
  for (let row = 0; row < DOWN && bottom > top; row++)
    for (let column = 0; column < ACROSS && right > left; column++) {
      const tx = Math.floor(left + ((column + 0.5) / ACROSS) * (right - left));
      const ty = Math.floor(top + ((row + 0.5) / DOWN) * (bottom - top));
      tiles.set(`${tx},${ty}`, { x: tx * TILE, y: ty * TILE, width: TILE, height: TILE });
    }
  return [...tiles.values()];
}
