import { TILE } from '../raster/size.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import type { FramePlace } from '../render/nodes/frameMap.ts';
import { publishPicture, readLight, writeLight } from '../render/tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withTile } from '../render/tiles/renderContext.ts';

/** Light lifted the more the farther it lies from the middle of its frame: by a polynomial of even powers of the distance, as lenses darken
 * (the model of Goldman and Chen 2005, "Vignette and exposure calibration and compensation", with two powers). */
export class LiftNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #lift: { stops: number; late: number };
  readonly #place: FramePlace;

  /** @param lift - Stops at the corners, and how late on the way to them, 0..1. */
  constructor(source: TileNode, lift: { stops: number; late: number }, place: FramePlace) {
    super(keyOf('lift', [lift.stops, lift.late, ...place.key]), [source]);
    this.#source = source;
    this.#lift = lift;
    this.#place = place;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { stops, late } = this.#lift;
    const more = 2 ** stops - 1;
    const squaredAt = this.#place.squaredRadii(spot);
    return withTile(this.#source, spot, context, (tile) =>
      context.scratch.lend(3, (red, green, blue) => {
        readLight(tile, [red, green, blue], context);
        for (let y = 0, i = 0; y < TILE; y++)
          for (let x = 0; x < TILE; x++, i++) {
            const squared = squaredAt(x, y);
            const gain = 1 + more * squared * (1 - late + late * squared);
            red[i] *= gain;
            green[i] *= gain;
            blue[i] *= gain;
          }
        return publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
          writeLight([red, green, blue], slots, context),
        );
      }),
    );
  }
}
