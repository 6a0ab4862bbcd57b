import { PCS_WHITE, toPcs } from './adaptation.ts';
import { SRGB_PRIMARIES } from './primaries.ts';
import { FILE_CURVES, type OutputSpace, spaceToPcs } from './workingSpace.ts';

const NAMES: Record<OutputSpace, string> = {
  srgb: 'sRGB',
  'display-p3': 'Display P3',
  bt2020: 'BT.2020 primaries, sRGB curve',
  oprgb: 'opRGB',
};

const HEADER_BYTES = 128;

/** The curve of sRGB as a parametric curve of type 3: exponent, then a, b, c, d (IEC 61966-2-1:1999). */
const SRGB_CURVE = [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045];

/** A display profile of a space in which pictures are written (ICC.1:2022, section 8.3.3: three curves and a matrix).
 * @param isLinear - Its values are light itself. */
export function writeProfile(space: OutputSpace, isLinear = false): Uint8Array<ArrayBuffer> {
  const matrix = spaceToPcs(space);
  const column = (index: number) => xyz([matrix[index], matrix[index + 3], matrix[index + 6]]);
  const kind = isLinear ? { power: 1 } : FILE_CURVES[space];
  const [type, values] = kind === 'srgb' ? [3, SRGB_CURVE] : [0, [kind.power]];
  const curve = [...text('para'), ...word(0), ...half(type), ...half(0), ...values.flatMap(fixed)];
  const tags: [string, number[]][] = [
    ['desc', localize(isLinear ? `${NAMES[space]}, linear` : NAMES[space])],
    ['cprt', localize('In the public domain')],
    ['wtpt', xyz(PCS_WHITE)],
    ['chad', [...text('sf32'), ...word(0), ...toPcs(SRGB_PRIMARIES.white).flatMap(fixed)]],
    ['rXYZ', column(0)],
    ['gXYZ', column(1)],
    ['bXYZ', column(2)],
    ['rTRC', curve],
    ['gTRC', curve],
    ['bTRC', curve],
  ];
  return laidOut(tags);
}

/** Header, table of tags and their data, each of which begins at a multiple of four. */
function laidOut(tags: readonly [string, number[]][]): Uint8Array<ArrayBuffer> {
  const table: number[] = word(tags.length);
  const data: number[] = [];
  const first = HEADER_BYTES + 4 + tags.length * 12;
  let curveAt: number | undefined;
  for (const [name, bytes] of tags) {
    const isCurve = name.endsWith('TRC');
    // The three curves are one and share their place.
    const at: number = (isCurve ? curveAt : undefined) ?? first + data.length;
    if (at === first + data.length) {
      data.push(...bytes);
      while (data.length % 4 !== 0) data.push(0);
    }
    if (isCurve) curveAt = at;
    table.push(...text(name), ...word(at), ...word(bytes.length));
  }
  return Uint8Array.from([...header(first + data.length), ...table, ...data]);
}

/** ICC.1:2022, table 17. The date is always the same, so that equal pictures are equal files. */
function header(bytes: number): number[] {
  return [
    ...word(bytes),
    ...word(0), // no preferred colour management
    ...[4, 0x40, 0, 0],
    ...text('mntr'),
    ...text('RGB '),
    ...text('XYZ '),
    ...[2026, 1, 1, 0, 0, 0].flatMap(half),
    ...text('acsp'),
    ...Array<number>(28).fill(0),
    ...PCS_WHITE.flatMap(fixed),
    ...Array<number>(48).fill(0),
  ];
}

const text = (letters: string): number[] => Array.from(letters, (letter) => letter.charCodeAt(0));
const half = (value: number): number[] => [value >> 8, value & 255];
const word = (value: number): number[] => [value >>> 24, (value >> 16) & 255, (value >> 8) & 255, value & 255];
const fixed = (value: number): number[] => word(Math.round(value * 65536));
const xyz = (values: readonly number[]): number[] => [...text('XYZ '), ...word(0), ...values.flatMap(fixed)];

/** Text in one language, UTF-16 (ICC.1:2022, section 10.15). */
function localize(content: string): number[] {
  const letters = Array.from(content, (letter) => half(letter.charCodeAt(0))).flat();
  return [
    ...text('mluc'),
    ...word(0),
    ...word(1),
    ...word(12),
    ...text('enUS'),
    ...word(letters.length),
    ...word(28),
    ...letters,
  ];
}
