import { sha256 } from '@noble/hashes/sha2.js';

/** 128 bits that stand for everything that determines a node's pixels. */
export type NodeKey = Uint32Array;

const encoder = (text: string): Uint8Array => {
  const bytes = new Uint8Array(text.length * 2);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    bytes[2 * i] = code & 255;
    bytes[2 * i + 1] = code >> 8;
  }
  return bytes;
};

/** Key of a text: the first 128 bits of the SHA-256 (FIPS 180-4) of its UTF-16 code units. */
export function keyOfText(text: string): NodeKey {
  return new Uint32Array(sha256(encoder(text)).buffer.slice(0, 16) as ArrayBuffer);
}

/** Key of a value that JSON can hold, with its kind. */
export function keyOf(kind: string, value: unknown): NodeKey {
  return keyOfText(`${kind}:${JSON.stringify(value)}`);
}

/** Key of an operation over inputs that have keys of their own; the order of the inputs counts. */
export function joinKeys(kind: string, ...keys: NodeKey[]): NodeKey {
  return keyOfText(`${kind}:${keys.map(keyText).join(',')}`);
}

/** A key as text, for maps and messages. */
export function keyText(key: NodeKey): string {
  return Array.from(key, (word) => word.toString(36)).join('.');
}

/** Packs a level and a tile's place into one word: 4 bits, 14 bits, 14 bits.
 * @throws {RangeError} when the picture is larger than two million pixels a side. */
export function packPlace(level: number, tx: number, ty: number): number {
  if (level < 0 || level > 15 || tx < 0 || tx > 16383 || ty < 0 || ty > 16383) {
    throw new RangeError(`No such tile: level ${level}, ${tx}, ${ty}`);
  }
  return (level << 28) | (tx << 14) | ty;
}
