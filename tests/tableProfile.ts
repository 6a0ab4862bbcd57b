/** A profile whose colours are looked up in a table (lut16Type, ICC.1:2001-04, section 6.5.7), RGB to Lab.
 * @param toLab - Lab of red, green and blue 0..1. */
export function makeTableProfile(toLab: (rgb: readonly number[]) => readonly number[], grid = 17): Uint8Array {
  const table = lutTag(toLab, grid);
  const description = textTag('A table for tests');
  const white = new Uint8Array(20);
  white.set(ascii('XYZ '));
  for (const [i, value] of PCS_WHITE.entries())
    new DataView(white.buffer).setInt32(8 + 4 * i, Math.round(value * 65536));
  return assemble([
    ['desc', description],
    ['wtpt', white],
    ['A2B0', table],
  ]);
}

const PCS_WHITE = [0.9642, 1, 0.8249];
const ascii = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

function lutTag(toLab: (rgb: readonly number[]) => readonly number[], grid: number): Uint8Array {
  const bytes = new Uint8Array(52 + 12 + grid ** 3 * 6 + 12);
  const view = new DataView(bytes.buffer);
  bytes.set(ascii('mft2'));
  bytes.set([3, 3, grid], 8);
  for (const diagonal of [0, 4, 8]) view.setInt32(12 + 4 * diagonal, 65536);
  view.setUint16(48, 2);
  view.setUint16(50, 2);
  let at = 52;
  const put = (value: number) => {
    view.setUint16(at, Math.min(65535, Math.max(0, Math.round(value))));
    at += 2;
  };
  const straight = () => {
    for (let channel = 0; channel < 3; channel++) for (const end of [0, 65535]) put(end);
  };
  straight();
  for (let i = 0; i < grid ** 3; i++) {
    const rgb = [Math.floor(i / grid ** 2), Math.floor(i / grid) % grid, i % grid].map((step) => step / (grid - 1));
    const [lightness, a, b] = toLab(rgb);
    // 16-bit Lab of version 2: 0xff00 is 100, 0x8000 is 0.
    put((lightness / 100) * 0xff00);
    put((a + 128) * 256);
    put((b + 128) * 256);
  }
  straight();
  return bytes;
}

function textTag(text: string): Uint8Array {
  const bytes = new Uint8Array(12 + text.length + 1 + 78);
  bytes.set(ascii('desc'));
  new DataView(bytes.buffer).setUint32(8, text.length + 1);
  bytes.set(ascii(text), 12);
  return bytes;
}

function assemble(tags: readonly (readonly [string, Uint8Array])[]): Uint8Array {
  const padded = (length: number) => Math.ceil(length / 4) * 4;
  const start = 128 + 4 + 12 * tags.length;
  const size = tags.reduce((sum, [, bytes]) => sum + padded(bytes.length), start);
  const profile = new Uint8Array(size);
  const view = new DataView(profile.buffer);
  view.setUint32(0, size);
  view.setUint32(8, 0x02400000);
  profile.set(ascii('mntrRGB Lab '), 12);
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
