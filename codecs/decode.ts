import type Vips from 'wasm-vips';
import { DecodeError } from './decodeError.ts';
import { type FileFormat, recogniseFormat } from './format.ts';
import { type VipsModule, vipsMessage } from './vipsModule.ts';

export interface DecodedSize {
  format: FileFormat;
  width: number;
  height: number;
  bits: 8 | 16;
}

export interface DecodeSteps {
  /** Told before any pixel is decoded; may throw to refuse. */
  onSize: (size: DecodedSize) => void;
  /** Rows in order: interleaved RGB, sRGB, 16 bits. The array is reused. */
  onRow: (row: Uint16Array) => void;
  /** Asked now and then. */
  isCancelled: () => boolean;
}

/** Largest picture that is decoded: 300 megapixels, beyond any camera of the trade. */
const MAX_PIXELS = 300e6;

/** Decodes a file row by row, upright, as sRGB.
 * @param bytes - The whole file.
 * @throws {DecodeError} */
export function decodeFrame(vips: VipsModule, bytes: Uint8Array, steps: DecodeSteps): DecodedSize {
  const format = recogniseFormat(bytes);
  const kept: { delete(): void }[] = [];
  const keep = <T extends { delete(): void }>(object: T): T => {
    kept.push(object);
    return object;
  };
  let refusal: unknown;
  try {
    const image = openUpright(vips, bytes, keep);
    const size = checkedSize(image, format);
    steps.onSize(size);
    const rgb = toRgb(image, size, keep);
    const target = keep(new vips.TargetCustom());
    const rows = new RowSplitter(size, steps);
    target.onWrite = (data) => {
      try {
        rows.take(data);
        return data.length;
      } catch (error) {
        refusal = error; // errors may not cross the library: remember, and make it stop
        return -1;
      }
    };
    rgb.rawsaveTarget(target);
    if (refusal) throw refusal;
    if (rows.rows !== size.height) throw new DecodeError('damaged', `${rows.rows} of ${size.height} rows`);
    return size;
  } catch (error) {
    if (refusal) throw refusal;
    if (error instanceof Error) throw error;
    throw new DecodeError('damaged', vipsMessage(error));
  } finally {
    for (const object of kept.reverse()) object.delete();
  }
}

type Keep = <T extends { delete(): void }>(object: T) => T;

function openUpright(vips: VipsModule, bytes: Uint8Array, keep: Keep): Vips.Image {
  const open = (access: 'sequential' | 'random') => {
    let at = 0;
    const source = keep(new vips.SourceCustom());
    source.onRead = (length) => {
      const piece = bytes.subarray(at, at + length);
      at += piece.length;
      return piece;
    };
    source.onSeek = (offset, whence) => {
      at = whence === 0 ? offset : whence === 1 ? at + offset : bytes.length + offset;
      return at;
    };
    return keep(vips.Image.newFromSource(source, '', { access, fail_on: 'error' }));
  };
  const image = open('sequential');
  const turned = image.getTypeof('orientation') !== 0 && image.getInt('orientation') > 1;
  return turned ? keep(open('random').autorot()) : image;
}

function checkedSize(image: Vips.Image, format: FileFormat): DecodedSize {
  const { width, height } = image;
  if (width * height > MAX_PIXELS) throw new DecodeError('too-large', `${width} x ${height} pixels`);
  if (image.format !== 'uchar' && image.format !== 'ushort')
    throw new DecodeError('unsupported', `samples of type ${image.format}`);
  if (image.interpretation === 'cmyk' || image.interpretation === 'lab')
    throw new DecodeError('unsupported', `${image.interpretation} colours`);
  return { format, width, height, bits: image.format === 'uchar' ? 8 : 16 };
}

/** Three bands in sRGB. A profile that is not sRGB itself is converted; alpha is dropped, grey becomes equal bands. */
function toRgb(image: Vips.Image, { bits }: DecodedSize, keep: Keep): Vips.Image {
  let rgb = image;
  if (image.getTypeof('icc-profile-data') !== 0 && !isSrgbProfile(image.getBlob('icc-profile-data'))) {
    rgb = keep(
      image.iccTransform('srgb', { embedded: true, depth: bits, intent: 'relative', black_point_compensation: true }),
    );
  }
  if (rgb.bands >= 3) return rgb.bands === 3 ? rgb : keep(rgb.extractBand(0, { n: 3 }));
  const grey = rgb.bands === 1 ? rgb : keep(rgb.extractBand(0));
  return keep(grey.bandjoin([grey, grey]));
}

/** Whether a profile names itself sRGB, in either of the encodings that profiles use for their description. */
function isSrgbProfile(profile: Uint8Array): boolean {
  const text = String.fromCharCode(...profile.subarray(0, 2048)).replaceAll('\0', '');
  return /sRGB/.test(text);
}

/** Cuts a stream of bytes into rows of 16-bit samples. */
class RowSplitter {
  readonly #size: DecodedSize;
  readonly #steps: DecodeSteps;
  readonly #bytes: Uint8Array;
  readonly #row: Uint16Array;
  #filled = 0;
  rows = 0;

  constructor(size: DecodedSize, steps: DecodeSteps) {
    this.#size = size;
    this.#steps = steps;
    this.#row = new Uint16Array(size.width * 3);
    this.#bytes = size.bits === 16 ? new Uint8Array(this.#row.buffer) : new Uint8Array(size.width * 3);
  }

  take(data: Uint8Array): void {
    for (let at = 0; at < data.length; ) {
      const piece = data.subarray(at, at + this.#bytes.length - this.#filled);
      this.#bytes.set(piece, this.#filled);
      this.#filled += piece.length;
      at += piece.length;
      if (this.#filled === this.#bytes.length) this.#finishRow();
    }
  }

  #finishRow(): void {
    this.#filled = 0;
    if (this.rows % 64 === 0 && this.#steps.isCancelled()) throw new DecodeError('cancelled', `at row ${this.rows}`);
    // 257 spreads 8 bits evenly over 16: 255 becomes 65,535.
    if (this.#size.bits === 8) for (let i = 0; i < this.#row.length; i++) this.#row[i] = this.#bytes[i] * 257;
    this.#steps.onRow(this.#row);
    this.rows++;
  }
}
