import { decodeFrame } from '#codecs/decode.ts';
import { DecodeError } from '#codecs/decodeError.ts';
import { readShotData } from '#codecs/shotData.ts';
import type { VipsModule } from '#codecs/vipsModule.ts';
import { levelCount, type Size } from '#core/raster/size.ts';
import { SLOT_BYTES } from '#core/raster/tileSlab.ts';
import type { TileTable } from '#core/raster/tileTable.ts';
import { frameKey } from '#core/render/frameNode.ts';
import { FrameLoader, frameSlots, type LoadingDesk } from '#core/render/loadFrame.ts';
import { RenderError } from '#core/render/studio.ts';
import { FrameId } from '#core/scene/ids.ts';
import type { Frame } from '#core/scene/scene.ts';

/** Slots for tiles of frames that have to be in memory to compute anything at all. */
const WORKING_SLOTS = 64;

export interface LoadOptions {
  name: string;
  /** The size that the scene's frames have, once it has any. */
  expect: Size | undefined;
  onProgress: (share: number) => void;
  isCancelled: () => boolean;
}

/** Reads a file into the tile table and answers the frame it is. A file that is in the table already is not read again.
 * @throws {DecodeError} */
export async function loadFrameBytes(
  vips: VipsModule,
  desk: LoadingDesk,
  bytes: Uint8Array<ArrayBuffer>,
  options: LoadOptions,
): Promise<Frame> {
  const sha256 = await sha256Of(bytes);
  const { shot, exif } = await readShotData(bytes);
  const key = frameKey(sha256);
  let loader: FrameLoader | undefined;
  let taken = 0;
  let total = 1;
  let told = 0;
  try {
    const { width, height, bits } = decodeFrame(vips, bytes, {
      onSize: (size) => {
        loader?.abandon();
        taken = told = 0;
        total = size.width * size.height * 3 * (size.bits / 8);
        const { expect } = options;
        if (expect && (size.width !== expect.width || size.height !== expect.height)) {
          throw new DecodeError(
            'size-differs',
            `${size.width} x ${size.height}, not ${expect.width} x ${expect.height}`,
          );
        }
        if (isLoaded(desk.table, key, size)) return 'known';
        assertRoom(desk.table, size);
        loader = new FrameLoader(desk, key, size, size.bits);
        return 'wanted';
      },
      onBytes: (piece) => {
        loader?.add(piece);
        taken += piece.length;
        if (taken / total < told + 0.02) return;
        told = taken / total;
        options.onProgress(told);
      },
      isCancelled: options.isCancelled,
    });
    loader?.buildPyramid();
    options.onProgress(1);
    return {
      id: FrameId.parse(sha256.slice(0, 16)),
      file: { sha256, name: options.name, bytes: bytes.length },
      width,
      height,
      bits,
      shot,
      exif,
    };
  } catch (error) {
    loader?.abandon();
    if (error instanceof RenderError) throw new DecodeError('memory-full', error.message);
    throw error;
  }
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

/** SHA-256 of a file, in hexadecimal. */
export async function sha256Of(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
}
