import { smoothstep } from '../../kernels/smoothstep.ts';
import { fillPolygon } from '../../masks/polygon.ts';
import { TILE } from '../../raster/size.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import type { OutlinePart, RadialPart } from '../../scene/mask.ts';
import { publishCoverage } from '../tiles/coverageTile.ts';
import type { Extent, RenderContext, Spot, TileNode } from '../tiles/renderContext.ts';

/** The inside of an outline. Tiles far from its line are alike. */
export class OutlineNode implements TileNode {
  readonly extent: Extent;
  readonly #corners: readonly number[];
  readonly fixedKey: NodeKey;

  constructor(corners: OutlinePart['corners'], extent: Extent) {
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

/** An ellipse that falls to nothing at its rim. */
export class RadialNode implements TileNode {
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
