import type Vips from 'wasm-vips';
import type { Size } from '#core/raster/size.ts';
import { DecodeError } from '../decodeError.ts';
import { assertSize } from '../picture.ts';
import { type Keep, keeper, type VipsModule, vipsMessage } from '../vipsModule.ts';

/** A layer as two pictures of the whole canvas: its colours, and what it covers. */
export interface SplitLayer {
  colour: Uint8Array<ArrayBuffer>;
  /** Undefined where it covers everything. */
  covers: Uint8Array<ArrayBuffer> | undefined;
}

/** Takes a layer's picture apart, laid where it lies on its canvas; PNG files both, as deep as it is.
 * @param bytes - Its picture; without one, a black canvas.
 * @throws {DecodeError} `damaged` or `too-large`. */
export function splitLayer(
  vips: VipsModule,
  bytes: Uint8Array | undefined,
  canvas: Size,
  at: { x: number; y: number },
): SplitLayer {
  const { keep, close } = keeper();
  try {
    const image = bytes
      ? keep(vips.Image.newFromBuffer(bytes))
      : keep(vips.Image.black(canvas.width, canvas.height, { bands: 3 }));
    assertSize(image.width, image.height);
    const inColour = image.bands < 3 ? keep(image.colourspace(image.format === 'ushort' ? 'rgb16' : 'srgb')) : image;
    const isWhole = at.x === 0 && at.y === 0 && image.width === canvas.width && image.height === canvas.height;
    const hasAlpha = inColour.bands === 4;
    const colour = keep(inColour.extractBand(0, { n: 3 }));
    const laid = isWhole ? colour : keep(colour.embed(at.x, at.y, canvas.width, canvas.height, { extend: 'copy' }));
    const alpha = coverage(vips, inColour, hasAlpha, isWhole, keep);
    const covers = alpha && (isWhole ? alpha : keep(alpha.embed(at.x, at.y, canvas.width, canvas.height)));
    const isOpaque = covers === undefined || covers.min() === most(covers);
    return {
      colour: saved(laid, image),
      covers: isOpaque
        ? undefined
        : saved(keep(covers.copy({ interpretation: covers.format === 'ushort' ? 'grey16' : 'b-w' }))),
    };
  } catch (error) {
    if (error instanceof DecodeError) throw error;
    throw new DecodeError('damaged', vipsMessage(error));
  } finally {
    close();
  }
}

/** What a picture covers; undefined for one that is the whole canvas and has no alpha. */
function coverage(
  vips: VipsModule,
  image: Vips.Image,
  hasAlpha: boolean,
  isWhole: boolean,
  keep: Keep,
): Vips.Image | undefined {
  if (hasAlpha) return keep(image.extractBand(3));
  if (isWhole) return undefined;
  const black = keep(vips.Image.black(image.width, image.height));
  return keep(keep(black.linear(0, 255)).cast('uchar'));
}

const most = (image: Vips.Image): number => (image.format === 'ushort' ? 65535 : 255);

/** @param from - Whose profile it keeps; none, if it is not told. */
function saved(image: Vips.Image, from?: Vips.Image): Uint8Array<ArrayBuffer> {
  const hasProfile = from !== undefined && from.getTypeof('icc-profile-data') !== 0;
  return new Uint8Array(image.pngsaveBuffer({ compression: 2, filter: 'sub', keep: hasProfile ? 'icc' : 'none' }));
}
