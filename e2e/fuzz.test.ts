import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import alea from 'alea';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DecodeError } from '#codecs/decodeError.ts';
import { PLAIN_READING } from '#core/reading.ts';
import { encodeDng } from '../demo/camera/dng.ts';
import { Lane } from '../engine/lanes.ts';
import { nodeLibraries } from '../engine/node/libraries.ts';
import { type NodeEngine, startEngine } from '../engine/node/startEngine.ts';
import { RAW_FACTS } from '../tests/rawFacts.ts';

const MUTATIONS = 2000;
const RANDOM_FILES = 200;
const size = { width: 96, height: 60 };
const samples = Uint8Array.from(
  { length: size.width * size.height * 3 },
  (_, i) => (i * 7 + ((i / 288) | 0) * 5) & 255,
);
const rgb = () => sharp(samples, { raw: { ...size, channels: 3 } });

let node: NodeEngine;
let originals: Record<string, Uint8Array>;
beforeAll(async () => {
  node = await startEngine(new URL('../dist/node/', import.meta.url), 128 * 2 ** 20);
  originals = await makeOriginals();
});
afterAll(() => node.close());

async function makeOriginals(): Promise<Record<string, Uint8Array>> {
  const vips = await nodeLibraries.vipsMore();
  const image = vips.Image.newFromMemory(samples, size.width, size.height, 3, vips.BandFormat.uchar).copy({
    interpretation: 'srgb',
  });
  const light = image
    .cast('float')
    .linear([1 / 100], [0])
    .copy({ interpretation: 'scrgb' });
  const mosaic = Uint16Array.from({ length: size.width * size.height }, (_, i) => 600 + ((i * 37) % 9000));
  const [png, heic] = ['a.png', 'a.heic'].map((name) => join(mkdtempSync(join(tmpdir(), 'lusket-')), name));
  writeFileSync(png, await rgb().png().toBuffer());
  execFileSync('heif-enc', [png, '-o', heic], { stdio: 'ignore' });
  return {
    jpeg: await rgb().jpeg().toBuffer(),
    'progressive jpeg': await rgb().jpeg({ progressive: true }).toBuffer(),
    png: readFileSync(png),
    'tiff, lzw': await rgb().tiff({ compression: 'lzw' }).toBuffer(),
    'tiff, tiled': await rgb().tiff({ compression: 'deflate', tile: true, tileWidth: 32, tileHeight: 32 }).toBuffer(),
    'tiff, floats': light.writeToBuffer('.tif').slice(),
    webp: await rgb().webp().toBuffer(),
    avif: await rgb().avif().toBuffer(),
    jxl: image.writeToBuffer('.jxl').slice(),
    heic: readFileSync(heic),
    radiance: light.float2rad().writeToBuffer('.hdr').slice(),
    dng: encodeDng(mosaic, size, RAW_FACTS),
  };
}

/** A file with something wrong in it: bits flipped, a stretch zeroed, doubled, or cut off. */
function mutated(original: Uint8Array, random: () => number): Uint8Array<ArrayBuffer> {
  const bytes = Uint8Array.from(original);
  const place = () => Math.floor(random() * (random() < 0.5 ? Math.min(200, bytes.length) : bytes.length));
  const kind = Math.floor(random() * 4);
  if (kind === 0) for (let k = 0; k < 1 + random() * 8; k++) bytes[place()] ^= 1 << Math.floor(random() * 8);
  if (kind === 1) bytes.fill(random() < 0.5 ? 0 : 255, place(), place() + 16);
  if (kind === 2) bytes.copyWithin(place(), place(), place() + 64);
  return kind === 3 ? bytes.slice(0, place()) : bytes;
}

/** What reading a file comes to: `frame`, or the code of the error. */
async function outcome(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  try {
    const { width, height } = await node.codec.inspect({
      file: bytes.slice().buffer,
      name: 'fuzz',
      reading: PLAIN_READING,
    });
    return width > 0 && height > 0 ? 'frame' : 'a frame without pixels';
  } catch (error) {
    return error instanceof DecodeError ? error.code : `no named error: ${error}`;
  }
}

/** Outcomes that a user can make something of. */
const NAMED = ['frame', 'damaged', 'unknown-format', 'unsupported', 'too-large', 'empty'];

async function tally(files: Iterable<[string, Uint8Array<ArrayBuffer>]>): Promise<Map<string, number>> {
  const counts = new Map<string, number>();
  const iterator = files[Symbol.iterator]();
  const lane = async () => {
    for (let next = iterator.next(); !next.done; next = iterator.next()) {
      const [name, bytes] = next.value;
      const code = await outcome(bytes);
      const key = NAMED.includes(code) ? code : `${name}: ${code}`;
      counts.set(key, (counts.get(key) ?? 0) + 1);
    }
  };
  await Promise.all(Array.from({ length: node.codec.lanes }, lane));
  return counts;
}

describe('files that are not what they should be', () => {
  it('the originals are all frames', async () => {
    for (const [name, bytes] of Object.entries(originals)) {
      expect([name, await outcome(Uint8Array.from(bytes))]).toEqual([name, 'frame']);
    }
  });

  it(`${MUTATIONS} damaged files over all formats each give a frame or a named error`, async () => {
    const random = alea('damage');
    const names = Object.keys(originals);
    function* files(): Generator<[string, Uint8Array<ArrayBuffer>]> {
      for (let i = 0; i < MUTATIONS; i++) {
        const name = names[i % names.length];
        yield [`${name} ${i}`, mutated(originals[name], random)];
      }
    }
    const counts = await tally(files());
    expect([...counts.keys()].filter((code) => !NAMED.includes(code))).toEqual([]);
    expect(counts.get('frame')).toBeGreaterThan(MUTATIONS / 10);
    expect(counts.get('damaged')).toBeGreaterThan(MUTATIONS / 10);
  });

  it(`${RANDOM_FILES} files of random bytes are refused by name`, async () => {
    const random = alea('noise');
    function* files(): Generator<[string, Uint8Array<ArrayBuffer>]> {
      for (let i = 0; i < RANDOM_FILES; i++)
        yield ['random', Uint8Array.from({ length: Math.floor(random() * 4000) }, () => random() * 256)];
    }
    const counts = await tally(files());
    expect([...counts.keys()].filter((code) => !['unknown-format', 'empty'].includes(code))).toEqual([]);
  });

  it('a thread that got stuck is given up, and the next file is read by a new one', async () => {
    const impatient = await startEngine(new URL('../dist/node/', import.meta.url), 128 * 2 ** 20, { patienceMs: 1 });
    try {
      const read = () =>
        impatient.codec.inspect({ file: Uint8Array.from(originals.avif).buffer, name: 'a', reading: PLAIN_READING });
      await expect(read()).rejects.toMatchObject({ code: 'stuck' });
      await expect(read()).rejects.toMatchObject({ code: 'stuck' });
    } finally {
      impatient.close();
    }
  });

  it('a raw file is given up while it is developed, and the next file is read by a new thread', async () => {
    const { engine, codec } = node;
    const large = { width: 8000, height: 6000 };
    const mosaic = Uint16Array.from({ length: large.width * large.height }, (_, i) => 600 + ((i * 37) % 9000));
    const file = encodeDng(mosaic, large, RAW_FACTS).buffer;
    const reading = codec.load({ file, name: 'a.dng', reading: PLAIN_READING }, undefined, () => undefined);
    await new Promise((resolve) => setTimeout(resolve, 700)); // the library is at it
    engine.advance(Lane.Load);
    codec.stopLoading();
    await expect(reading).rejects.toMatchObject({ code: 'cancelled', detail: 'the thread was ended' });
    const next = { file: Uint8Array.from(originals.png).buffer, name: 'a.png', reading: PLAIN_READING };
    expect(await codec.load(next, undefined, () => undefined)).toMatchObject(size);
  });
});
