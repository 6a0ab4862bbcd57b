import type { EncodeOptions } from '#codecs/encode.ts';
import type { Proof, ProofOptions } from '#codecs/proof.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues, Frame } from '#core/scene/frame.ts';
import { type BackgroundThreads, bytesIn } from './backgroundThreads.ts';
import type { FileBytes, FileToRead, FromCodec, PixelsOf } from './codecProtocol.ts';
import { Lane } from './lanes.ts';

const handedOver = (file: FileBytes) => (file instanceof ArrayBuffer ? [file] : undefined);

/** How long a thread that reads may go on by itself once nobody wants its file any more. */
const GRACE_MS = 400;

/** Reads and writes files in background threads. */
export class Codec {
  readonly #threads: BackgroundThreads;

  constructor(threads: BackgroundThreads) {
    this.#threads = threads;
  }

  /** How many files are read at once, at most. */
  get lanes(): number {
    return this.#threads.lanes;
  }

  /** Reads a file into the pixel memory. Bytes are handed over and cannot be used any more.
   * @param expect - The size that it has to have, if any.
   * @throws {DecodeError} */
  async load(file: FileToRead, expect: Size | undefined, onProgress: (share: number) => void): Promise<Frame> {
    const current = this.#threads.current(Lane.Load);
    const request = { type: 'load', current, expect, ...file } as const;
    const patience = this.#threads.patience(bytesIn(file.file));
    const answer = await this.#threads.next(file.file).ask(request, patience, onProgress, handedOver(file.file));
    return (answer as FromCodec & { type: 'loaded' }).frame;
  }

  /** Reads a file through without keeping its pixels: the frame that it would become.
   * @throws {DecodeError} */
  async inspect(file: FileToRead): Promise<Frame> {
    const patience = this.#threads.patience(bytesIn(file.file));
    const answer = await this.#threads
      .next()
      .ask({ type: 'inspect', ...file }, patience, undefined, handedOver(file.file));
    return (answer as FromCodec & { type: 'inspected' }).frame;
  }

  /** Encodes a rendered picture.
   * @throws {DecodeError} `internal` when the encoder fails, `cancelled` when it was stopped. */
  async encode(
    image: SharedArrayBuffer,
    size: Size,
    options: EncodeOptions,
    exif: ExifValues,
    onProgress: (share: number) => void = () => undefined,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const request = { type: 'encode', image, size, options, exif } as const;
    const answer = await this.#threads.forWriting().ask(request, this.#threads.patience(), onProgress);
    return (answer as FromCodec & { type: 'encoded' }).bytes;
  }

  /** A small picture as it will look elsewhere, see `proofImage`.
   * @throws {DecodeError} */
  async proof(image: SharedArrayBuffer, size: Size, options: ProofOptions): Promise<Proof> {
    const request = { type: 'proof', image, size, options } as const;
    const answer = await this.#threads.next().ask(request, this.#threads.patience());
    return (answer as FromCodec & { type: 'proofed' }).proof;
  }

  /** Gives up encoding: the encoder cannot be asked to stop, so its thread ends. Encoding touches no tiles, so nothing is
   * left half done in the memory that all share. */
  stopEncoding(): void {
    const { writer } = this.#threads;
    if (writer && writer.waiting > 0) writer.cancel();
  }

  /** Gives up reading, once its lane has gone on: threads stop between rows, and those that a library keeps busy with a whole
   * file are ended, to be replaced. */
  stopLoading(): void {
    for (const reader of this.#threads.workers) {
      const asked = reader.lastBeforePixels;
      // What is asked of it in the meantime is wanted again.
      if (asked !== undefined) setTimeout(() => reader.lastBeforePixels === asked && reader.cancel(), GRACE_MS);
    }
  }

  /** Frees the pixels of a frame that no scene shows any more. */
  async drop({ file, reading, width, height }: PixelsOf): Promise<void> {
    await this.#threads.next().ask({ type: 'drop', frame: { file, reading, width, height } }, this.#threads.patience());
  }
}
