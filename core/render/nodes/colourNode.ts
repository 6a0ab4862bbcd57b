import { TILE } from '../../raster/size.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishPicture, rgbOf, writeFloats } from '../tiles/pictureTile.ts';
import type { Extent, RenderContext, Spot, TileNode } from '../tiles/renderContext.ts';

/** Encoded red, green and blue, 0..1. */
type Colour = readonly [number, number, number];
interface Point {
  x: number;
  y: number;
}

/** One colour everywhere. */
export class ColourNode implements TileNode {
  readonly extent: Extent;
  readonly fixedKey: NodeKey;
  readonly #colour: Colour;

  constructor(colour: Colour, extent: Extent) {
    this.#colour = colour;
    this.extent = extent;
    this.fixedKey = keyOf('colour', colour);
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return publishPicture(spot, key, context, { form: 'planes', extent: this.extent }, (slots) => {
      for (const [channel, plane] of rgbOf({ slots }, context).entries())
        plane.fill(Math.round(65535 * this.#colour[channel]));
    });
  }
}

/** From one colour to another: its ends in scene pixels. */
export interface ColourRun {
  start: Point;
  end: Point;
  from: Colour;
  to: Colour;
}

/** A run from one colour to another along a line of the scene, even on either side of its ends; in floats, so that it does not band. */
export class ColourRunNode implements TileNode {
  readonly extent: Extent;
  readonly fixedKey: NodeKey;
  readonly #run: ColourRun;

  constructor(run: ColourRun, extent: Extent) {
    this.#run = run;
    this.extent = extent;
    this.fixedKey = keyOf('colour run', run);
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { start, end, from, to } = this.#run;
    const [dx, dy] = [end.x - start.x, end.y - start.y];
    const scale = 2 ** spot.level;
    const squared = dx * dx + dy * dy;
    return context.scratch.lend(3, (red, green, blue) => {
      for (let y = 0, i = 0; y < TILE; y++) {
        const down = (spot.ty * TILE + y + 0.5) * scale - start.y;
        for (let x = 0; x < TILE; x++, i++) {
          const across = (spot.tx * TILE + x + 0.5) * scale - start.x;
          // Ends in one place part the picture there.
          const along = squared > 0 ? (across * dx + down * dy) / squared : across;
          const share = Math.min(1, Math.max(0, along));
          red[i] = 65535 * (from[0] + (to[0] - from[0]) * share);
          green[i] = 65535 * (from[1] + (to[1] - from[1]) * share);
          blue[i] = 65535 * (from[2] + (to[2] - from[2]) * share);
        }
      }
      return publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
        writeFloats([red, green, blue], slots, context),
      );
    });
  }
}
