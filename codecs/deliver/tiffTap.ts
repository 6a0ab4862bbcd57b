import type Vips from 'wasm-vips';
import { joinBytes } from '../joinBytes.ts';
import type { VipsModule } from '../vipsModule.ts';
import { type Field, firstDirectory, HEADER_BYTES, headerBytes, placedAt } from './tiffFile.ts';

/** About so many bytes are handed on at once. */
const PIECE = 2 ** 22;
/** So many bytes at the end are kept: what the library writes last, and looks back at, is the directory. */
const KEPT = 2 ** 25;
/** So far the library counts before it is told to begin anew. */
const LAP = 2 ** 30;

interface Piece {
  at: number;
  bytes: Uint8Array<ArrayBuffer>;
}

/** Takes a TIFF as the library writes it and hands its pixels on as they come. The library writes strips or tiles one behind the other, then the
 * directory, and last, back at the start, where that lies. In WebAssembly it counts bytes up to four gigabytes only: whenever it asks for the end of what it has
 * written, it is told a place in the lap that goes on now, and where strips truly lie is worked out when all are there. */
export class TiffTap {
  readonly target: Vips.TargetCustom;
  readonly #onBytes: (bytes: Uint8Array<ArrayBuffer>) => void;
  readonly #lap: number;
  readonly #header = new Uint8Array(HEADER_BYTES);
  /** Its bytes that are in use; not known until the library writes them, before all else. */
  #headerEnd = 0;
  /** What is not handed on yet, in order, and what is to become the last of it. */
  #kept: Piece[] = [];
  #gathered: Uint8Array<ArrayBuffer>[] = [];
  #gatheredFrom = 0;
  /** Of all that was written, and the place of what is written next. */
  #length = 0;
  #at = 0;
  /** Where each lap begins. */
  readonly #laps = [0];

  /** @param onBytes - Takes each piece, which is its own.
   * @param lap - Bytes of a lap. */
  constructor(vips: VipsModule, onBytes: (bytes: Uint8Array<ArrayBuffer>) => void, lap = LAP) {
    this.#onBytes = onBytes;
    this.#lap = lap;
    this.target = new vips.TargetCustom();
    this.target.onWrite = (bytes) => this.#write(bytes);
    this.target.onRead = (length) => this.#read(this.#at, length);
    this.target.onSeek = (offset, whence) => this.#seek(offset, whence);
    this.target.onEnd = () => 0;
  }

  /** Hands on what is left, once the library has written all but for its header.
   * @returns The fields of the directory, whose pixels lie as in what was handed on, and how long that is. */
  finish(): { fields: Field[]; length: number } {
    this.#gather();
    // The directory lies in the last lap, as all that it points to but the pixels.
    const base = this.#laps[this.#laps.length - 1];
    const fields = firstDirectory((at, length) => (at === 0 ? this.#header : this.#read(base + at, length)));
    this.#handOn(0);
    return { fields: placedAt(fields, this.#unwind()), length: this.#length - this.#headerEnd };
  }

  /** Where strips truly lie, one by one. */
  #unwind(): (told: number, bytes: number) => number {
    let lap = 0;
    let least = 0;
    return (told, bytes) => {
      while (this.#laps[lap] + told < least && lap < this.#laps.length - 1) lap++;
      const at = this.#laps[lap] + told;
      least = at + bytes;
      return at - this.#headerEnd;
    };
  }

  #seek(offset: number, whence: number): number {
    const base = this.#laps[this.#laps.length - 1];
    if (whence === 1) this.#at += offset;
    else if (whence === 0) this.#at = offset < this.#headerEnd ? offset : base + offset;
    else {
      this.#at = this.#length + offset;
      // Every lap begins behind a header, as the file does, and at an even place.
      if (this.#at - base > this.#lap) this.#laps.push(2 * Math.floor((this.#at - HEADER_BYTES) / 2));
      return this.#at - this.#laps[this.#laps.length - 1];
    }
    return this.#at < this.#headerEnd ? this.#at : this.#at - base;
  }

  /** @returns Bytes that were taken; -1, the library's sign of failure, for what was handed on already. */
  #write(bytes: Uint8Array): number {
    if (this.#headerEnd === 0) this.#headerEnd = this.#gatheredFrom = this.#length = headerBytes(bytes);
    const own = bytes.subarray(0, Math.max(0, this.#headerEnd - this.#at));
    this.#header.set(own, Math.min(this.#at, this.#headerEnd));
    const body = bytes.subarray(own.length);
    const at = this.#at + own.length;
    this.#at += bytes.length;
    if (at > this.#length) this.#append(new Uint8Array(at - this.#length));
    const inside = Math.min(body.length, this.#length - at);
    if (inside > 0) {
      this.#gather();
      const put = (piece: Uint8Array, from: number, done: number) =>
        piece.set(body.subarray(done, Math.min(inside, done + piece.length - from)), from);
      if (!this.#over(at, inside, put)) return -1;
    }
    if (inside < body.length) this.#append(body.slice(inside));
    return bytes.length;
  }

  #append(bytes: Uint8Array<ArrayBuffer>): void {
    this.#gathered.push(bytes);
    this.#length += bytes.length;
    if (this.#length - this.#gatheredFrom >= PIECE) this.#gather();
    this.#handOn(KEPT);
  }

  #read(at: number, length: number): Uint8Array {
    this.#gather();
    const out = new Uint8Array(Math.max(0, Math.min(length, this.#length - at)));
    this.#over(at, out.length, (piece, from, done) => out.set(piece.subarray(from, from + out.length - done), done));
    return out;
  }

  /** Uses the pieces in which bytes lie.
   * @returns Whether all are still here. */
  #over(at: number, length: number, use: (piece: Uint8Array, from: number, done: number) => void): boolean {
    for (const { at: start, bytes } of this.#kept) {
      const from = Math.max(at, start);
      if (from < Math.min(at + length, start + bytes.length)) use(bytes, from - start, from - at);
    }
    return at >= (this.#kept[0]?.at ?? this.#length) && at + length <= this.#length;
  }

  /** Makes one piece of what came last. */
  #gather(): void {
    const bytes = this.#gathered.length === 1 ? this.#gathered[0] : joinBytes(this.#gathered);
    this.#gathered = [];
    if (bytes.length > 0) this.#kept.push({ at: this.#gatheredFrom, bytes });
    this.#gatheredFrom = this.#length;
  }

  /** Hands on what lies further back than so many bytes. */
  #handOn(kept: number): void {
    while (this.#kept.length > 0 && this.#kept[0].at + this.#kept[0].bytes.length <= this.#length - kept)
      this.#onBytes((this.#kept.shift() as Piece).bytes);
  }
}
