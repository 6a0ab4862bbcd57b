import type { Join } from '../kernels/joinCoverage.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { PaintedNode, readFloats } from './paintedNode.ts';
import { LastSpot, reserveOrFail, type Spot, type Studio, type TileNode, withTile } from './studio.ts';

interface JoinedPart {
  join: Join;
  node: TileNode;
}

/** The parts of a mask joined first to last, starting from nothing. */
export class MaskNode implements TileNode {
  readonly #parts: readonly JoinedPart[];
  readonly #inverted: boolean;
  readonly #key: NodeKey;
  readonly #last = new LastSpot<NodeKey>();

  constructor(parts: readonly JoinedPart[], inverted: boolean) {
    this.#parts = parts;
    this.#inverted = inverted;
    this.#key = keyOf('mask', [parts.map(({ join }) => join), inverted]);
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    return this.#last.at(spot, studio, () =>
      mixKeys(this.#key, ...this.#parts.map(({ node }) => node.keyAt(spot, studio))),
    );
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    return studio.scratch.lend(3, (mask, part, hold) => {
      mask.fill(0);
      for (const { join, node } of this.#parts) {
        // When nobody looks on, strokes are painted and forgotten: the mask that they end in is all that is asked for.
        if (!studio.watched && node instanceof PaintedNode) {
          node.paint(spot, studio, part, hold);
          studio.kernels.joinCoverage(join, mask, part, hold);
          continue;
        }
        withTile(node, spot, studio, (tile) => {
          const holdPlane = readPart(tile, studio, part, hold);
          studio.kernels.joinCoverage(join, mask, part, holdPlane);
        });
      }
      if (this.#inverted) studio.kernels.invert(mask);
      return publishCoverage(mask, spot, key, studio);
    });
  }
}

/** Reads a part's tile into `part` and answers the plane that says how much it decides: `part` itself, unless painted. */
function readPart(tile: PinnedTile, studio: Studio, part: Float32Array, hold: Float32Array): Float32Array {
  if (tile.form === 'floats') {
    readFloats(tile, studio, part, hold);
    return hold;
  }
  if (tile.form === 'constant') part.fill(tile.value / 65535);
  else studio.kernels.widen(studio.table.slab.plane(tile.slots[0]), part);
  return part;
}

/** Stores coverage in 16 bits, or as one value when it is the same throughout. */
export function publishCoverage(
  coverage: Float32Array,
  { level, tx, ty }: Spot,
  key: NodeKey,
  studio: Studio,
): PinnedTile {
  const { table } = studio;
  const slots = reserveOrFail(studio, 1);
  const plane = table.slab.plane(slots[0]);
  const value = studio.kernels.narrow(coverage, plane);
  if (value < 0) return table.publish(key, level, tx, ty, { form: 'planes', slots });
  table.unreserve(slots);
  return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value });
}
