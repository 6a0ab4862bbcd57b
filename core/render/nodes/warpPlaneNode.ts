import { compose, shiftMatrix } from '../../align/placement.ts';
import { PLAIN_LENS } from '../../raster/lens.ts';
import { levelSize } from '../../raster/size.ts';
import { copyTile, tilesOfArea } from '../../raster/tileArea.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  withWanted,
} from '../tiles/renderContext.ts';
import { MAX_AREA_SIDE } from '../tiles/scratch.ts';
import { type FrameGeometry, frameMap, sourceOf } from './frameMap.ts';

/** Coverage as it comes to lie elsewhere, read as pictures are (`WarpNode`). */
export class WarpPlaneNode implements TileNode {
  readonly extent: Extent;
  readonly grownIn: TileNode['grownIn'];
  readonly #source: TileNode;
  readonly #geometry: Pick<FrameGeometry, 'placement'>;
  readonly #key: NodeKey;

  constructor(source: TileNode, { placement }: Pick<FrameGeometry, 'placement'>, extent: Extent) {
    this.#source = source;
    this.#geometry = { placement };
    this.extent = extent;
    this.grownIn = source.grownIn;
    this.#key = keyOf('warp plane', placement);
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return mixKeys(this.#key, ...this.#area(spot).wanted.map((read) => this.#source.keyAt(read.spot, context)));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, kernels, scratch } = context;
    const { whole, region, map, wanted } = this.#area(spot);
    const { x, y, width: side } = region;
    return withWanted(wanted, context, (tiles) => {
      const [first] = tiles;
      if (tiles.every(({ form, value }) => form === 'constant' && value === first.value))
        return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'constant', slots: [], value: first.value });
      return scratch.lendRgbArea(([area]) => {
        for (const [index, tile] of tiles.entries()) {
          const plane = planeOf(tile, 0, context);
          const { tx, ty } = wanted[index].spot;
          const copy = (own: Uint16Array) => copyTile([own], tx, ty, region, whole, [area], side, kernels);
          if (typeof plane === 'number') scratch.lendSamples((even) => copy(even.fill(plane)));
          else copy(plane);
        }
        const slots = reserveOrFail(context, 1);
        const matrix = compose(map.matrix, shiftMatrix(-x, -y));
        kernels.warpTile([area], side, matrix, scratch.lanczos, [table.slab.plane(slots[0])]);
        return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
      });
    });
  }

  #area(spot: Spot) {
    const { size } = this.#source.extent;
    const geometry = { ...this.#geometry, local: null, lens: PLAIN_LENS };
    const {
      from: level,
      map,
      left,
      top,
      side,
    } = sourceOf(frameMap(geometry, size, spot), PLAIN_LENS, spot.level, size);
    const used = Math.min(side, MAX_AREA_SIDE);
    const whole = levelSize(size, level);
    const region = { x: left, y: top, width: used, height: used };
    const wanted = tilesOfArea(region, whole).map((tile) => ({ node: this.#source, spot: { level, ...tile } }));
    return { whole, region, map, wanted };
  }
}
