import { blurPlane } from '../kernels/boxBlur.ts';
import { levelSize, TILE } from '../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { publishCoverage } from './maskNode.ts';
import { planeOf, type Spot, type Studio, type TileNode, withTile } from './studio.ts';

/** A mask blurred; looks beyond the tile by three standard deviations. */
export class SoftenNode implements TileNode {
  readonly #mask: TileNode;
  readonly #softness: number;
  readonly #key: NodeKey;

  /** @param softness - Standard deviation in scene pixels. */
  constructor(mask: TileNode, softness: number) {
    this.#mask = mask;
    this.#softness = softness;
    this.#key = keyOf('soften', softness);
  }

  /** How many pixels of a level the blur looks around itself. */
  marginAt(level: number): number {
    return Math.ceil((3 * this.#softness) / 2 ** level) + 3;
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    return mixKeys(this.#key, ...[...this.#around(spot, studio)].map((near) => this.#mask.keyAt(near, studio)));
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const margin = this.marginAt(spot.level);
    const side = TILE + 2 * margin;
    const wide = this.#gather(spot, studio, margin, side);
    blurPlane(wide, new Float32Array(side * side), side, side, this.#softness / 2 ** spot.level);
    return studio.scratch.lend(1, (out) => {
      for (let y = 0; y < TILE; y++) {
        const from = (y + margin) * side + margin;
        out.set(wide.subarray(from, from + TILE), y * TILE);
      }
      return publishCoverage(out, spot, key, studio);
    });
  }

  /** The tiles within the margin, row by row. */
  *#around({ level, tx, ty }: Spot, studio: Studio): Generator<Spot> {
    const reach = this.marginAt(level);
    const { width, height } = levelSize(studio.size, level);
    const first = (at: number) => Math.max(0, Math.floor((at * TILE - reach) / TILE));
    const last = (at: number, length: number) => Math.floor(Math.min(length - 1, (at + 1) * TILE - 1 + reach) / TILE);
    for (let y = first(ty); y <= last(ty, height); y++) {
      for (let x = first(tx); x <= last(tx, width); x++) yield { level, tx: x, ty: y };
    }
  }

  /** The mask around a tile as one plane; beyond the picture its edge repeats. */
  #gather(spot: Spot, studio: Studio, margin: number, side: number): Float32Array {
    const { width, height } = levelSize(studio.size, spot.level);
    const wide = new Float32Array(side * side);
    const left = spot.tx * TILE - margin;
    const top = spot.ty * TILE - margin;
    for (const near of this.#around(spot, studio)) {
      withTile(this.#mask, near, studio, (tile) => {
        const plane = planeOf(tile, 0, studio);
        const clampX = (x: number) => Math.min(width - 1, Math.max(0, x));
        for (let y = 0; y < side; y++) {
          const row = Math.min(height - 1, Math.max(0, top + y)) - near.ty * TILE;
          if (row < 0 || row >= TILE) continue;
          for (let x = 0; x < side; x++) {
            const column = clampX(left + x) - near.tx * TILE;
            if (column < 0 || column >= TILE) continue;
            wide[y * side + x] = (typeof plane === 'number' ? plane : plane[row * TILE + column]) / 65535;
          }
        }
      });
    }
    return wide;
  }
}
