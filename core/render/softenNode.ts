import { levelCount, levelSize, TILE } from '../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { publishCoverage } from './maskNode.ts';
import { LastSpot, MAX_AREA_SIDE, planeOf, type Spot, type Studio, type TileNode, withTile } from './studio.ts';

/** Widest blur, in pixels of the level it is computed at; wider ones are computed at a coarser level. A blur leaves
 * nothing finer than itself, so going down and back costs less than a thousandth of full scale. */
const WIDEST = 12;
/** At the coarsest level a blur may be wider than that, up to what an area holds: the whole picture is a blotch by then. */
const WIDEST_AT_TOP = 38;

/** Pixels of a level around a tile: its left and top, and its side. */
interface Area {
  left: number;
  top: number;
  side: number;
}

/** A mask blurred, computed at a level where the blur is small. */
export class SoftenNode implements TileNode {
  readonly #mask: TileNode;
  readonly #softness: number;
  readonly #key: NodeKey;
  readonly #last = new LastSpot<NodeKey>();

  /** @param softness - Standard deviation in scene pixels. */
  constructor(mask: TileNode, softness: number) {
    this.#mask = mask;
    this.#softness = softness;
    this.#key = keyOf('soften', softness);
  }

  /** How many pixels of a level a blur at that level looks around itself. */
  marginAt(level: number): number {
    return Math.ceil(3 * this.#sigmaAt(level)) + 3;
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    return this.#last.at(spot, studio, () => {
      const { level, area } = this.#areaOf(spot, studio);
      return mixKeys(this.#key, ...[...tilesOf(area, level, studio)].map((near) => this.#mask.keyAt(near, studio)));
    });
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const { level, area } = this.#areaOf(spot, studio);
    const [full, spareFull] = studio.scratch.areas;
    const samples = area.side * area.side;
    const [wide, spare] = [full.subarray(0, samples), spareFull.subarray(0, samples)];
    this.#gather(area, level, studio, wide);
    studio.kernels.blurPlane(wide, spare, area.side, area.side, this.#sigmaAt(level));
    return studio.scratch.lend(1, (out) => {
      const step = 2 ** (level - spot.level);
      const offsetX = (spot.tx * TILE) / step - area.left;
      const offsetY = (spot.ty * TILE) / step - area.top;
      studio.kernels.enlarge(wide, area.side, offsetX, offsetY, step, out);
      return publishCoverage(out, spot, key, studio);
    });
  }

  #sigmaAt(level: number): number {
    return Math.min(WIDEST_AT_TOP, this.#softness / 2 ** level);
  }

  /** The level that a tile's blur is computed at, and the area of it that the tile needs. */
  #areaOf(spot: Spot, studio: Studio): { level: number; area: Area } {
    const top = levelCount(studio.size) - 1;
    const down = Math.max(0, Math.ceil(Math.log2(this.#softness / 2 ** spot.level / WIDEST)));
    const level = Math.min(top, spot.level + down);
    const step = 2 ** (level - spot.level);
    const margin = this.marginAt(level) + 2;
    const side = Math.ceil((TILE / step + 2 * margin) / 4) * 4;
    if (side > MAX_AREA_SIDE) throw new RangeError(`A blur needs an area of ${side} pixels`);
    const left = Math.floor((spot.tx * TILE) / step) - margin;
    return { level, area: { left, top: Math.floor((spot.ty * TILE) / step) - margin, side } };
  }

  /** The mask in an area, as one plane; beyond the picture its edge repeats. */
  #gather(area: Area, level: number, studio: Studio, wide: Float32Array): void {
    const { width, height } = levelSize(studio.size, level);
    for (const near of tilesOf(area, level, studio)) {
      withTile(this.#mask, near, studio, (tile) => {
        const plane = planeOf(tile, 0, studio);
        for (let y = 0; y < area.side; y++) {
          const row = Math.min(height - 1, Math.max(0, area.top + y)) - near.ty * TILE;
          if (row < 0 || row >= TILE) continue;
          for (let x = 0; x < area.side; x++) {
            const column = Math.min(width - 1, Math.max(0, area.left + x)) - near.tx * TILE;
            if (column < 0 || column >= TILE) continue;
            wide[y * area.side + x] = (typeof plane === 'number' ? plane : plane[row * TILE + column]) / 65535;
          }
        }
      });
    }
  }
}

/** The tiles of a level that an area touches, row by row. */
function* tilesOf({ left, top, side }: Area, level: number, studio: Studio): Generator<Spot> {
  const { width, height } = levelSize(studio.size, level);
  const tile = (at: number, length: number) => Math.floor(Math.min(length - 1, Math.max(0, at)) / TILE);
  for (let ty = tile(top, height); ty <= tile(top + side - 1, height); ty++) {
    for (let tx = tile(left, width); tx <= tile(left + side - 1, width); tx++) yield { level, tx, ty };
  }
}
