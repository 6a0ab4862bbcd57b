import { betweenSpaces, type OutputSpace, type WorkingSpace } from '../../color/workingSpace.ts';
import { mixChannels } from '../../kernels/lightSteps.ts';
import { type Region, TILE } from '../../raster/size.ts';
import { toSpace } from '../nodes/lightNode.ts';
import { readLight, withRounded } from '../tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';

/** Interleaved samples of a part of a picture: RGB in 16 bits, if nothing else is said. */
export interface WrittenImage {
  region: Region;
  pixels: Uint16Array;
}

/** One form that a picture is written in. */
export interface WrittenForm {
  space: OutputSpace;
  /** Encoded with the curve of sRGB, in 16 bits; or light, in floats, as far beyond white as it goes. */
  kind: 'codes' | 'light';
  /** Where its samples go, interleaved. */
  image: SharedArrayBuffer;
  /** Where nothing is covered there is no colour either: such places take next to no room in a file. */
  clears?: boolean;
}

/** Writes tiles in one form: the picture's tile at a spot, as much of it as lies in the region. */
export type TileWriter = (spot: Spot, region: Region, context: RenderContext) => void;

/** What writes a picture in a form, with what covers it as a fourth channel if that is told. */
export function writerOf(
  picture: TileNode,
  covers: TileNode | undefined,
  from: WorkingSpace,
  { space, kind, image, clears = false }: WrittenForm,
): TileWriter {
  if (kind === 'light') return lightWriter(picture, from, space, new Float32Array(image));
  const pixels = new Uint16Array(image);
  const node = toSpace(picture, from, space);
  return covers
    ? coveredWriter(node, covers, pixels, clears)
    : (spot, region, context) => copyTile(node, spot, { region, pixels }, context);
}

/** What writes a plane by itself. */
export function planeWriter(plane: TileNode, { image }: Pick<WrittenForm, 'image'>): TileWriter {
  const pixels = new Uint16Array(image);
  return (spot, region, context) =>
    withPlane(plane, spot, context, (samples, value) =>
      eachRow(spot, region, (at, to, length) => {
        if (samples) pixels.set(samples.subarray(at, at + length), to);
        else pixels.fill(value, to, to + length);
      }),
    );
}

/** Writes one tile of a picture, as much of it as there is, into an image.
 * @param level - That it is of; at full size, if nothing is told. */
export function writeTile(
  node: TileNode,
  tx: number,
  ty: number,
  image: WrittenImage,
  context: RenderContext,
  level = 0,
): void {
  try {
    copyTile(node, { level, tx, ty }, image, context);
  } finally {
    context.transient.drop();
  }
}

/** Rows of a tile that lie in a region: where each begins in the tile and in the region, and how long it is, in pixels. */
function eachRow({ tx, ty }: Spot, region: Region, use: (at: number, to: number, length: number) => void): void {
  const left = Math.max(tx * TILE, region.x);
  const top = Math.max(ty * TILE, region.y);
  const right = Math.min((tx + 1) * TILE, region.x + region.width);
  const bottom = Math.min((ty + 1) * TILE, region.y + region.height);
  for (let y = top; y < bottom; y++)
    use((y - ty * TILE) * TILE + left - tx * TILE, (y - region.y) * region.width + left - region.x, right - left);
}

function copyTile(node: TileNode, spot: Spot, { region, pixels }: WrittenImage, context: RenderContext): void {
  withTile(node, spot, context, (tile) =>
    withRounded(tile, context, (rgb) =>
      copyInterleaved(3, spot, { region, pixels }, context, (all) => context.kernels.interleave(...rgb, all)),
    ),
  );
}

function coveredWriter(node: TileNode, covers: TileNode, pixels: Uint16Array, clears: boolean): TileWriter {
  return (spot, region, context) =>
    withPlane(covers, spot, context, (samples, value) =>
      withTile(node, spot, context, (tile) =>
        withRounded(tile, context, (rgb) =>
          copyInterleaved(4, spot, { region, pixels }, context, (all) =>
            context.kernels.interleaveCovered(rgb, samples ?? value, clears, all),
          ),
        ),
      ),
    );
}

/** Copies rows of a tile whose samples are interleaved by `write`. */
function copyInterleaved(
  channels: 3 | 4,
  spot: Spot,
  { region, pixels }: WrittenImage,
  { scratch }: RenderContext,
  write: (all: Uint16Array) => void,
): void {
  scratch.lendInterleaved(channels, ({ all, rows }) => {
    write(all);
    eachRow(spot, region, (at, to, length) => {
      const row = rows[Math.floor(at / TILE)];
      const from = (at % TILE) * channels;
      pixels.set(length === TILE ? row : row.subarray(from, from + length * channels), to * channels);
    });
  });
}

function lightWriter(picture: TileNode, from: WorkingSpace, to: OutputSpace, pixels: Float32Array): TileWriter {
  const exact = picture.unrounded ?? picture;
  const matrix = from === to ? undefined : betweenSpaces(from, to);
  return (spot, region, context) =>
    withTile(exact, spot, context, (tile) =>
      context.scratch.lend(3, (red, green, blue) => {
        readLight(tile, [red, green, blue], context);
        if (matrix) mixChannels([red, green, blue], matrix);
        eachRow(spot, region, (at, start, length) => {
          for (let i = at, out = start * 3; i < at + length; i++, out += 3) {
            pixels[out] = red[i];
            pixels[out + 1] = green[i];
            pixels[out + 2] = blue[i];
          }
        });
      }),
    );
}

/** Calls `use` with a tile of coverage, or with the value that it has everywhere. */
const withPlane = (
  node: TileNode,
  spot: Spot,
  context: RenderContext,
  use: (samples: Uint16Array | undefined, value: number) => void,
): void =>
  withTile(node, spot, context, (tile) =>
    tile.form === 'constant' ? use(undefined, tile.value) : use(context.table.slab.plane(tile.slots[0]), 0),
  );
