import type { NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { planeOf, type RenderContext, reserveOrFail, type Spot, slotsOf } from './renderContext.ts';

/** Coverage of a tile as floats, whether it has planes or one value. */
export function widenTile(tile: PinnedTile, context: RenderContext, out: Float32Array): void {
  const plane = planeOf(tile, 0, context);
  if (typeof plane === 'number') context.kernels.fillFloats(out, plane / 65535);
  else context.kernels.widen(plane, out);
}

/** Stores coverage in 16 bits, or as one value when it is the same throughout. */
export function publishCoverage(coverage: Float32Array, spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
  return publishStored(spot, key, context, (out) => context.kernels.narrow(coverage, out()));
}

/** Stores one coverage for all of a tile.
 * @param value - 0..1. */
export function publishSame(
  value: number,
  { level, tx, ty }: Spot,
  key: NodeKey,
  { table }: RenderContext,
): PinnedTile {
  return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value: Math.round(65535 * value) });
}

/** @param store - Writes the coverage into a plane, if it asks for one, and answers the one value throughout, or -1. */
export function publishStored(
  { level, tx, ty }: Spot,
  key: NodeKey,
  context: RenderContext,
  store: (out: () => Uint16Array) => number,
): PinnedTile {
  const { table } = context;
  let slots: number[] = [];
  const value = store(() => {
    slots = reserveOrFail(context, 1);
    return table.slab.plane(slots[0]);
  });
  if (value < 0) return table.publish(key, level, tx, ty, { form: 'planes', slots });
  slotsOf(context).unreserve(slots);
  return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value });
}
