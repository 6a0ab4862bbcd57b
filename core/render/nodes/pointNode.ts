import { LogTable } from '../../color/logTable.ts';
import { compileSteps, type PointStep } from '../../color/pointSteps.ts';
import { encodeSrgb } from '../../color/srgb.ts';
import type { WorkingSpace } from '../../color/workingSpace.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishPicture, readLight, writeFloats } from '../tiles/pictureTile.ts';
import {
  type Extent,
  growsWith,
  type RenderContext,
  type Spot,
  type TileNode,
  withTile,
} from '../tiles/renderContext.ts';

const ENCODING = new LogTable((light) => 65535 * encodeSrgb(light));

/** A picture after steps that look at each pixel by itself: one pass, in floats, rounded by whoever needs it. */
export class PointNode implements TileNode {
  readonly #source: TileNode;
  readonly #key: NodeKey;
  readonly #run: ReturnType<typeof compileSteps>;
  readonly extent: Extent;
  readonly fixedKey: NodeKey | undefined;
  readonly grows: boolean;

  /** @param name - That tells the steps from all others. */
  constructor(source: TileNode, steps: readonly PointStep[], name: string, space: WorkingSpace) {
    this.#source = source.unrounded ?? source;
    this.extent = source.extent;
    this.#run = compileSteps(steps, space);
    this.#key = keyOf('points', [name, space]);
    this.fixedKey = source.fixedKey && mixKeys(this.#key, source.fixedKey);
    this.grows = growsWith([source]);
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return this.fixedKey ?? mixKeys(this.#key, this.#source.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return withTile(this.#source, spot, context, (tile) =>
      context.scratch.lend(3, (red, green, blue) => {
        readLight(tile, [red, green, blue], context);
        this.#run(red, green, blue);
        for (const plane of [red, green, blue]) for (let i = 0; i < plane.length; i++) plane[i] = ENCODING.at(plane[i]);
        return publishPicture(spot, key, context, { form: 'floats', isTransient: false }, (slots) =>
          writeFloats([red, green, blue], slots, context),
        );
      }),
    );
  }
}
