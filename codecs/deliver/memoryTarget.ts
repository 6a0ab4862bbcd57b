import type Vips from 'wasm-vips';
import { joinBytes } from '../joinBytes.ts';
import type { VipsModule } from '../vipsModule.ts';

const PIECE = 2 ** 22;

/** Bytes that a writer jumps about in, in pieces of four megabytes. */
export class PieceStore {
  readonly #pieces: Uint8Array<ArrayBuffer>[] = [];
  #length = 0;
  #at = 0;

  write(bytes: Uint8Array): number {
    this.#each(bytes.length, (piece, from, to, done) => piece.set(bytes.subarray(done, done + to - from), from), true);
    this.#at += bytes.length;
    this.#length = Math.max(this.#length, this.#at);
    return bytes.length;
  }

  read(length: number): Uint8Array {
    const out = new Uint8Array(Math.max(0, Math.min(length, this.#length - this.#at)));
    this.#each(out.length, (piece, from, to, done) => out.set(piece.subarray(from, to), done), false);
    this.#at += out.length;
    return out;
  }

  get length(): number {
    return this.#length;
  }

  /** Bytes at a place. */
  readonly at = (place: number, length: number): Uint8Array => {
    this.seek(place, 0);
    return this.read(length);
  };

  /** @param whence - From the start, from here, or from the end: 0, 1, 2. */
  seek(offset: number, whence: number): number {
    this.#at = whence === 0 ? offset : whence === 1 ? this.#at + offset : this.#length + offset;
    return this.#at;
  }

  /** All of it, in order; the store is empty afterwards. */
  *take(): Generator<Uint8Array<ArrayBuffer>> {
    for (let left = this.#length; left > 0; left -= PIECE) {
      const piece = this.#pieces.shift() as Uint8Array<ArrayBuffer>;
      yield left < PIECE ? piece.slice(0, left) : piece;
    }
  }

  #each(length: number, use: (piece: Uint8Array, from: number, to: number, done: number) => void, grow: boolean): void {
    for (let done = 0; done < length; ) {
      const at = this.#at + done;
      const index = Math.floor(at / PIECE);
      while (grow && this.#pieces.length <= index) this.#pieces.push(new Uint8Array(PIECE));
      const from = at % PIECE;
      const to = Math.min(PIECE, from + length - done);
      use(this.#pieces[index], from, to, done);
      done += to - from;
    }
  }
}

/** A file that lies in one piece, to be taken as others are. */
export const wholeFile = (file: Uint8Array<ArrayBuffer>): Pick<PieceStore, 'length' | 'at' | 'take'> => ({
  length: file.length,
  at: (place, length) => file.slice(place, place + length),
  *take() {
    for (let at = 0; at < file.length; at += PIECE) yield file.slice(at, at + PIECE);
  },
});

/** A target of the library.
 * @param store - Where a writer jumps about in what it has written; others hand pieces on as they come.
 * @param onBytes - Takes each piece, which is its own. */
export function openTarget(
  vips: VipsModule,
  store: PieceStore | undefined,
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
): Vips.TargetCustom {
  const target = new vips.TargetCustom();
  if (store) {
    target.onWrite = (bytes) => store.write(bytes);
    target.onRead = (length) => store.read(length);
    target.onSeek = (offset, whence) => store.seek(offset, whence);
    target.onEnd = () => 0;
    return target;
  }
  // Gathered, since small pieces cost more to hand over than to copy.
  let gathered: Uint8Array<ArrayBuffer>[] = [];
  let length = 0;
  const send = () => {
    const out = joinBytes(gathered);
    gathered = [];
    length = 0;
    if (out.length > 0) onBytes(out);
  };
  target.onWrite = (bytes) => {
    gathered.push(new Uint8Array(bytes));
    length += bytes.length;
    if (length >= PIECE) send();
    return bytes.length;
  };
  target.onEnd = () => {
    send();
    return 0;
  };
  return target;
}
