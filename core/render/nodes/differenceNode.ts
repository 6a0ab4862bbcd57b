import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { type RenderContext, reserveOrFail, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';
import { limitsAfter } from './compareNode.ts';
import { DerivedNode } from './derivedNode.ts';

/** How much two pictures of one exposure differ: the largest difference of a channel, in encoded values. Nothing where one of them
 * holds nothing: too dark or too bright to tell. */
export class DifferenceNode extends DerivedNode {
  readonly #dark: TileNode;
  readonly #darkened: TileNode;
  readonly #stops: number;

  /** @param darkened - The brighter of the two, darkened by `stops` to match. */
  constructor(dark: TileNode, darkened: TileNode, stops: number) {
    super(keyOf('differ', stops), [dark, darkened]);
    this.#dark = dark;
    this.#darkened = darkened;
    this.#stops = stops;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table } = context;
    const [, high] = limitsAfter(0);
    const [, brightHigh] = limitsAfter(this.#stops);
    const top = Math.min(high, brightHigh);
    return withTile(this.#dark, spot, context, (dark) =>
      withTile(this.#darkened, spot, context, (darkened) => {
        const slots = reserveOrFail(context, 1);
        const out = table.slab.plane(slots[0]);
        const [a, b] = [dark, darkened].map(({ slots: rgb }) => rgb.map((slot) => table.slab.plane(slot)));
        for (let i = 0; i < out.length; i++) {
          const blown = Math.max(b[0][i], b[1][i], b[2][i]) >= top || Math.max(a[0][i], a[1][i], a[2][i]) >= high;
          const off = Math.max(Math.abs(a[0][i] - b[0][i]), Math.abs(a[1][i] - b[1][i]), Math.abs(a[2][i] - b[2][i]));
          out[i] = blown ? 0 : off;
        }
        return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
      }),
    );
  }
}
