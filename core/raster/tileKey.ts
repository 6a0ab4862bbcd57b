import { sha256 } from '@noble/hashes/sha2.js';
import { rememberFew } from './rememberFew.ts';

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

/** Keys of texts that stay known: each plan of a scene asks for most of those of the plan before. */
const KNOWN_TEXTS = 4096;

/** Key of a text: the first 128 bits of the SHA-256 (FIPS 180-4) of its UTF-16 code units. Those who ask for the same share it: nobody writes to it. */
export const keyOfText: (text: string) => NodeKey = rememberFew(
  KNOWN_TEXTS,
  (text) => new Uint32Array(sha256(encoder(text)).buffer.slice(0, 16) as ArrayBuffer),
);

/** Key of a value that JSON can hold, with its kind. */
export function keyOf(kind: string, value: unknown): NodeKey {
  return keyOfText(`${kind}:${JSON.stringify(value)}`);
}

const rotate = (word: number, by: number): number => (word << by) | (word >>> (32 - by));

/** What keys are mixed in. Signed, since integers that are not are slow where they are large. */
const LANES = new Int32Array(4);

/** Key of an operation over inputs; their order counts. Mixes 32-bit words the way MurmurHash3 x86_32 does (Appleby,
 * public domain), in four lanes: the inputs are digests already, and a SHA per tile would cost more than the tile.
 * @param inputs - Keys, and whole numbers of 32 bits: of others the fraction does not count. */
export function mixKeys(seed: NodeKey, ...inputs: (NodeKey | number)[]): NodeKey {
  return mixAll(seed, inputs);
}

/** The same over inputs in a list. */
export function mixAll(seed: NodeKey, inputs: readonly (NodeKey | number)[]): NodeKey {
  start(seed);
  for (let at = 0; at < inputs.length; at++) {
    const input = inputs[at];
    if (typeof input === 'number') absorb(input);
    else for (let i = 0; i < 4; i++) absorb(input[i]);
  }
  return closed(inputs.length);
}

/** The same over the first of some words. */
export function mixWords(seed: NodeKey, words: ArrayLike<number>, count: number): NodeKey {
  start(seed);
  for (let i = 0; i < count; i++) absorb(words[i]);
  return closed(count);
}

function start(seed: NodeKey): void {
  for (let i = 0; i < 4; i++) LANES[i] = seed[i];
}

function absorb(word: number): void {
  const k = Math.imul(rotate(Math.imul(word, 0xcc9e2d51), 15), 0x1b873593);
  const a = (Math.imul(rotate(LANES[0] ^ k, 13), 5) + 0xe6546b64 + LANES[3]) | 0;
  const b = (Math.imul(rotate(LANES[1] ^ rotate(k, 7), 13), 5) + 0xe6546b64 + a) | 0;
  const c = (Math.imul(rotate(LANES[2] ^ rotate(k, 14), 13), 5) + 0xe6546b64 + b) | 0;
  LANES[0] = a;
  LANES[1] = b;
  LANES[2] = c;
  LANES[3] = (Math.imul(rotate(LANES[3] ^ rotate(k, 21), 13), 5) + 0xe6546b64 + c) | 0;
}

function closed(count: number): NodeKey {
  absorb(count);
  absorb(count + 1);
  // One by one: to copy from lanes of another type takes V8 several times as long.
  const key = new Uint32Array(4);
  for (let i = 0; i < 4; i++) key[i] = LANES[i];
  return key;
}

export const isSameKey = (a: NodeKey, b: NodeKey): boolean =>
  a[0] === b[0] && a[1] === b[1] && a[2] === b[2] && a[3] === b[3];

/** A key as text, for maps and messages. */
export function keyText(key: NodeKey): string {
  return `${key[0]}.${key[1]}.${key[2]}.${key[3]}`;
}

/** Packs a level, which may be a quarter, and a tile's place into one word: 6 bits, 13 bits, 13 bits.
 * @throws {RangeError} when the picture is larger than a million pixels a side. */
export function packPlace(level: number, tx: number, ty: number): number {
  const quarters = level * 4;
  if (quarters >>> 0 !== quarters || quarters > 63 || tx < 0 || tx > 8191 || ty < 0 || ty > 8191) {
    throw new RangeError(`No such tile: level ${level}, ${tx}, ${ty}`);
  }
  return (quarters << 26) | (tx << 13) | ty;
}
