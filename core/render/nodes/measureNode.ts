import { toneWeights, type WorkingSpace } from '../../color/workingSpace.ts';
import type { Measure } from '../../masks/measure.ts';
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
import { ChromaNode, type OklabNode } from './oklabNode.ts';
import { TableNode } from './tableNode.ts';

type PlainMeasure = 'luminance' | 'linear' | 'brightest' | 'red' | 'green' | 'blue';
const CHANNEL = { red: 0, green: 1, blue: 2 } as const;

/** One number read of every pixel of a picture: one plane, shared by all parts that read the same. */
class MeasureNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #measure: PlainMeasure;
  readonly #weights: readonly [number, number, number];

  constructor(source: TileNode, measure: PlainMeasure, weights: readonly [number, number, number]) {
    super(keyOf(measure, weights), [source]);
    this.#source = source;
    this.#measure = measure;
    this.#weights = weights;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table } = context;
    const slots = withTile(this.#source, spot, context, (tile) =>
      withRounded(tile, context, (rgb) => {
        const slots = reserveOrFail(context, 1);
        this.#read(rgb, table.slab.plane(slots[0]), context);
        return slots;
      }),
    );
    return keepBriefly(context, key, spot, { form: 'planes', slots });
  }

  #read([red, green, blue]: readonly Uint16Array[], out: Uint16Array, { kernels, scratch }: RenderContext): void {
    const measure = this.#measure;
    if (measure === 'luminance') kernels.luminance(red, green, blue, this.#weights, out);
    else if (measure === 'linear')
      kernels.linearLuminance(scratch.curves.decoding, red, green, blue, this.#weights, out);
    else if (measure === 'brightest') {
      for (let i = 0; i < out.length; i++) out[i] = Math.max(red[i], green[i], blue[i]);
    } else kernels.copyPlane([red, green, blue][CHANNEL[measure]], out);
  }
}

/** Lightness of CIE 1976 L*a*b* from luminance against white (CIE 15:2004, section 8.2.1.1), 0..1. */
export function lightnessOf(luminance: number): number {
  const root = luminance > 216 / 24389 ? Math.cbrt(luminance) : ((24389 / 27) * luminance + 16) / 116;
  return (116 * root - 16) / 100;
}

/** Code of the lightness of a code of luminance. */
export const lightnessCode = (code: number): number => Math.round(65535 * lightnessOf(code / 65535));

const lightnessTable = (): Uint16Array => Uint16Array.from({ length: 65536 }, (_, code) => lightnessCode(code));

/** Luminance of linear light, as one plane. */
export const linearLuminance = (source: TileNode, space: WorkingSpace): TileNode =>
  new MeasureNode(source, 'linear', toneWeights(space));

/** What a part reads of a picture, as one plane.
 * @param oklab - The same picture in Oklab. */
export function measureOf(source: TileNode, measure: Measure, space: WorkingSpace, oklab: () => OklabNode): TileNode {
  if (measure === 'chroma') return new ChromaNode(oklab());
  if (measure === 'lightness') return new TableNode(linearLuminance(source, space), 'lightness', lightnessTable);
  return new MeasureNode(source, measure, toneWeights(space));
}
