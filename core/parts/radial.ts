import { z } from 'zod';
import { smoothstep } from '../kernels/smoothstep.ts';
import { TILE } from '../raster/size.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { publishCoverage } from '../render/tiles/coverageTile.ts';
import type { Extent, RenderContext, Spot, TileNode } from '../render/tiles/renderContext.ts';
import { definePart } from './definePart.ts';
import { partBase, plainPart } from './partBase.ts';
import { nearPoint, ScenePoint } from './scenePoint.ts';

/** An ellipse: full inside, falling to nothing at its rim. */
export const RadialPart = z.strictObject({
  kind: z.literal('radial'),
  ...partBase,
  centre: ScenePoint,
  radiusX: z.number().min(1).max(100_000),
  radiusY: z.number().min(1).max(100_000),
  /** Degrees, clockwise. */
  turn: z.number().min(-180).max(180),
  /** Share of the radii over which it falls. */
  feather: z.number().min(0).max(1),
});
export type RadialPart = z.infer<typeof RadialPart>;

export const radial = definePart({
  schema: RadialPart,
  begin: ({ size: { width, height } }): RadialPart => ({
    kind: 'radial',
    ...plainPart('radial'),
    centre: { x: width / 2, y: height / 2 },
    radiusX: width / 4,
    radiusY: height / 4,
    turn: 0,
    feather: 0.5,
  }),
  withNearPlaces: (part, near) => ({ ...part, centre: nearPoint(part.centre, near) }),
  build: (part, { extent }) => new RadialNode(part, extent),
  rows: [
    { path: ['feather'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.5 },
    { path: ['turn'], min: -180, max: 180, step: 0.5, unit: 'degrees', usual: 0 },
  ],
});

/** An ellipse that falls to nothing at its rim. */
class RadialNode implements TileNode {
  readonly extent: Extent;
  readonly #part: RadialPart;
  readonly fixedKey: NodeKey;

  constructor(part: RadialPart, extent: Extent) {
    this.extent = extent;
    this.#part = part;
    const { centre, radiusX, radiusY, turn, feather } = part;
    this.fixedKey = keyOf('radial', [centre, radiusX, radiusY, turn, feather]);
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { centre, radiusX, radiusY, turn, feather } = this.#part;
    const step = 2 ** spot.level;
    const angle = (turn * Math.PI) / 180;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    // No edge is sharper than a pixel.
    const fall = Math.max(feather, step / Math.min(radiusX, radiusY));
    return context.scratch.lend(1, (out) => {
      for (let y = 0; y < TILE; y++)
        for (let x = 0; x < TILE; x++) {
          const dx = (spot.tx * TILE + x + 0.5) * step - centre.x;
          const dy = (spot.ty * TILE + y + 0.5) * step - centre.y;
          const [across, down] = [(dx * cos + dy * sin) / radiusX, (dy * cos - dx * sin) / radiusY];
          out[y * TILE + x] = smoothstep((1 - Math.sqrt(across * across + down * down)) / fall);
        }
      return publishCoverage(out, spot, key, context);
    });
  }
}
