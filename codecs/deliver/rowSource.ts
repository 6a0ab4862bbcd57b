import type Vips from 'wasm-vips';
import type { Keep, VipsModule } from '../vipsModule.ts';

/** How samples come: 16 bits encoded with the curve of sRGB, or light in floats. */
export type RowKind = 'codes' | 'light';

/** A picture that comes from its top, some rows at a time. */
export interface RowFeed {
  width: number;
  height: number;
  /** One, three, or four with what covers. */
  channels: number;
  kind: RowKind;
  /** The next rows, samples interleaved; they may be written over once the next are asked for.
   * @throws {DecodeError} `cancelled` when no more will come. */
  next: () => Uint16Array | Float32Array;
}

export const sampleBytes = (kind: RowKind): number => (kind === 'codes' ? 2 : 4);

/** A picture of the library that reads its rows as they come: a grey map (netpbm, PGM and PFM), so many times as wide as there
 * are channels, folded to pixels. Nothing of it is kept but what is at hand.
 * @param refused - Told why rows did not come: errors may not cross the library. */
export function openRows(vips: VipsModule, feed: RowFeed, keep: Keep, refused: (error: unknown) => void): Vips.Image {
  const { width, height, channels, kind } = feed;
  const samples = width * channels;
  const head = kind === 'codes' ? `P5\n${samples} ${height}\n65535\n` : `Pf\n${samples} ${height}\n-1.0\n`;
  const end = head.length + samples * height * sampleBytes(kind);
  let rows: Uint8Array = new TextEncoder().encode(head);
  let at = 0;
  let taken = 0;
  let swapped = new Uint32Array(0);
  const more = () => {
    const next = feed.next();
    if (next instanceof Float32Array) return new Uint8Array(next.buffer, next.byteOffset, next.byteLength);
    const words = (next.length + 1) >> 1;
    if (swapped.length < words) swapped = new Uint32Array(words);
    return swapBytes(next, swapped);
  };
  const source = keep(new vips.SourceCustom());
  // Fewer bytes than are asked for are enough: what is there is handed over as it lies.
  source.onRead = (length) => {
    if (taken === end) return undefined;
    try {
      if (at === rows.length) {
        rows = more();
        at = 0;
      }
    } catch (error) {
      refused(error);
      return undefined;
    }
    const part = rows.subarray(at, at + Math.min(length, rows.length - at));
    at += part.length;
    taken += part.length;
    return part;
  };
  const grey = keep(vips.Image.newFromSource(source, '', { access: 'sequential', fail_on: 'truncated' }));
  const folded = channels === 1 ? grey : keep(grey.bandfold({ factor: channels }));
  const greyName = kind === 'codes' ? 'grey16' : 'b-w';
  const name = channels === 1 ? greyName : kind === 'codes' ? 'rgb16' : 'scrgb';
  return keep(folded.copy({ interpretation: name }));
}

/** Maps have their high bytes first. */
function swapBytes(samples: Uint16Array, out: Uint32Array): Uint8Array {
  const isEven = samples.byteOffset % 4 === 0;
  const pairs = isEven ? new Uint32Array(samples.buffer, samples.byteOffset, samples.length >> 1) : undefined;
  if (pairs) {
    for (let i = 0; i < pairs.length; i++) {
      const pair = pairs[i];
      out[i] = ((pair & 0x00ff00ff) << 8) | ((pair >>> 8) & 0x00ff00ff);
    }
  }
  const halves = new Uint16Array(out.buffer);
  for (let i = pairs ? pairs.length * 2 : 0; i < samples.length; i++)
    halves[i] = ((samples[i] & 255) << 8) | (samples[i] >> 8);
  return new Uint8Array(out.buffer, 0, samples.length * 2);
}
