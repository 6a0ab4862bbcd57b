import type { RgbFloats } from '../../kernels/planes.ts';
import type { NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { HALF, isUpperOnly, withLight } from '../tiles/pictureTile.ts';
import { type RenderContext, reserveOrFail, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';

/** One plane of 16 bits that is made of each pixel's linear light, before it is rounded, and looked at around places. */
export abstract class OfLight extends DerivedNode {
  readonly #source: TileNode;

  /** @param seed - Key of what is made of it. */
  constructor(seed: NodeKey, source: TileNode) {
    const exact = source.unrounded ?? source;
    super(seed, [exact]);
    this.#source = exact;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table } = context;
    const slots = withTile(this.#source, spot, context, (tile) => {
      const made = reserveOrFail(context, 1);
      const [upper, lower] = table.slab.halves(made[0]);
      withLight(this.#source, spot, tile, context, (light) => {
        if (!isUpperOnly(spot, this.extent)) return this.write(light, table.slab.plane(made[0]), context);
        const [red, green, blue] = light.map((plane) => plane.subarray(0, HALF));
        this.write([red, green, blue], upper, context);
        lower.fill(0);
      });
      return made;
    });
    // Neighbours look at it as well, also where nothing is drawn.
    return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
  }

  protected abstract write(light: RgbFloats, out: Uint16Array, context: RenderContext): void;
}
