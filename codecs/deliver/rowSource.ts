import type Vips from 'wasm-vips';
import { joinBytes } from '../joinBytes.ts';
import type { Keep, VipsModule } from '../vipsModule.ts';
import { CLASSIC_END, HEADER_BYTES, layOutPages, numbersField, shortsField } from './tiffFile.ts';

/** How samples come: 16 bits encoded with the curve of sRGB, or light in floats. */
export type RowKind = 'codes' | 'light';

/** A picture that comes from its top, some rows at a time. */
export interface RowFeed {
  width: number;
  height: number;
  /** One, three, or four with what covers. */
  channels: number;
  kind: RowKind;
  /** The next rows, samples interleaved; they may be written over once the next are asked for.
   * @throws {DecodeError} `cancelled` when no more will come. */
  next: () => Uint16Array | Float32Array;
}

export const sampleBytes = (kind: RowKind): number => (kind === 'codes' ? 2 : 4);

/** A picture of the library that reads its rows as they come. Nothing of it is kept but what is at hand.
 * @param refused - Told why rows did not come: errors may not cross the library. */
export function openRows(vips: VipsModule, feed: RowFeed, keep: Keep, refused: (error: unknown) => void): Vips.Image {
  const { head, length } = plainTiff(feed);
  let rows = new Uint8Array(0);
  /** Where rows begin and the library is, in the file that it believes to read. */
  let from = head.length;
  let place = 0;
  const take = (count: number): Uint8Array => {
    const parts: Uint8Array[] = [];
    for (let left = count; left > 0; ) {
      if (place === from + rows.length) {
        const { buffer, byteOffset, byteLength } = feed.next();
        from += rows.length;
        rows = new Uint8Array(buffer as ArrayBuffer, byteOffset, byteLength);
      }
      if (place < from) throw new RangeError('rows are asked for that are gone');
      const part = rows.subarray(place - from, place - from + left);
      place += part.length;
      left -= part.length;
      // What is written over by the next rows is not kept.
      parts.push(left > 0 ? part.slice() : part);
    }
    return parts.length === 1 ? parts[0] : joinBytes(parts);
  };
  let read: Vips.Image | undefined;
  let isOver = false;
  const source = keep(new vips.SourceCustom());
  source.onSeek = (offset, whence) => {
    place = whence === 0 ? offset : whence === 1 ? place + offset : length + offset;
    return place;
  };
  source.onRead = (wanted) => {
    if (place >= length) return undefined;
    if (place < head.length) {
      const part = head.subarray(place, place + wanted);
      place += part.length;
      return part as unknown as ReturnType<typeof source.onRead>;
    }
    const count = Math.min(wanted, length - place);
    try {
      if (!isOver) return take(count) as unknown as ReturnType<typeof source.onRead>;
    } catch (error) {
      refused(error);
      isOver = true;
      if (read) read.kill = true;
    }
    // The library would wait for ever for bytes that do not come; with any it finds that it was told to stop.
    place += count;
    return new Uint8Array(count) as unknown as ReturnType<typeof source.onRead>;
  };
  read = keep(vips.Image.newFromSource(source, '', { access: 'sequential', fail_on: 'truncated' }));
  const [grey, colour] = NAMES[feed.kind];
  return keep(read.copy({ interpretation: feed.channels === 1 ? grey : colour }));
}

/** What the library calls pictures of one and of more channels. */
const NAMES = { codes: ['grey16', 'rgb16'], light: ['b-w', 'scrgb'] } as const;

/** About so many bytes are read at a time: each read goes from thread to thread, which takes longer than reading. */
const STRIP_BYTES = 2 ** 21;
/** TIFF 6.0: ImageWidth, ImageLength, BitsPerSample, Compression, PhotometricInterpretation, StripOffsets, SamplesPerPixel, RowsPerStrip,
 * StripByteCounts, PlanarConfiguration, ExtraSamples, SampleFormat. */
const TAGS = {
  width: 256,
  height: 257,
  bits: 258,
  compression: 259,
  photometric: 262,
  offsets: 273,
  samples: 277,
  rows: 278,
  counts: 279,
  planar: 284,
  extra: 338,
  format: 339,
} as const;

/** What comes before the rows of a picture so that they are an uncompressed TIFF, and the bytes of all. It has the processor's own order: that
 * of WebAssembly. */
function plainTiff({ width, height, channels, kind }: RowFeed): { head: Uint8Array; length: number } {
  const bytes = sampleBytes(kind);
  const rowBytes = width * channels * bytes;
  const stripRows = Math.min(height, Math.max(1, Math.floor(STRIP_BYTES / rowBytes)));
  const strips = Math.ceil(height / stripRows);
  const each = (value: number) => Array.from({ length: channels }, () => value);
  const counts = Array.from({ length: strips }, (_, i) => rowBytes * Math.min(stripRows, height - i * stripRows));
  // Room for both lists, in the longer of their forms, and for all else.
  const start = HEADER_BYTES + 1024 + 16 * strips;
  const length = start + rowBytes * height;
  const fields = [
    numbersField(TAGS.width, [width]),
    numbersField(TAGS.height, [height]),
    shortsField(TAGS.bits, each(8 * bytes)),
    shortsField(TAGS.compression, [1]),
    shortsField(TAGS.photometric, [channels === 1 ? 1 : 2]),
    numbersField(
      TAGS.offsets,
      counts.map((_, i) => start + i * stripRows * rowBytes),
    ),
    shortsField(TAGS.samples, [channels]),
    numbersField(TAGS.rows, [stripRows]),
    numbersField(TAGS.counts, counts),
    shortsField(TAGS.planar, [1]),
    ...(channels === 4 ? [shortsField(TAGS.extra, [2])] : []),
    shortsField(TAGS.format, each(kind === 'codes' ? 1 : 3)),
  ];
  const { header, tail } = layOutPages([{ fields }], HEADER_BYTES, length > CLASSIC_END ? 0 : CLASSIC_END);
  const head = new Uint8Array(start);
  head.set(header);
  head.set(tail, HEADER_BYTES);
  return { head, length };
}
