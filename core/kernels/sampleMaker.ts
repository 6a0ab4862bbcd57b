import type { Arena } from '../raster/arena.ts';
import { TILE_SAMPLES } from '../raster/size.ts';
import type { Rgb16 } from './planes.ts';

/** Numbers that are made at random; planes repeat them, each from another one on. No row of a tile holds as many, nor a multiple. */
const MADE = 4099;

/** Makes arguments for kernels, in an arena. */
export class SampleMaker {
  readonly arena: Arena;
  readonly #random: () => number;
  #samples: Uint16Array | undefined;
  #floats: Float32Array | undefined;

  /** @param random - Numbers 0..1. */
  constructor(arena: Arena, random: () => number) {
    this.arena = arena;
    this.#random = random;
  }

  /** A number between two. */
  number(from: number, to: number): number {
    return from + (to - from) * this.#random();
  }

  /** 16-bit samples, of a tile if nothing else is said: of all values, some of them black or white. */
  samples(count = TILE_SAMPLES): Uint16Array {
    this.#samples ??= Uint16Array.from({ length: MADE }, () => this.#extreme() ?? this.#random() * 65536);
    return this.#repeated(this.#samples, this.arena.samples(count));
  }

  rgb(): Rgb16 {
    return [this.samples(), this.samples(), this.samples()];
  }

  /** Floats 0..1, of a tile if nothing else is said; some are 0 or 1, and none are so small that processors are slow with them. */
  floats(count = TILE_SAMPLES): Float32Array {
    this.#floats ??= Float32Array.from({ length: MADE }, () => {
      const end = this.#extreme();
      return end === undefined ? this.number(0.05, 1) : end / 65535;
    });
    return this.#repeated(this.#floats, this.arena.floats(count));
  }

  /** Fills a plane with numbers from any one of them on. */
  #repeated<Plane extends Uint16Array | Float32Array>(made: Plane, plane: Plane): Plane {
    let from = Math.floor(this.#random() * made.length);
    for (let at = 0; at < plane.length; from = 0) {
      const part = made.subarray(from, from + Math.min(made.length - from, plane.length - at));
      plane.set(part, at);
      at += part.length;
    }
    return plane;
  }

  /** Values that a function makes. */
  table(count: number, value: (i: number) => number): Float32Array {
    const plane = this.arena.floats(count);
    for (let i = 0; i < count; i++) plane[i] = value(i);
    return plane;
  }

  /** Doubles of all signs, some of them 16-bit steps. */
  doubles(count: number): Float64Array {
    const plane = this.arena.doubles(count);
    for (let i = 0; i < count; i++) plane[i] = this.#extreme() ?? this.number(-65535, 65535);
    return plane;
  }

  /** Bytes that a function makes. */
  bytesOf(count: number, value: (i: number) => number): Uint8Array {
    const { buffer, byteOffset } = this.arena.bytes(count);
    const plane = new Uint8Array(buffer, byteOffset, count);
    for (let i = 0; i < count; i++) plane[i] = value(i);
    return plane;
  }

  bytes(count: number): Uint8ClampedArray {
    const bytes = this.arena.bytes(count);
    for (let i = 0; i < count; i++) bytes[i] = this.#random() * 256;
    return bytes;
  }

  /** Counters, all zero. */
  counters(count: number): Uint32Array {
    return this.arena.words(count).fill(0);
  }

  #extreme(): number | undefined {
    const chance = this.#random();
    return chance < 0.02 ? 0 : chance < 0.04 ? 65535 : undefined;
  }
}
