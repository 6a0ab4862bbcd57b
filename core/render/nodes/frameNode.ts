import { overArea } from '../../kernels/meanOver.ts';
import { levelSize, type Region, TILE } from '../../raster/size.ts';
import { tilesOfArea } from '../../raster/tileArea.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { PLAIN_READING, type Reading, readingText } from '../../reading.ts';
import { copyTiles } from '../tiles/copyTiles.ts';
import {
  type Extent,
  type RenderContext,
  RenderError,
  reserveOrFail,
  type Spot,
  type TileNode,
  withWanted,
} from '../tiles/renderContext.ts';

/** Key of the pixels of a file, as it is read. */
export function frameKey(sha256: string, reading: Reading = PLAIN_READING): NodeKey {
  return keyOf('frame', [sha256, readingText(reading)]);
}

/** The pixels of a frame as they were read: three 16-bit planes that are in memory already; at quarters of levels means of those of the finer
 * level. */
export class FrameNode implements TileNode {
  readonly fixedKey: NodeKey;
  readonly name: string;
  readonly extent: Extent;

  /** @param extent - Of the frame: where its pixels lie before it is placed. */
  constructor(sha256: string, reading: Reading, name: string, extent: Extent) {
    this.extent = extent;
    this.fixedKey = frameKey(sha256, reading);
    this.name = name;
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { level, tx, ty } = spot;
    const finer = Math.floor(level);
    if (finer === level) throw new RenderError('frame-missing', `${this.name}, level ${level}, tile ${tx}, ${ty}`);
    const { table, kernels, scratch } = context;
    const whole = levelSize(this.extent.size, finer);
    const step = 2 ** (level - finer);
    const [left, top] = [tx, ty].map((at) => at * TILE * step);
    const side = Math.ceil(TILE * step) + 3;
    const region: Region = { x: Math.floor(left), y: Math.floor(top), width: side, height: side };
    const wanted = tilesOfArea(region, whole).map((tile) => ({ node: this, spot: { level: finer, ...tile } }));
    return withWanted(wanted, context, (tiles) =>
      scratch.lendRgbArea((area) => {
        copyTiles(tiles, wanted, { region, whole }, area, context);
        const slots = reserveOrFail(context, 3);
        const [across, down] = [overArea(left - region.x, step), overArea(top - region.y, step)];
        for (const [channel, slot] of slots.entries())
          kernels.meanOver(area[channel], side, across, down, table.slab.plane(slot));
        return table.publish(key, level, tx, ty, { form: 'planes', slots });
      }),
    );
  }
}
