import { z } from 'zod';
import { fillPolygon } from '../masks/polygon.ts';
import { TILE } from '../raster/size.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { SoftenNode } from '../render/nodes/softenNode.ts';
import { publishCoverage } from '../render/tiles/coverageTile.ts';
import type { Extent, RenderContext, Spot, TileNode } from '../render/tiles/renderContext.ts';
import { definePart } from './definePart.ts';
import { partBase, plainPart } from './partBase.ts';

/** The inside of a closed line of straight pieces. */
export const OutlinePart = z.strictObject({
  kind: z.literal('outline'),
  ...partBase,
  /** x, y, x, y in scene pixels. */
  corners: z.array(z.number()).max(8000),
  /** How far the edge is soft, in scene pixels. */
  feather: z.number().min(0).max(400),
});
export type OutlinePart = z.infer<typeof OutlinePart>;

/** The inside of an outline, its edge as soft as it says.
 * @param corners - x, y, x, y in scene pixels. */
export function outlineNode(corners: readonly number[], feather: number, extent: Extent): TileNode {
  const sharp = new OutlineNode(corners, extent);
  return feather > 0 ? new SoftenNode(sharp, feather / 2) : sharp;
}

export const outline = definePart({
  schema: OutlinePart,
  begin: ({ size }): OutlinePart => ({
    kind: 'outline',
    ...plainPart('outline'),
    corners: [],
    feather: Math.round(size.width / 200),
  }),
  isBlank: ({ corners }) => corners.length < 6,
  withNearPlaces: (part, near) => ({ ...part, corners: part.corners.map(near) }),
  build: ({ corners, feather }, { extent }) => outlineNode(corners, feather, extent),
  rows: [{ path: ['feather'], min: 0, max: 400, step: 1, unit: 'px', usual: 0 }],
});

/** The inside of an outline. Tiles far from its line are alike. */
class OutlineNode implements TileNode {
  readonly extent: Extent;
  readonly #corners: readonly number[];
  readonly fixedKey: NodeKey;

  constructor(corners: readonly number[], extent: Extent) {
    this.extent = extent;
    this.#corners = corners;
    this.fixedKey = keyOf('outline', corners);
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { level, tx, ty } = spot;
    const scale = 2 ** -level;
    const origin = [tx * TILE, ty * TILE];
    return context.scratch.lend(1, (out) => {
      fillPolygon(
        this.#corners.map((value, index) => value * scale - origin[index & 1]),
        out,
      );
      return publishCoverage(out, spot, key, context);
    });
  }
}
