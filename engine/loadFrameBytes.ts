import { DecodeError } from '#codecs/decodeError.ts';
import { sha256Of } from '#codecs/hash.ts';
import type { Libraries } from '#codecs/libraries.ts';
import { openPicture } from '#codecs/openPicture.ts';
import type { OpenPicture } from '#codecs/picture.ts';
import { readShotData } from '#codecs/shotData.ts';
import { FrameId } from '#core/ids.ts';
import { levelCount, type Size } from '#core/raster/size.ts';
import { SLOT_BYTES } from '#core/raster/tileSlab.ts';
import type { TileTable } from '#core/raster/tileTable.ts';
import { isRawFormat, type Reading, type ReadingWish } from '#core/reading.ts';
import { frameKey } from '#core/render/nodes/frameNode.ts';
import { type FrameLoader, frameSlots, IncomingFrame } from '#core/render/tiles/loadFrame.ts';
import { RenderError } from '#core/render/tiles/renderContext.ts';
import { type Frame, newFrame } from '#core/scene/frame.ts';

/** Slots for tiles of frames that have to be in memory to compute anything at all. */
const WORKING_SLOTS = 64;

export interface LoadOptions {
  name: string;
  reading: ReadingWish;
  /** The size that the scene's frames have, once it has any. */
  expect: Size | undefined;
  /** Told 0 before the first pixel goes into memory. */
  onProgress: (share: number) => void;
  isCancelled: () => boolean;
}

/** Reads a file into the tile table and answers the frame it is. A file that is in the table already is not read again.
 * @throws {DecodeError} */
export async function loadFrameBytes(
  libraries: Libraries,
  loader: FrameLoader,
  bytes: Uint8Array<ArrayBuffer>,
  options: LoadOptions,
): Promise<Frame> {
  const { expect, onProgress, isCancelled } = options;
  const sha256 = await sha256Of(bytes);
  const picture = await openPicture(libraries, bytes, options.reading);
  const key = frameKey(sha256, readingOf(picture, options.reading));
  let incoming: IncomingFrame | undefined;
  try {
    const { width, height, bits } = picture;
    if (expect && (width !== expect.width || height !== expect.height))
      throw new DecodeError('size-differs', `${width} x ${height}, not ${expect.width} x ${expect.height}`);
    if (!isLoaded(loader.table, key, picture)) {
      assertRoom(loader.table, picture);
      const told = progressOf(picture, onProgress);
      await picture.decode({
        onStart: () => {
          incoming?.abandon();
          told.again();
          onProgress(0);
          if (isCancelled()) throw new DecodeError('cancelled', 'before the first pixel');
          incoming = new IncomingFrame(loader, key, { width, height }, bits);
        },
        onBytes: (piece) => {
          incoming?.add(piece);
          told.more(piece.length);
        },
        isCancelled,
      });
      incoming?.buildPyramid();
    }
    onProgress(1);
    return await frameOf(bytes, sha256, picture, options);
  } catch (error) {
    incoming?.abandon();
    if (error instanceof RenderError) throw new DecodeError('memory-full', error.message);
    throw error;
  } finally {
    picture.close();
  }
}

/** Reads a file from top to bottom without keeping its pixels, and answers the frame that it would become.
 * @throws {DecodeError} */
export async function inspectBytes(
  libraries: Libraries,
  bytes: Uint8Array<ArrayBuffer>,
  options: Pick<LoadOptions, 'name' | 'reading'>,
): Promise<Frame> {
  const picture = await openPicture(libraries, bytes, options.reading);
  try {
    await picture.decode({ onStart: () => undefined, onBytes: () => undefined, isCancelled: () => false });
    return await frameOf(bytes, await sha256Of(bytes), picture, options);
  } finally {
    picture.close();
  }
}

async function frameOf(
  bytes: Uint8Array<ArrayBuffer>,
  sha256: string,
  picture: OpenPicture,
  { name, reading }: Pick<LoadOptions, 'name' | 'reading'>,
): Promise<Frame> {
  const { width, height, fileBits, format, profile, headroom } = picture;
  const { shot, exif } = await readShotData(bytes, picture);
  return newFrame({
    id: FrameId.parse(sha256.slice(0, 16)),
    file: { sha256, name, bytes: bytes.length },
    width,
    height,
    bits: fileBits,
    format,
    profile,
    reading: readingOf(picture, reading),
    headroom,
    shot,
    exif,
  });
}

/** How a file is read that was looked into: only raw files have a choice of what becomes of their highlights. */
function readingOf({ format, space }: OpenPicture, wish: ReadingWish): Reading {
  return { ...wish, space, highlights: isRawFormat(format) ? wish.highlights : 'cut' };
}

/** Tells how far reading has come, in steps that are worth telling. */
function progressOf({ width, height, bits }: OpenPicture, tell: (share: number) => void) {
  const total = width * height * 3 * (bits / 8);
  let [taken, told] = [0, 0];
  return {
    again: () => {
      taken = told = 0;
    },
    more: (bytes: number) => {
      taken += bytes;
      if (taken / total < told + 0.02) return;
      told = taken / total;
      tell(told);
    },
  };
}

/** Says before a frame is decoded that it will not fit, with the figures.
 * @throws {DecodeError} `memory-full`, its detail "NEEDED of FREE of ALL" in gigabytes. */
function assertRoom(table: TileTable, size: Size): void {
  const need = frameSlots(size);
  const { moveable, resident, most, overflow } = table.room;
  const inMemory = most - resident - need.resident;
  if (inMemory >= WORKING_SLOTS && moveable + need.moveable <= inMemory + overflow) return;
  const gigabytes = (slots: number) => ((Math.max(0, slots) * SLOT_BYTES) / 1e9).toFixed(1);
  const all = most + overflow;
  const figures = [need.moveable + need.resident, all - moveable - resident, all].map(gigabytes);
  throw new DecodeError('memory-full', figures.join(' of '));
}

/** Whether a frame's pixels are in the table down to its coarsest level. */
function isLoaded(table: TileTable, key: Uint32Array, size: Size): boolean {
  const tile = table.find(key, levelCount(size) - 1, 0, 0);
  if (tile) table.release(tile);
  return tile !== undefined;
}
