import { levelSize, type Region, TILE } from '../../raster/size.ts';
import { tilesOfArea } from '../../raster/tileArea.ts';
import { readEncoded } from '../tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';

/** Tiles that a part of a level lies in; what lies beyond the picture repeats its edge. */
export function spotsIn(node: TileNode, level: number, region: Region): Spot[] {
  const { width, height } = levelSize(node.extent.size, level);
  const clamp = (at: number, length: number) => Math.min(length - 1, Math.max(0, at));
  const [left, top] = [clamp(region.x, width), clamp(region.y, height)];
  const [right, bottom] = [clamp(region.x + region.width - 1, width), clamp(region.y + region.height - 1, height)];
  const within = { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
  return tilesOfArea(within, { width, height }).map((tile) => ({ level, ...tile }));
}

/** Encoded values, 0..65535 and beyond, of a part of a level of a picture: three planes. */
export function readRegion(node: TileNode, level: number, region: Region, context: RenderContext): Float32Array[] {
  const { width, height } = levelSize(node.extent.size, level);
  const planes = [0, 1, 2].map(() => new Float32Array(region.width * region.height));
  const clamp = (at: number, length: number) => Math.min(length - 1, Math.max(0, at));
  for (const spot of spotsIn(node, level, region))
    withTile(node, spot, context, (tile) =>
      context.scratch.lend(3, (red, green, blue) => {
        readEncoded(tile, [red, green, blue], context);
        for (let y = 0, to = 0; y < region.height; y++) {
          const row = clamp(region.y + y, height) - spot.ty * TILE;
          if (row < 0 || row >= TILE) {
            to += region.width;
            continue;
          }
          for (let x = 0; x < region.width; x++, to++) {
            const column = clamp(region.x + x, width) - spot.tx * TILE;
            if (column < 0 || column >= TILE) continue;
            const at = row * TILE + column;
            planes[0][to] = red[at];
            planes[1][to] = green[at];
            planes[2][to] = blue[at];
          }
        }
      }),
    );
  return planes;
}
