import type { Preview } from '#codecs/deliver/previewPicture.ts';
import type { SplitLayer } from '#codecs/deliver/splitLayer.ts';
import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import type { Written } from '#codecs/deliver/writeTiff.ts';
import type { DrawnProof, ProofOptions } from '#codecs/proof.ts';
import type { Size } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import { type BackgroundThread, type BackgroundThreads, bytesIn } from './backgroundThreads.ts';
import type { BandRing } from './bandRing.ts';
import type { FileBytes, FileToRead, FromCodec, PixelsOf } from './codecProtocol.ts';
import { Lane } from './lanes.ts';
import type { CanvasSpace } from './protocol.ts';

const handedOver = (file: FileBytes) => (file instanceof ArrayBuffer ? [file] : undefined);

/** How long a thread that reads may go on by itself once nobody wants its file any more. */
const GRACE_MS = 400;

/** The slowest encoders take so long, and say nothing meanwhile. */
const SAVING_MS_PER_PIXEL = 0.02;

/** What becomes of a file while it is written. */
export interface SavingWatch {
  /** Takes the pieces of the file in order. */
  onPiece: (bytes: Uint8Array<ArrayBuffer>) => void;
  /** A band of rows is no longer needed. */
  onTaken: (band: number) => void;
}

/** A thread that writes files, one at a time. */
export interface FileWriter {
  /** Writes a picture whose bands are being made ready.
   * @throws {DecodeError} `cancelled` when the ring was stopped or the thread ended. */
  save: (bands: BandRing, options: WriteOptions, watch: SavingWatch) => Promise<Written>;
  /** Ends its thread, when it is in an encoder that cannot be asked to stop. Writing touches no tiles, so nothing is left half done
   * in the memory that all share. */
  cancel: () => void;
}

/** Reads and writes files in background threads. */
export class Codec {
  readonly #threads: BackgroundThreads;
  /** Threads that have written, whose libraries hold on to the memory that it took. */
  readonly #written = new Set<BackgroundThread>();

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

  /** Threads that may write at once, at most so many; see {@link save}. */
  writers(most: number): FileWriter[] {
    return this.#threads.forWriting(most).map((thread) => ({
      save: async (bands, options, { onPiece, onTaken }) => {
        const patience = this.#threads.patience() + options.size.width * options.size.height * SAVING_MS_PER_PIXEL;
        const onPart = (message: FromCodec & { type: 'piece' | 'taken' }) =>
          message.type === 'piece' ? onPiece(message.bytes) : onTaken(message.band);
        this.#written.add(thread);
        const answer = await thread.ask({ type: 'save', bands, options }, patience, undefined, undefined, onPart);
        return (answer as FromCodec & { type: 'saved' }).written;
      },
      cancel: () => thread.waiting > 0 && thread.cancel(),
    }));
  }

  /** Puts fresh threads in the place of those that have written: libraries never give memory back by themselves. */
  freshen(): void {
    for (const thread of this.#written) if (thread.waiting === 0) thread.cancel();
    this.#written.clear();
  }

  /** A layer's picture taken apart, see `splitLayer`. Bytes are handed over.
   * @throws {DecodeError} */
  async splitLayer(bytes: ArrayBuffer | undefined, canvas: Size, at: { x: number; y: number }): Promise<SplitLayer> {
    const patience = this.#threads.patience(bytes?.byteLength);
    const request = { type: 'split', bytes, canvas, at } as const;
    const answer = await this.#threads.next().ask(request, patience, undefined, bytes && [bytes]);
    return (answer as FromCodec & { type: 'layer' }).layer;
  }

  /** A piece of a picture as a file will hold it, see `previewPicture`.
   * @throws {DecodeError} */
  async preview(image: SharedArrayBuffer, size: Size, options: WriteOptions, isShown: boolean): Promise<Preview> {
    const request = { type: 'preview', image, size, options, isShown } as const;
    const answer = await this.#threads.next().ask(request, this.#threads.patience());
    return (answer as FromCodec & { type: 'previewed' }).preview;
  }

  /** A small picture as it will look elsewhere, see `proofImage`.
   * @throws {DecodeError} */
  async proof(
    image: SharedArrayBuffer,
    size: Size,
    options: ProofOptions,
    canvasSpace: CanvasSpace,
  ): Promise<DrawnProof> {
    const request = { type: 'proof', image, size, options, canvasSpace } as const;
    const answer = await this.#threads.next().ask(request, this.#threads.patience());
    return (answer as FromCodec & { type: 'proofed' }).proof;
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
