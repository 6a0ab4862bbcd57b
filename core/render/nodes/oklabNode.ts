import { CHROMA_FULL, labOfLms, lmsMatrix } from '../../color/oklab.ts';
import type { WorkingSpace } from '../../color/workingSpace.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { withRounded } from '../tiles/pictureTile.ts';
import {
  keepBriefly,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  withTile,
} from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';

const TURN = 65536 / (2 * Math.PI);

/** Takes a pixel's place, lightness and two axes of colour. */
type TakeLab = (i: number, l: number, a: number, b: number) => void;

/** A picture as three planes of 16 bits that are made of each pixel's Oklab. */
export abstract class OfOklab extends DerivedNode {
  readonly #source: TileNode;
  readonly #matrix: readonly number[];

  /** @param kind - Different for every kind of planes. */
  constructor(kind: string, source: TileNode, space: WorkingSpace) {
    super(keyOf(kind, space), [source]);
    this.#source = source;
    this.#matrix = lmsMatrix(space);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, scratch } = context;
    const slots = withTile(this.#source, spot, context, (tile) =>
      withRounded(tile, context, (rgb) => {
        const made = reserveOrFail(context, 3);
        const planes = made.map((slot) => table.slab.plane(slot));
        eachLab(rgb, this.#matrix, scratch.curves.decoding, this.writer(planes));
        return made;
      }),
    );
    return keepBriefly(context, key, spot, { form: 'planes', slots });
  }

  /** Writes pixels to planes. */
  protected abstract writer(planes: readonly Uint16Array[]): TakeLab;
}

/** @param m - Of the picture's space, see `lmsMatrix`.
 * @param decoding - Linear light of 65,536 encoded values. */
function eachLab(
  [red, green, blue]: readonly Uint16Array[],
  m: readonly number[],
  decoding: Float32Array,
  take: TakeLab,
): void {
  for (let i = 0; i < red.length; i++) {
    const [r, g, b] = [decoding[red[i]], decoding[green[i]], decoding[blue[i]]];
    const [l, x, y] = labOfLms([
      m[0] * r + m[1] * g + m[2] * b,
      m[3] * r + m[4] * g + m[5] * b,
      m[6] * r + m[7] * g + m[8] * b,
    ]);
    take(i, l, x, y);
  }
}

/** A picture as lightness, chroma (against `CHROMA_FULL`) and hue of Oklab; a whole turn of hues is 65,536. It costs more than what
 * reads it, so it is kept. */
export class OklabNode extends OfOklab {
  constructor(source: TileNode, space: WorkingSpace) {
    super('oklab', source, space);
  }

  protected override writer([lightness, chroma, hue]: readonly Uint16Array[]): TakeLab {
    return (i, l, a, b) => {
      lightness[i] = Math.min(65535, Math.max(0, l * 65535 + 0.5));
      chroma[i] = Math.min(65535, (Math.sqrt(a * a + b * b) / CHROMA_FULL) * 65535 + 0.5);
      hue[i] = Math.round(Math.atan2(b, a) * TURN) & 65535;
    };
  }
}

/** How vivid a picture is: the chroma of its Oklab. */
export class ChromaNode extends DerivedNode {
  readonly #source: OklabNode;

  constructor(source: OklabNode) {
    super(keyOf('chroma', 1), [source]);
    this.#source = source;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table } = context;
    return withTile(this.#source, spot, context, ({ slots: planes }) => {
      const slots = reserveOrFail(context, 1);
      table.slab.plane(slots[0]).set(table.slab.plane(planes[1]));
      return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
    });
  }
}
