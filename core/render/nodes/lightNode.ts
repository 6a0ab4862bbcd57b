import { betweenSpaces, type OutputSpace } from '../../color/workingSpace.ts';
import { mixChannels } from '../../kernels/lightSteps.ts';
import type { Rgb16 } from '../../kernels/planes.ts';
import type { Matrix3 } from '../../raster/matrix3.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishPicture, readLight, rgbOf } from '../tiles/pictureTile.ts';
import { type Extent, type RenderContext, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';

/** A picture whose linear light is changed by a matrix: another colour space, or another exposure. What the space does not hold
 * is cut off channel by channel. */
export class LightNode implements TileNode {
  readonly #source: TileNode;
  readonly #matrix: Matrix3;
  readonly extent: Extent;
  readonly #key: NodeKey;
  readonly isTransient: boolean;
  readonly fixedKey: NodeKey | undefined;

  /** @param kept - Whether tiles are asked for again: those that are drawn or written are not. */
  constructor(source: TileNode, matrix: Matrix3, kept: boolean) {
    this.#source = source.unrounded ?? source;
    this.extent = source.extent;
    this.#matrix = matrix;
    this.#key = keyOf('light', matrix);
    this.isTransient = !kept;
    this.fixedKey = source.fixedKey && mixKeys(this.#key, source.fixedKey);
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return this.fixedKey ?? mixKeys(this.#key, this.#source.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return withTile(this.#source, spot, context, (tile) => {
      const { isTransient } = this;
      return publishPicture(spot, key, context, { form: 'planes', extent: this.extent, isTransient }, (slots) =>
        convert(tile, rgbOf({ slots }, context), this.#matrix, context),
      );
    });
  }
}

/** A node in another space; the node itself when it is in it already. */
export function toSpace(node: TileNode, from: OutputSpace, to: OutputSpace, kept = false): TileNode {
  return from === to ? node : new LightNode(node, betweenSpaces(from, to), kept);
}

/** A picture made brighter by some stops; the node itself for none. */
export function withExposure(node: TileNode, stops: number): TileNode {
  const gain = 2 ** stops;
  return stops === 0 ? node : new LightNode(node, [gain, 0, 0, 0, gain, 0, 0, 0, gain], true);
}

function convert(from: PinnedTile, to: Rgb16, matrix: Matrix3, context: RenderContext): void {
  const { kernels, scratch } = context;
  const { encoding } = scratch.curves;
  scratch.lend(3, (red, green, blue) => {
    readLight(from, [red, green, blue], context);
    // In doubles: scenes keep the bits that they have had since.
    mixChannels([red, green, blue], matrix);
    for (const [index, plane] of [red, green, blue].entries()) kernels.encodeLinear(encoding, plane, to[index]);
  });
}
