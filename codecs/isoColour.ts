import { codedProfile } from '#core/color/assumedProfile.ts';
import { type IccProfile, readIccProfile } from '#core/color/iccProfile.ts';

/** Boxes on the way to the properties of pictures, and the bytes before their content (ISO/IEC 14496-12, 23008-12). */
const WAY: Record<string, number> = { meta: 4, iprp: 0, ipco: 0 };

/** The colour profile of a HEIC or AVIF file: the one in it, or the one that its code points stand for; undefined when it
 * says nothing or sRGB. */
export function isoProfile(bytes: Uint8Array): IccProfile | undefined {
  const written = isoProfileBytes(bytes);
  const profile = written && readIccProfile(written);
  if (profile) return profile;
  const view = viewOf(bytes);
  for (const [at, end] of propertiesOf('colr', view)) {
    if (fourLetters(view, at) === 'nclx' && end - at >= 10)
      return codedProfile(view.getUint16(at + 4), view.getUint16(at + 6));
  }
  return undefined;
}

/** The ICC profile in a HEIC or AVIF file as it is written there. */
export function isoProfileBytes(bytes: Uint8Array): Uint8Array | undefined {
  const view = viewOf(bytes);
  for (const [at, end] of propertiesOf('colr', view)) {
    if (end - at < 4) continue;
    const kind = fourLetters(view, at);
    if (kind === 'prof' || kind === 'rICC') return bytes.slice(at + 4, end);
  }
  return undefined;
}

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Bits of a sample in a HEIC file, of the deepest picture in it (ISO/IEC 23008-12, section 6.5.6; 14496-15, section 8.3.3). */
export function isoDepth(bytes: Uint8Array): number {
  const view = viewOf(bytes);
  const said = propertiesOf('pixi', view).flatMap(([at, end]) =>
    Array.from({ length: Math.max(0, end - at - 5) }, (_, channel) => view.getUint8(at + 5 + channel)),
  );
  const coded = propertiesOf('hvcC', view).flatMap(([at, end]) =>
    end - at > 17 ? [8 + (view.getUint8(at + 17) & 7)] : [],
  );
  return Math.max(8, ...said, ...coded);
}

/** Where the contents of properties of a kind begin and end. */
function propertiesOf(wanted: string, view: DataView, from = 0, to = view.byteLength): [number, number][] {
  const found: [number, number][] = [];
  for (let at = from; at + 8 <= to; ) {
    const length = view.getUint32(at);
    const kind = fourLetters(view, at + 4);
    // 0: to the end; 1: more than 4 GB, of which nothing here is.
    const end = length === 0 ? to : at + length;
    if (length === 1 || end < at + 8 || end > to) break;
    if (kind === wanted) found.push([at + 8, end]);
    else if (kind in WAY) found.push(...propertiesOf(wanted, view, at + 8 + WAY[kind], end));
    at = end;
  }
  return found;
}

const fourLetters = (view: DataView, at: number) =>
  String.fromCharCode(...[0, 1, 2, 3].map((i) => view.getUint8(at + i)));
