import { createAdler32, createCRC32, type IHasher } from 'hash-wasm';
import { FILE_CURVES } from '#core/color/workingSpace.ts';
import { buildExifBlock } from '../exifBlock.ts';
import { joinBytes } from '../joinBytes.ts';
import type { VipsModule } from '../vipsModule.ts';
import type { RowFeed } from './rowSource.ts';
import { feedOf, type WriteOptions, writePicture } from './writePicture.ts';

/** PNG files (W3C 2025, third edition) whose pixels are stored as they are: the library hands such files on in thousands of small pieces from
 * another thread, or holds them whole, and both take longer than what there is to do. */

const SIGNATURE_BYTES = 8;
/** A chunk's length and name, and the checksum behind it. */
const CHUNK_HEAD = 8;
const CHUNK_TAIL = 4;
const ZLIB_HEAD = [0x78, 0x01];
/** DEFLATE (RFC 1951, 3.2.4): most bytes of a stored block, and what leads to them. */
const BLOCK = 65535;
const BLOCK_HEAD = 5;
/** About so many bytes are handed on at a time. */
const PIECE = 2 ** 21;
const SPECK = { width: 8, height: 8 };

/** Whether a picture is to be a PNG of 16 bits, not deflated, and its rows come as the file will hold them. */
export function isStored(
  { kind, width, height }: RowFeed,
  { file, size, sharpening, own, space }: WriteOptions,
): boolean {
  if (file.format !== 'png' || file.bits !== 16 || file.effort !== 0 || kind !== 'codes' || own) return false;
  const isScaled = width !== size.width || height !== size.height;
  return !isScaled && sharpening.amount === 0 && FILE_CURVES[space] === 'srgb';
}

/** Writes a picture to a PNG that stores it, as its rows come; see {@link isStored}.
 * @param onBytes - Takes the pieces of the file in order; each is its own.
 * @throws {DecodeError} whatever the rows threw. */
export async function writeStoredPng(
  vips: VipsModule,
  feed: RowFeed,
  options: WriteOptions,
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
): Promise<undefined> {
  const { width, height, channels } = feed;
  const [crc, adler] = await Promise.all([createCRC32(), createAdler32()]);
  const { head, tail } = aroundPixels(vips, feed, options, crc);
  onBytes(head);
  adler.init();
  const rowBytes = 1 + 2 * width * channels;
  const most = Math.max(1, Math.floor(PIECE / rowBytes));
  const unfiltered = rowsOf(rowBytes, most);
  for (let done = 0; done < height; ) {
    const samples = feed.next() as Uint16Array;
    const rows = samples.length / (width * channels);
    for (let from = 0; from < rows; from += most) {
      const to = Math.min(rows, from + most);
      const filtered = unfiltered(samples.subarray(from * width * channels, to * width * channels));
      adler.update(filtered);
      const isFirst = done === 0 && from === 0;
      onBytes(pixelChunk(filtered, isFirst, done + to === height ? adler.digest('binary') : undefined, crc));
    }
    done += rows;
  }
  onBytes(tail);
  return undefined;
}

/** Makes rows, high bytes first, each led by its filter: none. What it answers is written over the next time.
 * @param most - Rows at a time. */
function rowsOf(rowBytes: number, most: number): (samples: Uint16Array) => Uint8Array {
  const sampleBytes = rowBytes - 1;
  const swapped = new Uint32Array(Math.ceil((most * sampleBytes) / 4));
  const bytes = new Uint8Array(swapped.buffer);
  const halves = new Uint16Array(swapped.buffer);
  const pairs = new Uint32Array(swapped.length);
  const taken = new Uint16Array(pairs.buffer);
  const out = new Uint8Array(most * rowBytes);
  return (samples) => {
    // Two samples at a time, whatever place they lie at.
    taken.set(samples);
    const count = samples.length >> 1;
    for (let i = 0; i < count; i++) swapped[i] = ((pairs[i] & 0x00ff00ff) << 8) | ((pairs[i] >>> 8) & 0x00ff00ff);
    if (samples.length % 2 === 1) {
      const last = samples[samples.length - 1];
      halves[samples.length - 1] = (last << 8) | (last >> 8);
    }
    const rows = (2 * samples.length) / sampleBytes;
    for (let row = 0; row < rows; row++)
      out.set(bytes.subarray(row * sampleBytes, (row + 1) * sampleBytes), row * rowBytes + 1);
    return out.subarray(0, rows * rowBytes);
  };
}

/** A chunk of pixels, in stored blocks.
 * @param sum - What ends the stream; undefined when more chunks follow. */
function pixelChunk(
  bytes: Uint8Array,
  isFirst: boolean,
  sum: Uint8Array | undefined,
  crc: IHasher,
): Uint8Array<ArrayBuffer> {
  const blocks = Math.ceil(bytes.length / BLOCK);
  const length = (isFirst ? ZLIB_HEAD.length : 0) + bytes.length + BLOCK_HEAD * blocks + (sum?.length ?? 0);
  const chunk = startChunk('IDAT', length);
  const view = new DataView(chunk.buffer);
  let at = CHUNK_HEAD;
  if (isFirst) {
    chunk.set(ZLIB_HEAD, at);
    at += ZLIB_HEAD.length;
  }
  for (let block = 0; block < blocks; block++) {
    const held = bytes.subarray(block * BLOCK, (block + 1) * BLOCK);
    chunk[at] = sum && block === blocks - 1 ? 1 : 0;
    view.setUint16(at + 1, held.length, true);
    view.setUint16(at + 3, ~held.length & 0xffff, true);
    chunk.set(held, at + BLOCK_HEAD);
    at += BLOCK_HEAD + held.length;
  }
  if (sum) chunk.set(sum, at);
  return sealed(chunk, crc);
}

function startChunk(name: string, length: number): Uint8Array<ArrayBuffer> {
  const chunk = new Uint8Array(CHUNK_HEAD + length + CHUNK_TAIL);
  new DataView(chunk.buffer).setUint32(0, length);
  chunk.set(new TextEncoder().encode(name), 4);
  return chunk;
}

/** The chunk with its checksum. */
function sealed(chunk: Uint8Array<ArrayBuffer>, crc: IHasher): Uint8Array<ArrayBuffer> {
  crc.init();
  chunk.set(crc.update(chunk.subarray(4, -CHUNK_TAIL)).digest('binary'), chunk.length - CHUNK_TAIL);
  return chunk;
}

const SHOT = 'eXIf';

/** What comes before a picture's pixels and after them: that of a speck which the library writes, for a picture of this size. Shot data are those
 * that were asked for: the library's own would say the speck's size. */
function aroundPixels(vips: VipsModule, feed: RowFeed, options: WriteOptions, crc: IHasher) {
  const pieces: Uint8Array<ArrayBuffer>[] = [];
  const speck = feedOf(new Uint16Array(SPECK.width * SPECK.height * feed.channels), SPECK, feed.channels);
  const { exif, ...others } = options;
  writePicture(vips, speck, { ...others, size: SPECK }, (bytes) => pieces.push(bytes));
  const file = joinBytes(pieces);
  const chunks = [...chunksOf(file)].filter(({ name }) => name !== SHOT);
  const pixels = chunks.findIndex(({ name }) => name === 'IDAT');
  const [header, ...before] = chunks.slice(0, pixels).map(({ bytes }) => bytes.slice());
  const view = new DataView(header.buffer);
  view.setUint32(CHUNK_HEAD, feed.width);
  view.setUint32(CHUNK_HEAD + 4, feed.height);
  return {
    head: joinBytes([file.slice(0, SIGNATURE_BYTES), sealed(header, crc), ...before, ...shotChunk(exif, crc)]),
    tail: joinBytes(chunks.slice(pixels).flatMap(({ name, bytes }) => (name === 'IDAT' ? [] : [bytes.slice()]))),
  };
}

function shotChunk(exif: WriteOptions['exif'], crc: IHasher): Uint8Array[] {
  const block = exif && buildExifBlock(exif.values, exif.tells);
  if (!block) return [];
  const chunk = startChunk(SHOT, block.length);
  chunk.set(block, CHUNK_HEAD);
  return [sealed(chunk, crc)];
}

function* chunksOf(file: Uint8Array<ArrayBuffer>): Generator<{ name: string; bytes: Uint8Array<ArrayBuffer> }> {
  const view = new DataView(file.buffer, file.byteOffset, file.length);
  for (let at = SIGNATURE_BYTES; at < file.length; ) {
    const end = at + CHUNK_HEAD + view.getUint32(at) + CHUNK_TAIL;
    yield { name: new TextDecoder().decode(file.subarray(at + 4, at + CHUNK_HEAD)), bytes: file.subarray(at, end) };
    at = end;
  }
}
