import { codedProfile } from '#core/color/assumedProfile.ts';
import { type IccProfile, readIccProfile } from '#core/color/iccProfile.ts';
import { DecodeError } from './decodeError.ts';

/** Boxes on the way to the properties of pictures, and the bytes before their content (ISO/IEC 14496-12, 23008-12). */
const WAY: Record<string, number> = { meta: 4, iprp: 0, ipco: 0 };

/** Transfer characteristics of pictures that are brighter than white (ITU-T H.273, table 3). */
const HDR_TRANSFERS = [16, 18];

/** The colour profile of a HEIC or AVIF file: the one in it, or the one that its code points stand for; undefined when it
 * says nothing or sRGB.
 * @throws {DecodeError} `unsupported` for pictures in HDR code values. */
export function isoProfile(bytes: Uint8Array): IccProfile | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const found = colourBoxes(view, 0, bytes.length);
  for (const [at, end] of found) {
    const kind = fourLetters(view, at);
    if (kind !== 'prof' && kind !== 'rICC') continue;
    const profile = readIccProfile(bytes.slice(at + 4, end));
    if (profile) return profile;
  }
  for (const [at, end] of found) {
    if (fourLetters(view, at) !== 'nclx' || end - at < 10) continue;
    const [primaries, transfer] = [view.getUint16(at + 4), view.getUint16(at + 6)];
    if (HDR_TRANSFERS.includes(transfer))
      throw new DecodeError('unsupported', `high dynamic range code values (transfer ${transfer})`);
    return codedProfile(primaries, transfer);
  }
  return undefined;
}

/** Where the contents of boxes of colour begin and end. */
function colourBoxes(view: DataView, from: number, to: number): [number, number][] {
  const found: [number, number][] = [];
  for (let at = from; at + 8 <= to; ) {
    const length = view.getUint32(at);
    const kind = fourLetters(view, at + 4);
    // 0: to the end; 1: more than 4 GB, of which nothing here is.
    const end = length === 0 ? to : at + length;
    if (length === 1 || end < at + 8 || end > to) break;
    if (kind === 'colr' && end - at >= 12) found.push([at + 8, end]);
    else if (kind in WAY) found.push(...colourBoxes(view, at + 8 + WAY[kind], end));
    at = end;
  }
  return found;
}

const fourLetters = (view: DataView, at: number) =>
  String.fromCharCode(...[0, 1, 2, 3].map((i) => view.getUint8(at + i)));
