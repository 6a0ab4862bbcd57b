import { mixAll, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  fixedKeyOf,
  grownWith,
  looksWith,
  type RenderContext,
  type Spot,
  SpotMemo,
  type TileNode,
} from '../tiles/renderContext.ts';

/** A node whose tiles follow from those of other nodes and from settings. */
export abstract class DerivedNode implements TileNode {
  readonly fixedKey: NodeKey | undefined;
  readonly grownIn: TileNode['grownIn'];
  readonly looks: boolean;
  /** Key of the kind of node and its settings. */
  protected readonly seed: NodeKey;
  readonly #inputs: readonly TileNode[];
  readonly #keys: SpotMemo<NodeKey>;
  readonly extent: Extent;

  /** @param extent - That of the first input, if it is not told. */
  constructor(seed: NodeKey, inputs: readonly TileNode[], extent: Extent = inputs[0].extent) {
    this.extent = extent;
    this.seed = seed;
    this.#inputs = inputs;
    this.fixedKey = fixedKeyOf(seed, inputs);
    this.grownIn = grownWith(inputs);
    this.looks = looksWith(inputs);
    this.#keys = new SpotMemo(this.grownIn);
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return (
      this.fixedKey ?? this.#keys.find(spot, context) ?? this.#keys.keep(spot, context, this.keyOver(spot, context))
    );
  }

  abstract make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile;

  /** Key of a tile from the inputs' keys at that tile; more of them where a node looks around itself. */
  protected keyOver(spot: Spot, context: RenderContext): NodeKey {
    const keys: NodeKey[] = [];
    for (const input of this.#inputs) keys.push(input.keyAt(spot, context));
    return mixAll(this.seed, keys);
  }
}
