import { LogTable } from '../../color/logTable.ts';
import { DARKEST_STOPS, stopsOfLight, TONE_SPAN } from '../../color/toneCodes.ts';
import { toneWeights, type WorkingSpace } from '../../color/workingSpace.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { readLight } from '../tiles/pictureTile.ts';
import { type RenderContext, reserveOrFail, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';

const CODES = new LogTable((light) => ((stopsOfLight(light) - DARKEST_STOPS) / TONE_SPAN) * 65535);

/** Luminance of a picture in stops, as one plane of tone codes. */
export class StopsNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #weights: readonly [number, number, number];

  constructor(source: TileNode, space: WorkingSpace) {
    const exact = source.unrounded ?? source;
    super(keyOf('stops', space), [exact]);
    this.#source = exact;
    this.#weights = toneWeights(space);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { scratch, table } = context;
    const [r, g, b] = this.#weights;
    const slots = withTile(this.#source, spot, context, (tile) =>
      scratch.lend(3, (red, green, blue) => {
        readLight(tile, [red, green, blue], context);
        const made = reserveOrFail(context, 1);
        const out = table.slab.plane(made[0]);
        for (let i = 0; i < out.length; i++) {
          const code = CODES.at(r * red[i] + g * green[i] + b * blue[i]);
          out[i] = code < 0 ? 0 : code > 65535 ? 65535 : code + 0.5;
        }
        return made;
      }),
    );
    // Neighbours look at it as well, also where nothing is drawn.
    return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
  }
}
