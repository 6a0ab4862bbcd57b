import type { Matrix3 } from '../raster/matrix3.ts';

/** A transfer curve of a profile: linear light of an encoded value, both 0..1. */
export type Curve = (encoded: number) => number;

/** What an ICC profile says of the colours of a picture (ICC.1:2022).
 * `matrix`: three curves and the primaries as XYZ of the profile connection space, D50; `grey`: one curve; `table`: colours
 * are looked up in tables, which only a colour management library can do; `other`: no input or display profile of RGB or grey. */
export type IccProfile = { name: string } & (
  | { kind: 'matrix'; curves: readonly [Curve, Curve, Curve]; toXyz: Matrix3 }
  | { kind: 'grey'; curve: Curve }
  | { kind: 'table' | 'other' }
);

/** A profile from its bytes; undefined when they are no profile. */
export function readIccProfile(bytes: Uint8Array): IccProfile | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  try {
    if (signature(view, 36) !== 'acsp') return undefined;
    return profileOf(view, readTags(view));
  } catch (error) {
    if (error instanceof RangeError) return undefined; // it ends before its own tables do
    throw error;
  }
}

type Tags = Map<string, DataView>;

function readTags(view: DataView): Tags {
  const tags: Tags = new Map();
  const count = view.getUint32(128);
  for (let i = 0; i < count; i++) {
    const at = 132 + i * 12;
    const [from, length] = [view.getUint32(at + 4), view.getUint32(at + 8)];
    tags.set(signature(view, at), new DataView(view.buffer, view.byteOffset + from, length));
  }
  return tags;
}

function profileOf(view: DataView, tags: Tags): IccProfile {
  const name = textOf(tags.get('desc')) || 'a profile without a name';
  const [space, connection] = [signature(view, 16), signature(view, 20)];
  if (space === 'GRAY') {
    const curve = curveOf(tags.get('kTRC'));
    return curve ? { name, kind: 'grey', curve } : { name, kind: 'other' };
  }
  if (space !== 'RGB ') return { name, kind: 'other' };
  // Tables come first where a profile has both (ICC.1:2022, section 9.2).
  if (['A2B0', 'A2B1', 'D2B0', 'D2B1'].some((tag) => tags.has(tag))) return { name, kind: 'table' };
  const curves = ['rTRC', 'gTRC', 'bTRC'].map((tag) => curveOf(tags.get(tag)));
  const columns = ['rXYZ', 'gXYZ', 'bXYZ'].map((tag) => xyzOf(tags.get(tag)));
  const [red, green, blue] = curves;
  if (connection !== 'XYZ ' || !red || !green || !blue || columns.some((column) => !column))
    return { name, kind: 'other' };
  const toXyz = [0, 1, 2].flatMap((row) => columns.map((column) => column?.[row] ?? 0));
  return { name, kind: 'matrix', curves: [red, green, blue], toXyz };
}

const signature = (view: DataView, at: number) =>
  String.fromCharCode(...[0, 1, 2, 3].map((i) => view.getUint8(at + i)));

const fixed = (view: DataView, at: number) => view.getInt32(at) / 65536;

/** A description, in either of the two forms that profiles have it in. */
function textOf(tag: DataView | undefined): string {
  if (!tag) return '';
  if (signature(tag, 0) === 'desc') {
    const length = Math.max(0, tag.getUint32(8) - 1);
    return latin(tag, 12, length);
  }
  if (signature(tag, 0) !== 'mluc' || tag.getUint32(8) === 0) return '';
  const [length, at] = [tag.getUint32(20), tag.getUint32(24)];
  let text = '';
  for (let i = 0; i < length; i += 2) text += String.fromCharCode(tag.getUint16(at + i));
  return text.replaceAll('\0', '').trim();
}

function latin(view: DataView, at: number, length: number): string {
  let text = '';
  for (let i = 0; i < length; i++) text += String.fromCharCode(view.getUint8(at + i));
  return text.replaceAll('\0', '').trim();
}

const xyzOf = (tag: DataView | undefined): number[] | undefined =>
  tag && signature(tag, 0) === 'XYZ ' ? [fixed(tag, 8), fixed(tag, 12), fixed(tag, 16)] : undefined;

function curveOf(tag: DataView | undefined): Curve | undefined {
  if (!tag) return undefined;
  if (signature(tag, 0) === 'curv') return sampledCurve(tag);
  return signature(tag, 0) === 'para' ? parametricCurve(tag) : undefined;
}

/** curveType (ICC.1:2022, section 10.6): nothing, a gamma, or samples with straight lines between them. */
function sampledCurve(tag: DataView): Curve {
  const count = tag.getUint32(8);
  if (count === 0) return (x) => x;
  if (count === 1) {
    const gamma = tag.getUint16(12) / 256;
    return (x) => x ** gamma;
  }
  const samples = Float64Array.from({ length: count }, (_, i) => tag.getUint16(12 + i * 2) / 65535);
  return (x) => {
    const place = Math.min(1, Math.max(0, x)) * (count - 1);
    const left = Math.min(count - 2, Math.floor(place));
    return samples[left] + (samples[left + 1] - samples[left]) * (place - left);
  };
}

/** parametricCurveType (ICC.1:2022, section 10.18, table 68). */
function parametricCurve(tag: DataView): Curve | undefined {
  const kind = tag.getUint16(8);
  const [g, a, b, c, d, e, f] = Array.from({ length: [1, 3, 4, 5, 7][kind] ?? 0 }, (_, i) => fixed(tag, 12 + i * 4));
  const power = (x: number) => Math.max(0, a * x + b) ** g;
  switch (kind) {
    case 0:
      return (x) => x ** g;
    case 1:
      return (x) => (x >= -b / a ? power(x) : 0);
    case 2:
      return (x) => (x >= -b / a ? power(x) + c : c);
    case 3:
      return (x) => (x >= d ? power(x) : c * x);
    case 4:
      return (x) => (x >= d ? power(x) + e : c * x + f);
    default:
      return undefined;
  }
}
