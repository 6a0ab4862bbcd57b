import { spaceToPcs } from '#core/color/workingSpace.ts';
import { invert3, times3 } from '#core/raster/matrix3.ts';

/** A profile whose colours are looked up in a table (lut16Type, ICC.1:2001-04, section 6.5.7), RGB to Lab.
 * @param toLab - Lab of red, green and blue 0..1. */
export function makeTableProfile(toLab: (rgb: readonly number[]) => readonly number[], grid = 17): Uint8Array {
  return assemble('mntrRGB Lab ', [['A2B0', lutTag([3, 3, grid], (rgb) => pcsOf(toLab(rgb)))]]);
}

/** Share of the light that paper throws back where all inks lie. */
export const PAPER_BLACK = 0.02;
const PAPER_GAMMA = 2.2;

/** A press of four inks, each of which takes one of red, green and blue of sRGB away, and black of all: it has what sRGB has but for light
 * below that of its darkest. A table each way, as printers' profiles have them. */
export function makePressProfile(): Uint8Array {
  const matrix = spaceToPcs('srgb');
  const back = invert3(matrix);
  const lightOf = (ink: number) => PAPER_BLACK + (1 - PAPER_BLACK) * (1 - ink) ** PAPER_GAMMA;
  const inkOf = (light: number) =>
    1 - Math.min(1, Math.max(0, (light - PAPER_BLACK) / (1 - PAPER_BLACK))) ** (1 / PAPER_GAMMA);
  return assemble('prtrCMYKLab ', [
    [
      'A2B0',
      lutTag([4, 3, 13], ([c, m, y, k]) =>
        pcsOf(
          labOf(
            times3(
              matrix,
              [c, m, y].map((ink) => lightOf(ink) * lightOf(k)),
            ),
          ),
        ),
      ),
    ],
    ['B2A0', lutTag([3, 4, 33], (pcs) => [...times3(back, xyzOf(labOfPcs(pcs))).map(inkOf), 0])],
  ]);
}

/** CIE Lab of light, white 1 as the profile connection space has it, and the way back (CIE 15:2004, 8.2.1). */
function labOf(xyz: readonly number[]): number[] {
  const [x, y, z] = xyz.map((value, i) => {
    const share = value / PCS_WHITE[i];
    return share > 216 / 24389 ? Math.cbrt(share) : (share * 24389) / 27 / 116 + 16 / 116;
  });
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}
function xyzOf([lightness, a, b]: readonly number[]): number[] {
  const y = (lightness + 16) / 116;
  return [y + a / 500, y, y - b / 200].map(
    (root, i) => PCS_WHITE[i] * (root > 6 / 29 ? root ** 3 : ((116 * root - 16) * 27) / 24389),
  );
}
/** 16-bit Lab of version 2 as shares of 65535: 0xff00 is 100, 0x8000 is 0. */
const pcsOf = ([lightness, a, b]: readonly number[]): number[] =>
  [(lightness / 100) * 0xff00, (a + 128) * 256, (b + 128) * 256].map((value) => value / 65535);
const labOfPcs = ([lightness, a, b]: readonly number[]): number[] => [
  (lightness * 65535 * 100) / 0xff00,
  (a * 65535) / 256 - 128,
  (b * 65535) / 256 - 128,
];

const PCS_WHITE = [0.9642, 1, 0.8249];
const ascii = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

/** @param sizes - Channels that go in and come out, and steps of the grid along each that goes in.
 * @param of - From one to the other, all 0..1. */
function lutTag(
  [inputs, outputs, grid]: readonly [number, number, number],
  of: (values: readonly number[]) => readonly number[],
): Uint8Array {
  const bytes = new Uint8Array(52 + 4 * inputs + grid ** inputs * 2 * outputs + 4 * outputs);
  const view = new DataView(bytes.buffer);
  bytes.set(ascii('mft2'));
  bytes.set([inputs, outputs, grid], 8);
  for (const diagonal of [0, 4, 8]) view.setInt32(12 + 4 * diagonal, 65536);
  view.setUint16(48, 2);
  view.setUint16(50, 2);
  let at = 52;
  const put = (value: number) => {
    view.setUint16(at, Math.min(65535, Math.max(0, Math.round(value * 65535))));
    at += 2;
  };
  const straight = (channels: number) => {
    for (let channel = 0; channel < channels; channel++) for (const end of [0, 1]) put(end);
  };
  straight(inputs);
  for (let i = 0; i < grid ** inputs; i++) {
    const steps = Array.from({ length: inputs }, (_, k) => Math.floor(i / grid ** (inputs - 1 - k)) % grid);
    for (const value of of(steps.map((step) => step / (grid - 1)))) put(value);
  }
  straight(outputs);
  return bytes;
}

function textTag(text: string): Uint8Array {
  const bytes = new Uint8Array(12 + text.length + 1 + 78);
  bytes.set(ascii('desc'));
  new DataView(bytes.buffer).setUint32(8, text.length + 1);
  bytes.set(ascii(text), 12);
  return bytes;
}

/** @param kind - Class, space of colours and connection space, four letters each. */
function assemble(kind: string, tables: readonly (readonly [string, Uint8Array])[]): Uint8Array {
  const white = new Uint8Array(20);
  white.set(ascii('XYZ '));
  for (const [i, value] of PCS_WHITE.entries())
    new DataView(white.buffer).setInt32(8 + 4 * i, Math.round(value * 65536));
  const tags = [['desc', textTag('A table for tests')], ['wtpt', white], ...tables] as const;
  const padded = (length: number) => Math.ceil(length / 4) * 4;
  const start = 128 + 4 + 12 * tags.length;
  const size = tags.reduce((sum, [, bytes]) => sum + padded(bytes.length), start);
  const profile = new Uint8Array(size);
  const view = new DataView(profile.buffer);
  view.setUint32(0, size);
  view.setUint32(8, 0x02400000);
  profile.set(ascii(kind), 12);
  view.setUint16(24, 2025);
  view.setUint16(26, 1);
  view.setUint16(28, 1);
  profile.set(ascii('acsp'), 36);
  for (const [i, value] of PCS_WHITE.entries()) view.setInt32(68 + 4 * i, Math.round(value * 65536));
  view.setUint32(128, tags.length);
  let at = start;
  for (const [i, [signature, bytes]] of tags.entries()) {
    profile.set(ascii(signature), 132 + 12 * i);
    view.setUint32(136 + 12 * i, at);
    view.setUint32(140 + 12 * i, bytes.length);
    profile.set(bytes, at);
    at += padded(bytes.length);
  }
  return profile;
}
