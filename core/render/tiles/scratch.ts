import { decodeSrgb, encodeSrgb } from '../../color/srgb.ts';
import { membraneBytes } from '../../kernels/membrane.ts';
import type { Rgb16 } from '../../kernels/planes.ts';
import { encodingKnots, linearTable } from '../../kernels/transferCurve.ts';
import { heldWeights, type PhaseWeights } from '../../kernels/warpTile.ts';
import type { Arena } from '../../raster/arena.ts';
import { TILE, TILE_SAMPLES } from '../../raster/size.ts';
import { LightCache } from './lightCache.ts';
import { ShrunkTiles } from './shrunkTiles.ts';

/** Longest side of an area that is looked at around a tile. */
export const MAX_AREA_SIDE = 384;

/** Tables that a thread has within reach at a time, and the floats of the longest. */
const TABLES = 32;
const TABLE_FLOATS = 8192;

/** Bytes for a membrane's cells, what they are lifted by, and its grids: enough for 110,000 cells. */
export const MEMBRANE_BYTES = 6 * 2 ** 20;

/** Things of one kind that are lent: whoever asks while others have theirs gets one more, so that nothing is ever two people's. */
class Pool<T> {
  readonly #free: T[] = [];
  readonly #make: () => T;

  constructor(make: () => T) {
    this.#make = make;
  }

  /** Calls `use` with `count` of them, which are its own until it returns. */
  lend<R>(count: number, use: (lent: T[]) => R): R {
    const lent = this.take(count);
    try {
      return use(lent);
    } finally {
      this.giveBack(lent);
    }
  }

  take(count: number): T[] {
    const taken: T[] = [];
    while (taken.length < count) taken.push(this.#free.pop() ?? this.#make());
    return taken;
  }

  giveBack(lent: readonly T[]): void {
    for (const each of lent) this.#free.push(each);
  }
}

/** Interleaved RGB or RGBA of a tile, 16 bits, and its rows. */
interface Interleaved {
  all: Uint16Array;
  rows: readonly Uint16Array[];
}

/** What one thread computes in, all in its arena. Everything that is written to is lent, so that a node may make others whatever it has
 * borrowed itself; but whoever looks at other nodes has their tiles first and borrows then, since stacks are deep and arenas are not. */
export class Scratch {
  readonly #arena: Arena;
  readonly #planes: Pool<Float32Array>;
  readonly #halves: Pool<Float32Array>;
  readonly #samples: Pool<Uint16Array>;
  readonly #areas: Pool<Float32Array>;
  readonly #rgbAreas: Pool<Rgb16>;
  readonly #rgba: Pool<Uint8ClampedArray>;
  readonly #interleaved: Record<3 | 4, Pool<Interleaved>>;
  readonly #counters: Pool<Uint32Array>;
  readonly #membranes: Pool<Uint8ClampedArray>;
  /** What it has read last. */
  readonly lights: LightCache;
  readonly shrunk: ShrunkTiles;
  /** The latest last. */
  readonly #tables = new Map<Float32Array, Float32Array>();
  #lanczos: PhaseWeights | undefined;
  #curves: { decoding: Float32Array; encoding: Float32Array } | undefined;

  constructor(arena: Arena) {
    this.#arena = arena;
    this.lights = new LightCache(arena);
    this.shrunk = new ShrunkTiles(arena);
    this.#planes = new Pool(() => arena.floats(TILE_SAMPLES));
    this.#halves = new Pool(() => arena.floats(TILE_SAMPLES / 2));
    this.#samples = new Pool(() => arena.samples(TILE_SAMPLES));
    this.#areas = new Pool(() => arena.floats(MAX_AREA_SIDE ** 2));
    const areaOf16 = () => arena.samples(MAX_AREA_SIDE ** 2 + 8); // the kernel reads eight at a time
    this.#rgbAreas = new Pool(() => [areaOf16(), areaOf16(), areaOf16()]);
    this.#rgba = new Pool(() => arena.bytes(TILE_SAMPLES * 4));
    const interleavedOf = (channels: number) => () => {
      const all = arena.samples(TILE_SAMPLES * channels);
      const row = TILE * channels;
      return { all, rows: Array.from({ length: TILE }, (_, y) => all.subarray(y * row, (y + 1) * row)) };
    };
    this.#interleaved = { 3: new Pool(interleavedOf(3)), 4: new Pool(interleavedOf(4)) };
    this.#counters = new Pool(() => arena.words(256));
    this.#membranes = new Pool(() => arena.bytes(MEMBRANE_BYTES));
  }

  /** Calls `use` with `count` planes of undefined content, which are its own until it returns. */
  lend<T>(count: number, use: (...planes: Float32Array[]) => T): T {
    const planes = this.#planes.take(count);
    try {
      return use(...planes);
    } finally {
      this.#planes.giveBack(planes);
    }
  }

  /** The same with halves of planes. */
  lendHalves<T>(count: number, use: (halves: Float32Array[]) => T): T {
    return this.#halves.lend(count, use);
  }

  /** The same with `count` planes of `samples`, at most {@link MAX_AREA_SIDE} squared. */
  lendAreas<T>(count: number, samples: number, use: (...planes: Float32Array[]) => T): T {
    return this.#areas.lend(count, (planes) => use(...planes.map((plane) => plane.subarray(0, samples))));
  }

  /** The same with a tile's 16-bit samples. */
  lendSamples<T>(use: (samples: Uint16Array) => T): T {
    return this.#samples.lend(1, ([samples]) => use(samples));
  }

  /** The same with three planes of a tile's 16-bit samples. */
  lendRgb<T>(use: (rgb: Rgb16) => T): T {
    return this.#samples.lend(3, ([red, green, blue]) => use([red, green, blue]));
  }

  /** The same with three 16-bit planes for a square of at most {@link MAX_AREA_SIDE}. */
  lendRgbArea<T>(use: (area: Rgb16) => T): T {
    return this.#rgbAreas.lend(1, ([area]) => use(area));
  }

  /** The same with a tile's 8-bit RGBA. */
  lendRgba<T>(use: (rgba: Uint8ClampedArray) => T): T {
    return this.#rgba.lend(1, ([rgba]) => use(rgba));
  }

  /** The same with a tile's interleaved samples, of three channels or of four. */
  lendInterleaved<T>(channels: 3 | 4, use: (interleaved: Interleaved) => T): T {
    return this.#interleaved[channels].lend(1, ([interleaved]) => use(interleaved));
  }

  /** The same with 256 counters, all zero. */
  lendCounters<T>(use: (counters: Uint32Array) => T): T {
    return this.#counters.lend(1, ([counters]) => use(counters.fill(0)));
  }

  /** Calls `use` with what a membrane is sought in, see `solveMembranes`; undefined where it is too large for a thread's memory. */
  lendMembrane<T>(
    width: number,
    height: number,
    use: (lifts: Float64Array, cells: Uint8Array, room: Uint8ClampedArray) => T,
  ): T | undefined {
    const { lifts, cells, all } = membraneBytes(width, height);
    if (all > MEMBRANE_BYTES) return undefined;
    return this.#membranes.lend(1, ([bytes]) => {
      const { buffer, byteOffset } = bytes;
      const own = new Float64Array(buffer, byteOffset, lifts / Float64Array.BYTES_PER_ELEMENT);
      return use(own, new Uint8Array(buffer, byteOffset + lifts, width * height), bytes.subarray(lifts + cells));
    });
  }

  /** Weights of Lanczos's kernel. */
  get lanczos(): PhaseWeights {
    this.#lanczos ??= heldWeights('lanczos3', this.#arena);
    return this.#lanczos;
  }

  /** The curve of sRGB, both ways, as the kernels take it. */
  get curves(): { decoding: Float32Array; encoding: Float32Array } {
    this.#curves ??= { decoding: this.#held(linearTable(decodeSrgb)), encoding: this.#held(encodingKnots(encodeSrgb)) };
    return this.#curves;
  }

  /** A table where kernels reach it, until {@link TABLES} others have been asked for: found again by the very object that it is. */
  within(table: Float32Array): Float32Array {
    let room = this.#tables.get(table);
    if (room) this.#tables.delete(table);
    else {
      const [oldest] = this.#tables.size < TABLES ? [] : this.#tables;
      if (oldest) this.#tables.delete(oldest[0]);
      room = (oldest?.[1] ?? this.#arena.floats(TABLE_FLOATS)) as Float32Array;
      room.set(table);
    }
    this.#tables.set(table, room);
    return room;
  }

  #held(values: Float32Array): Float32Array {
    const room = this.#arena.floats(values.length);
    room.set(values);
    return room;
  }
}
