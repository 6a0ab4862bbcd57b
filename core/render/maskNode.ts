import type { Join } from '../kernels/joinCoverage.ts';
import type { Kernels } from '../kernels/kernels.ts';
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
      const sum = new CoverageSum(mask, studio.kernels);
      for (const { join, node } of this.#parts) {
        // When nobody looks on, strokes are painted and forgotten: the mask that they end in is all that is asked for.
        if (!studio.watched && node instanceof PaintedNode) {
          if (node.paint(spot, studio, part, hold)) sum.join(join, part, hold);
          else sum.joinValue(join, 0);
          continue;
        }
        withTile(node, spot, studio, (tile) => addPart(tile, join, sum, studio, part, hold));
      }
      if (this.#inverted) sum.invert();
      const { value } = sum;
      if (value === undefined) return publishCoverage(mask, spot, key, studio);
      const constant = { form: 'constant', slots: [], value: Math.round(value * 65535) } as const;
      return studio.table.publish(key, spot.level, spot.tx, spot.ty, constant);
    });
  }
}

/** Coverage joined so far: one value as long as it is the same throughout, then a plane. Most masks are nothing or all in
 * most tiles, and a value costs nothing to join. */
class CoverageSum {
  readonly #plane: Float32Array;
  readonly #kernels: Kernels;
  #value: number | undefined = 0;

  /** @param plane - Where it is joined; undefined content. */
  constructor(plane: Float32Array, kernels: Kernels) {
    this.#plane = plane;
    this.#kernels = kernels;
  }

  /** The value throughout, 0..1, or undefined when the plane holds the coverage. */
  get value(): number | undefined {
    return this.#value;
  }

  joinValue(join: Join, part: number): void {
    if (this.#value !== undefined) this.#value = joinOne(join, this.#value, part);
    else if (join === 'add' && part === 1) this.#value = 1;
    else if ((join === 'intersect' && part === 0) || (join === 'subtract' && part === 1)) this.#value = 0;
    else if (part === (join === 'intersect' ? 1 : 0)) return;
    else {
      const plane = this.#plane;
      for (let i = 0; i < plane.length; i++) plane[i] = joinOne(join, plane[i], part);
    }
  }

  /** @param hold - How much of each place the part decides, for `add`. */
  join(join: Join, part: Float32Array, hold: Float32Array): void {
    const value = this.#value;
    if (value === 0 && (join === 'subtract' || join === 'intersect')) return;
    this.#value = undefined;
    if (value === 0) {
      this.#plane.set(part);
      return;
    }
    if (value !== undefined) this.#plane.fill(value);
    this.#kernels.joinCoverage(join, this.#plane, part, hold);
  }

  /** Joins a part of 16 bits, which decides as much as it covers.
   * @param spare - A plane to widen it into. */
  joinSamples(join: Join, samples: Uint16Array, spare: Float32Array): void {
    const isFirst = this.#value === 0 && (join === 'add' || join === 'exclude');
    this.#kernels.widen(samples, isFirst ? this.#plane : spare);
    if (isFirst) this.#value = undefined;
    else this.join(join, spare, spare);
  }

  invert(): void {
    if (this.#value === undefined) this.#kernels.invert(this.#plane);
    else this.#value = 1 - this.#value;
  }
}

/** Joins one value to another, see `joinCoverage`. */
function joinOne(join: Join, mask: number, part: number): number {
  if (join === 'add') return part + mask * (1 - part);
  if (join === 'subtract') return mask * (1 - part);
  return join === 'intersect' ? mask * part : mask + part - 2 * mask * part;
}

/** Joins a part's tile to the sum. */
function addPart(
  tile: PinnedTile,
  join: Join,
  sum: CoverageSum,
  studio: Studio,
  part: Float32Array,
  hold: Float32Array,
): void {
  if (tile.form === 'constant') sum.joinValue(join, tile.value / 65535);
  else if (tile.form === 'planes') sum.joinSamples(join, studio.table.slab.plane(tile.slots[0]), part);
  else {
    readFloats(tile, studio, part, hold);
    sum.join(join, part, hold);
  }
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
