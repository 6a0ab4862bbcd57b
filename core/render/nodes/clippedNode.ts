import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishPicture, rgbOf, withRounded } from '../tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';

const FULL = 65535;

/** Where channels of a picture lie at an end of the range once it is rounded to 16 bits: those at white shine on black, each in its colour; those at
 * black are missing from white. */
export class ClippedNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #end: 'black' | 'white';

  constructor(source: TileNode, end: 'black' | 'white') {
    super(keyOf('clipped', end), [source]);
    this.#source = source;
    this.#end = end;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const [at, none] = this.#end === 'white' ? [FULL, 0] : [0, FULL];
    return withTile(this.#source, spot, context, (tile) =>
      withRounded(tile, context, (rgb) =>
        publishPicture(spot, key, context, { form: 'planes', extent: this.extent }, (slots) => {
          for (const [channel, out] of rgbOf({ slots }, context).entries())
            for (let i = 0; i < out.length; i++) out[i] = rgb[channel][i] === at ? at : none;
        }),
      ),
    );
  }
}
