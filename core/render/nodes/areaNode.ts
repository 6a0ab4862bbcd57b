import type { NodeKey } from '../../raster/tileKey.ts';
import { type Area, areaAround, keyOfArea, placeIn } from '../tiles/neighbourhood.ts';
import type { RenderContext, Spot, TileNode } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';

/** How far a node looks around itself, and where that is computed. */
interface Reach {
  /** In scene pixels. */
  reach: number;
  /** Most pixels of a level that it is computed at, and most at the coarsest, where there is no other to go to. */
  widest: number;
  widestAtTop: number;
  /** Pixels that are looked at around a place, for a reach in pixels of a level. */
  marginOf: (reach: number) => number;
}

/** A mask refined by what lies around each place, computed at a level where that is little. */
export abstract class AreaNode extends DerivedNode {
  protected readonly mask: TileNode;
  readonly #reach: Reach;

  constructor(seed: NodeKey, mask: TileNode, reach: Reach) {
    super(seed, [mask]);
    this.mask = mask;
    this.#reach = reach;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    return keyOfArea(this.seed, this.mask, this.areaOf(spot), context);
  }

  /** The area that a tile needs. */
  protected areaOf(spot: Spot): Area {
    const { reach, widest, widestAtTop, marginOf } = this.#reach;
    return areaAround(spot, this.extent.size, reach, widest, (length) => marginOf(Math.min(widestAtTop, length)));
  }

  /** The reach in pixels of the area's level. */
  protected reachIn({ level }: Area): number {
    return Math.min(this.#reach.widestAtTop, this.#reach.reach / 2 ** level);
  }

  /** Reads a tile out of a plane of its area. */
  protected readBack(plane: Float32Array, area: Area, spot: Spot, context: RenderContext, out: Float32Array): void {
    const { step, x, y } = placeIn(area, spot);
    context.kernels.enlarge(plane, area.side, x, y, step, out);
  }
}
