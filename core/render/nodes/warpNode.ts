import { compose, shiftMatrix } from '../../align/placement.ts';
import type { Rgb16 } from '../../kernels/planes.ts';
import { isPlainLens } from '../../raster/lens.ts';
import { levelSize, type Region, type Size } from '../../raster/size.ts';
import { tilesOfArea } from '../../raster/tileArea.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { copyTiles } from '../tiles/copyTiles.ts';
import {
  type Extent,
  type RenderContext,
  reserveOrFail,
  type Spot,
  SpotMemo,
  type TileNode,
  type Wanted,
  withWanted,
} from '../tiles/renderContext.ts';
import { MAX_AREA_SIDE } from '../tiles/scratch.ts';
import { type FrameGeometry, frameMap, sourceOf } from './frameMap.ts';

/** A frame as it comes into the scene: turned, shifted and tilted, straightened, its colours laid on each other, read between its pixels
 * once for all of these (Lanczos, three lobes). */
export class WarpNode implements TileNode {
  readonly extent: Extent;
  readonly #source: TileNode;
  readonly #geometry: FrameGeometry;
  readonly #size: Size;
  readonly fixedKey: NodeKey | undefined;
  readonly #key: NodeKey;
  readonly #areas = new SpotMemo<Area>();

  /** @param scene - Where the frame is placed. */
  constructor(source: TileNode, geometry: FrameGeometry, scene: Extent) {
    this.#source = source;
    this.extent = scene;
    this.#geometry = geometry;
    this.#size = source.extent.size;
    const { placement, local, lens, turned } = geometry;
    const key = keyOf('warp', isPlainLens(lens) ? (local ? [placement, local] : placement) : [placement, local, lens]);
    this.#key = turned ? mixKeys(key, keyOf('turned', turned)) : key;
    this.fixedKey = source.fixedKey && mixKeys(this.#key, source.fixedKey);
  }

  /** Of all the tiles that are read, which need not lie where the tile does. */
  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return (
      this.fixedKey ??
      mixKeys(this.#key, ...this.#area(spot, context).wanted.map((read) => this.#source.keyAt(read.spot, context)))
    );
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, kernels, scratch } = context;
    const { whole, region, map, channels, wanted } = this.#area(spot, context);
    const { x, y, width: side } = region;
    return withWanted(wanted, context, (tiles) =>
      scratch.lendRgbArea((area) => {
        copyTiles(tiles, wanted, { region, whole }, area, context);
        const slots = reserveOrFail(context, 3);
        const out: Rgb16 = [table.slab.plane(slots[0]), table.slab.plane(slots[1]), table.slab.plane(slots[2])];
        const matrix = compose(map.matrix, shiftMatrix(-x, -y));
        if (isPlainLens(this.#geometry.lens)) kernels.warpTile(area, side, matrix, scratch.lanczos, out);
        else {
          const inArea = { ...channels, x: channels.x - x, y: channels.y - y };
          kernels.warpBent(area, side, { matrix, bent: map.bent, channels: inArea }, scratch.lanczos, out);
        }
        return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
      }),
    );
  }

  #area(spot: Spot, context: RenderContext): Area {
    return this.#areas.at(spot, context, () => {
      const { lens } = this.#geometry;
      const onto = frameMap(this.#geometry, this.extent.size, spot);
      const { from: level, map, channels, left, top, side } = sourceOf(onto, lens, spot.level, this.#size);
      const used = Math.min(side, MAX_AREA_SIDE);
      const whole = levelSize(this.#size, level);
      const region = { x: left, y: top, width: used, height: used };
      const wanted = tilesOfArea(region, whole).map((tile) => ({ node: this.#source, spot: { level, ...tile } }));
      return { whole, region, map, channels, wanted };
    });
  }
}

/** What is read for a tile. */
interface Area extends Pick<ReturnType<typeof sourceOf>, 'map' | 'channels'> {
  /** Size of the level of the source that is read. */
  whole: Size;
  /** A square of it, and the tiles that it lies in. */
  region: Region;
  wanted: Wanted[];
}
