import { allTiles } from '../../raster/region.ts';
import { TILE, tileRegion } from '../../raster/size.ts';
import { withRounded } from '../tiles/pictureTile.ts';
import { type RenderContext, type TileNode, withTile } from '../tiles/renderContext.ts';

/** Encoded values, 0..1, that become black and white. */
export interface Ends {
  black: number;
  white: number;
}

/** Values between which all but a share of a picture's pixels lie: so many have a channel below black, and so many one above white. It pauses after
 * each tile.
 * @param share - Of all pixels, at either end. */
export function* findEnds(
  node: TileNode,
  level: number,
  share: number,
  context: RenderContext,
): Generator<undefined, Ends> {
  const { size } = node.extent;
  const [least, most] = [new Uint32Array(65536), new Uint32Array(65536)];
  let pixels = 0;
  for (const { tx, ty } of allTiles(size, level)) {
    yield undefined;
    const { width, height } = tileRegion(size, level, tx, ty);
    pixels += width * height;
    withTile(node, { level, tx, ty }, context, (tile) =>
      withRounded(tile, context, ([red, green, blue]) => {
        for (let y = 0; y < height; y++)
          for (let at = y * TILE; at < y * TILE + width; at++) {
            least[Math.min(red[at], green[at], blue[at])]++;
            most[Math.max(red[at], green[at], blue[at])]++;
          }
      }),
    );
  }
  const allowed = share * pixels;
  let [black, white] = [0, 65535];
  for (let sum = 0; black < 65535 && sum + least[black] <= allowed; black++) sum += least[black];
  for (let sum = 0; white > 0 && sum + most[white] <= allowed; white--) sum += most[white];
  return { black: black / 65535, white: white / 65535 };
}
