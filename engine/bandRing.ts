import { DecodeError } from '#codecs/decodeError.ts';
import { type RowFeed, type RowKind, sampleBytes } from '#codecs/deliver/rowSource.ts';
import { type Region, TILE } from '#core/raster/size.ts';

/** Rows of a picture that are rendered while earlier ones are written: some bands of rows in shared memory, filled by whoever
 * renders and emptied by a thread that writes, which sleeps until its next band is ready. */
export interface BandRing {
  width: number;
  height: number;
  channels: number;
  kind: RowKind;
  /** Rows of each band. */
  rows: readonly number[];
  /** A place in memory for every so many bands. */
  slots: readonly SharedArrayBuffer[];
  /** 32-bit words: whether it was stopped, then for each slot the band that is ready in it, counted from 1. */
  state: SharedArrayBuffer;
}

/** Rows of a band: some tiles, so that none is made twice. */
const BAND_ROWS = 4 * TILE;
const SLOTS = 3;
/** A waiting writer gives a sign this often. */
const SIGN_MS = 1000;

/** The bands of a part of a picture, from its top: their seams lie between tiles. */
export function bandsOf({ x, y, width, height }: Region): Region[] {
  const bands: Region[] = [];
  for (let top = y; top < y + height; ) {
    const next = Math.min(y + height, (Math.floor(top / BAND_ROWS) + 1) * BAND_ROWS);
    bands.push({ x, y: top, width, height: next - top });
    top = next;
  }
  return bands;
}

/** Memory for the bands of a picture in one form. */
export function createBandRing(bands: readonly Region[], channels: number, kind: RowKind): BandRing {
  const rows = bands.map(({ height }) => height);
  const { width } = bands[0];
  const count = Math.min(SLOTS, bands.length);
  const bytes = Math.max(...rows) * width * channels * sampleBytes(kind);
  return {
    width,
    height: rows.reduce((sum, each) => sum + each, 0),
    channels,
    kind,
    rows,
    slots: Array.from({ length: count }, () => new SharedArrayBuffer(bytes)),
    state: new SharedArrayBuffer(4 * (1 + count)),
  };
}

/** Tells the writer that a band is ready. */
export function markReady({ state, slots }: BandRing, band: number): void {
  const words = new Int32Array(state);
  const slot = 1 + (band % slots.length);
  Atomics.store(words, slot, band + 1);
  Atomics.notify(words, slot);
}

/** Stops the writer: it waits for no further band. */
export function stopRing({ state }: BandRing): void {
  const words = new Int32Array(state);
  Atomics.store(words, 0, 1);
  for (let slot = 1; slot < words.length; slot++) Atomics.notify(words, slot);
}

/** The rows of a ring as they become ready, for the thread that writes them: asking for the next waits. */
export function feedOfRing(
  ring: BandRing,
  { onTaken, onWaiting }: { onTaken: (band: number) => void; onWaiting: () => void },
): RowFeed {
  const { width, height, channels, kind, rows, slots } = ring;
  const words = new Int32Array(ring.state);
  let band = -1;
  const next = () => {
    if (band >= 0) onTaken(band);
    band++;
    const slot = 1 + (band % slots.length);
    for (let seen = Atomics.load(words, slot); seen !== band + 1; seen = Atomics.load(words, slot)) {
      if (Atomics.load(words, 0) !== 0) throw new DecodeError('cancelled', `before band ${band}`);
      if (Atomics.wait(words, slot, seen, SIGN_MS) === 'timed-out') onWaiting();
    }
    const memory = slots[slot - 1];
    const length = rows[band] * width * channels;
    return kind === 'codes' ? new Uint16Array(memory, 0, length) : new Float32Array(memory, 0, length);
  };
  return { width, height, channels, kind, next };
}
