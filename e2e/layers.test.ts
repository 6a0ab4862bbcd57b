import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { BlobReader, BlobWriter, TextReader, ZipReader, ZipWriter } from '@zip.js/zip.js';
import alea from 'alea';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { restOf } from '#codecs/deliver/formats/list.ts';
import { presetWith } from '#codecs/deliver/preset.ts';
import { NO_TEXTS } from '#codecs/deliver/texts.ts';
import { FIRST_READING } from '#core/reading.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Item } from '#core/scene/item.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { type DeliveryReport, deliver } from '../engine/deliver/deliver.ts';
import { readOpenRaster } from '../engine/deliver/readOpenRaster.ts';
import { memoryPlace, type Place } from '../engine/deliver/sink.ts';
import { type NodeEngine, startEngine } from '../engine/node/startEngine.ts';
import { randomScene } from '../tests/randomScene.ts';
import { randomStack } from '../tests/randomStack.ts';

/** Pictures of several bands, so that bands meet. */
const size = { width: 500, height: 1300 };
const all = { x: 0, y: 0, ...size };
const folder = mkdtempSync(join(tmpdir(), 'lusket-layers-'));

async function fileOf(tone: number): Promise<ArrayBuffer> {
  const pixels = new Uint16Array(size.width * size.height * 3);
  for (let i = 0; i < pixels.length; i++)
    pixels[i] = ((i % (size.width * 3)) * 31 + Math.floor(i / 1500) * 17 * tone + (i % 3) * 9000) & 0xffff;
  return pngOf(pixels);
}

async function pngOf(pixels: Uint16Array): Promise<ArrayBuffer> {
  const { buffer, byteOffset, byteLength } = await sharp(pixels, { raw: { ...size, channels: 3 } })
    .toColourspace('rgb16')
    .png()
    .toBuffer();
  return buffer.slice(byteOffset, byteOffset + byteLength) as ArrayBuffer;
}

let node: NodeEngine;
let made: Scene;
beforeAll(async () => {
  node = await startEngine(new URL('../dist/node/', import.meta.url), 512 * 2 ** 20);
  const frames: Frame[] = [];
  for (const tone of [1, 2, 3]) {
    const file = { file: await fileOf(tone), name: `${tone}.png`, reading: FIRST_READING };
    frames.push(await node.codec.load(file, size, () => undefined));
  }
  made = applyEdit(newScene('Layers'), addFrames({ frames }));
});
afterAll(() => node.close());

const picture = async (scene: Scene): Promise<Uint16Array> => {
  node.engine.setScene(scene);
  return Uint16Array.from((await node.engine.render({ what: 'result' }, size, all, 'srgb', () => undefined)) ?? []);
};
const delivery = (scene: Scene, presets = [presetWith({ what: 'layers', pattern: 'layers' })]) => ({
  scene,
  presets,
  texts: NO_TEXTS,
  nameOfItem: String,
  nameOfFrame: String,
});
async function delivered(
  scene: Scene,
  presets?: Parameters<typeof delivery>[1],
): Promise<{ files: Map<string, Blob>; report: DeliveryReport }> {
  node.engine.setScene(scene);
  const files = new Map<string, Blob>();
  const place = memoryPlace((file, name) => files.set(name, file));
  return { report: await deliver(node, delivery(scene, presets), place), files };
}
const farthest = (a: Uint16Array, b: Uint16Array): number => {
  let most = a.length === b.length ? 0 : Number.POSITIVE_INFINITY;
  for (let i = 0; i < a.length; i++) most = Math.max(most, Math.abs(a[i] - b[i]));
  return most / 257;
};
const samplesOf = async (file: Blob | undefined): Promise<Uint16Array> => {
  const { buffer, byteOffset, length } = await sharp(Buffer.from(await (file as Blob).arrayBuffer()), {
    ignoreIcc: true,
  })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer();
  return new Uint16Array(buffer, byteOffset, length / 2);
};

const withoutAdjustments = (scene: Scene): Scene => ({ ...scene, stack: bare(scene.stack) });
const bare = (items: readonly Item[]): Item[] =>
  items.flatMap((item): Item[] => {
    if (item.item === 'adjustment') return [];
    return [
      item.item === 'group' ? { ...item, adjustments: [], items: bare(item.items) } : { ...item, adjustments: [] },
    ];
  });

describe('layers', () => {
  it.each([1, 2, 3, 4])(
    'of a rich stack, written as OpenRaster and opened again, are its picture (%s)',
    async (seed) => {
      const rich = randomScene(made, `round ${seed}`, { layers: 4, parts: 2 });
      // What is lifted above white is cut in layers: nothing is developed here.
      const scene = withoutAdjustments(randomStack(rich, `round ${seed}`));
      const expected = await picture(scene);
      const { files } = await delivered(scene);
      const read = await readOpenRaster(node.codec, files.get('layers.ora') as Blob, 'Back');
      for (const blob of read.originals.values()) {
        const file = { file: await blob.arrayBuffer(), name: 'layer.png', reading: FIRST_READING };
        await node.codec.load(file, size, () => undefined);
      }
      expect(read.unknownModes).toEqual([]);
      expect(farthest(await picture(read.scene), expected)).toBeLessThanOrEqual(1);
    },
  );

  it('are deflated where that halves them, and stored where noise would only take time', async () => {
    const random = alea('grain');
    const noise = Uint16Array.from({ length: size.width * size.height * 3 }, () => random() * 65536);
    const [smooth] = made.frames;
    const grainy = await node.codec.load(
      { file: await pngOf(noise), name: 'noise.png', reading: FIRST_READING },
      size,
      () => undefined,
    );
    // The base covers everything, the layer above it nothing.
    const written = async (frames: Frame[]) => {
      const scene = applyEdit(newScene('Two'), addFrames({ frames }));
      const expected = await picture(scene);
      const entries = await entriesOf((await delivered(scene)).files.get('layers.ora'));
      expect(farthest(await samplesOf(entries.get('mergedimage.png')), expected) * 257).toBe(0);
      return [...entries].filter(([name]) => /layer\d+|merged/.test(name)).map(([, { size: bytes }]) => bytes);
    };
    const raw = noise.byteLength;
    const ofNoise = await written([grainy]);
    expect(ofNoise.every((bytes) => bytes > raw && bytes < 1.01 * raw)).toBe(true);
    const ofSmooth = await written([smooth]);
    expect(ofSmooth.every((bytes) => bytes < raw / 2)).toBe(true);
    const ofBoth = await written([smooth, grainy]);
    expect(Math.min(...ofBoth)).toBeLessThan(raw / 20);
  });

  const entriesOf = async (file: Blob | undefined): Promise<Map<string, Blob>> => {
    const zip = new ZipReader(new BlobReader(file as Blob));
    const blobs = new Map<string, Blob>();
    for (const entry of await zip.getEntries())
      if (!entry.directory) blobs.set(entry.filename, await entry.getData(new BlobWriter()));
    return blobs;
  };

  it('past what a classic TIFF can point to are a BigTIFF, which a general library reads', async () => {
    const { tiffAt } = await pagesOf(40_000);
    expect(tiffAt.subarray(2, 4)).toEqual(Uint8Array.of(43, 0));
    const path = join(folder, 'big.tif');
    await sharp(Buffer.from(tiffAt), { page: 1 }).toFile(path);
    expect(readFileSync(path).length).toBeGreaterThan(0);
    const { tiffAt: classic } = await pagesOf(undefined);
    expect(classic.subarray(2, 4)).toEqual(Uint8Array.of(42, 0));
    const [a, b] = await Promise.all(
      [tiffAt, classic].map((bytes) => sharp(Buffer.from(bytes), { page: 2 }).raw().toBuffer()),
    );
    expect(a.equals(b)).toBe(true);
  });

  async function pagesOf(most: number | undefined): Promise<{ tiffAt: Uint8Array }> {
    const { writeLayeredTiff } = await import('../engine/deliver/layeredTiff.ts');
    const { planLayers } = await import('#core/deliver/layers.ts');
    const { Outlet } = await import('../engine/deliver/sink.ts');
    const scene = randomScene(made, 'pages', { layers: 2, parts: 1 });
    node.engine.setScene(scene);
    let file = new Blob();
    const outlet = new Outlet(
      await memoryPlace((whole) => {
        file = whole;
      }).open('pages.tif', 'image/tiff'),
    );
    const work = { machine: node, scene, plan: planLayers(scene), nameOf: () => 'a layer', size, region: all };
    await writeLayeredTiff({ ...work, texts: {}, outlet, watch: {} }, most);
    await outlet.finish();
    return { tiffAt: new Uint8Array(await file.arrayBuffer()) };
  }

  it('of other programs, smaller than their canvas and set off, lie where they lay', async () => {
    const patch = await sharp({
      create: { width: 20, height: 10, channels: 4, background: { r: 200, g: 0, b: 0, alpha: 0.5 } },
    })
      .png()
      .toBuffer();
    const file = await oraOf(
      '<image w="60" h="40"><stack><layer name="Spot" src="data/a.png" x="30" y="-5" opacity="0.5"/></stack></image>',
      { 'data/a.png': patch },
    );
    const { scene, originals } = await readOpenRaster(node.codec, file, 'Other');
    expect(scene.frames).toHaveLength(2);
    expect(scene.frames.find(({ id }) => id === scene.base)?.label).toBe('Black');
    for (const blob of originals.values())
      await node.codec.load(
        { file: await blob.arrayBuffer(), name: 'a.png', reading: FIRST_READING },
        undefined,
        () => undefined,
      );
    node.engine.setScene(scene);
    const canvas = { width: 60, height: 40 };
    const seen = await node.engine.render(
      { what: 'result' },
      canvas,
      { x: 0, y: 0, ...canvas },
      'srgb',
      () => undefined,
    );
    const at = (x: number, y: number) => Math.round((seen?.[3 * (y * 60 + x)] ?? 0) / 257);
    expect([at(10, 2), at(40, 2), at(40, 8), at(55, 2)]).toEqual([0, 50, 0, 0]);
  });

  it('that lead elsewhere, are missing, too large or declare entities are refused by name', async () => {
    const wrong: [string, string][] = [
      ['<image w="60" h="40"><stack><layer src="../../etc/passwd"/></stack></image>', 'damaged'],
      ['<image w="60" h="40"><stack><layer src="/etc/passwd"/></stack></image>', 'damaged'],
      ['<image w="60" h="40"><stack><layer src="data/none.png"/></stack></image>', 'damaged'],
      ['<image w="600000" h="400000"><stack/></image>', 'too-large'],
      ['<image w="60" h="40"></image>', 'damaged'],
      ['<image><stack/></image>', 'damaged'],
      ['<!DOCTYPE a [<!ENTITY b "c">]><image w="60" h="40"><stack/></image>', 'damaged'],
      [`<image w="60" h="40">${'<stack>'.repeat(90)}${'</stack>'.repeat(90)}</image>`, 'too-large'],
      [`<image w="60" h="40"><stack>${'<layer src="data/a.png"/>'.repeat(300)}</stack></image>`, 'too-large'],
      ['<image w="60"', 'damaged'],
    ];
    for (const [xml, code] of wrong)
      await expect(readOpenRaster(node.codec, await oraOf(xml, {}), 'Wrong'), xml.slice(0, 70)).rejects.toMatchObject({
        code,
      });
    await expect(readOpenRaster(node.codec, new Blob(['no zip']), 'None')).rejects.toMatchObject({
      code: 'unknown-format',
    });
    const broken = await oraOf('<image w="60" h="40"><stack><layer src="data/a.png"/></stack></image>', {
      'data/a.png': Buffer.from('no png'),
    });
    await expect(readOpenRaster(node.codec, broken, 'Broken')).rejects.toMatchObject({ code: 'damaged' });
  });

  async function oraOf(xml: string, files: Record<string, Buffer>): Promise<Blob> {
    const zip = new ZipWriter(new BlobWriter());
    await zip.add('mimetype', new TextReader('image/openraster'), { level: 0 });
    await zip.add('stack.xml', new TextReader(xml));
    for (const [name, bytes] of Object.entries(files))
      await zip.add(name, new BlobReader(new Blob([Uint8Array.from(bytes)])));
    return zip.close();
  }
});

describe('delivering', () => {
  const png = (id: string, change = {}) => presetWith({ id, name: id, pattern: id, file: restOf('png'), ...change });

  it('writes in bands what the engine renders as a whole, whatever else is written with it', async () => {
    const scene = randomScene(made, 'bands', { layers: 3, parts: 2 });
    const expected = await picture(scene);
    const presets = [
      png('a'),
      png('b', { space: 'display-p3' }),
      png('c', { size: { by: 'percent', value: 50, enlarge: false } }),
    ];
    const { engine } = node;
    const asked: { rows: number; forms: number }[] = [];
    const write = engine.write.bind(engine);
    engine.write = (picture, ...rest) => {
      asked.push({ rows: picture.region.height, forms: picture.forms.length });
      return write(picture, ...rest);
    };
    const { files, report } = await delivered(scene, presets);
    engine.write = write;
    // Each row was rendered once, for all three.
    expect(asked.reduce((sum, { rows }) => sum + rows, 0)).toBe(size.height);
    expect(asked.map(({ forms }) => forms)).toEqual([3, 3, 3]);
    expect(report.failures).toEqual([]);
    expect(report.files.map(({ name, width, height }) => [name, width, height])).toEqual([
      ['a.png', 500, 1300],
      ['b.png', 500, 1300],
      ['c.png', 250, 650],
    ]);
    const a = await node.codec.inspect({
      file: await (files.get('a.png') as Blob).arrayBuffer(),
      name: 'a',
      reading: FIRST_READING,
    });
    expect(a).toMatchObject({ width: 500, height: 1300, bits: 16 });
    expect(farthest(await samplesOf(files.get('a.png')), expected) * 257).toBe(0);
  });

  it('to a place that is full fails by name, harms no other preset, and leaves nothing', async () => {
    const left = new Set<string>();
    const whole = new Set<string>();
    const place: Place = {
      open: async (name) => {
        left.add(name);
        let bytes = 0;
        return {
          name,
          write: async (piece) => {
            bytes += piece.length;
            if (name.startsWith('full') && bytes > 100)
              throw Object.assign(new Error('no space'), { name: 'QuotaExceededError' });
          },
          patch: async () => undefined,
          finish: async () => void whole.add(name),
          discard: async () => void left.delete(name),
        };
      },
    };
    node.engine.setScene(made);
    const report = await deliver(
      node,
      delivery(made, [
        png('good'),
        png('full'),
        png('wide', { file: restOf('webp'), size: { by: 'long', value: 20_000, enlarge: true } }),
      ]),
      place,
    );
    expect(report.files.map(({ name }) => name)).toEqual(['good.png']);
    expect(report.failures.map(({ name, error }) => [name, (error as Error).name])).toEqual([
      ['full.png', 'QuotaExceededError'],
      ['wide.webp', 'DecodeError'],
    ]);
    expect([...left]).toEqual(['good.png']);
    expect([...whole]).toEqual(['good.png']);
  });

  it('writes the scene as it was, whatever is done to it meanwhile', async () => {
    const scene = randomScene(made, 'meanwhile', { layers: 3, parts: 2 });
    const expected = await picture(scene);
    const files = new Map<string, Blob>();
    const running = deliver(
      node,
      delivery(scene, [png('a')]),
      memoryPlace((file, name) => files.set(name, file)),
      {
        onProgress: () => node.engine.setScene({ ...scene, stack: [] }),
      },
    );
    node.engine.setScene({ ...scene, stack: scene.stack.slice(1) });
    await running;
    expect(farthest(await samplesOf(files.get('a.png')), expected) * 257).toBe(0);
  });

  it('writes large TIFFs as their rows come, whose headers follow: read back they are the picture', async () => {
    const scene = randomScene(made, 'large', { layers: 2, parts: 1 });
    const expected = await picture(scene);
    const larger = { by: 'percent', value: 1000, enlarge: true } as const;
    const tiff = { ...restOf('tiff'), compression: 'none' } as const;
    const presets = [presetWith({ id: 'large', name: 'large', pattern: 'large', file: tiff, size: larger })];
    const { files, report } = await delivered(scene, presets);
    expect(report.failures).toEqual([]);
    expect(report.files[0].bytes).toBeGreaterThan(380e6);
    const path = join(folder, 'large.tif');
    writeFileSync(path, Buffer.from(await (files.get('large.tif') as Blob).arrayBuffer()));
    expect(execFileSync('tiffinfo', [path], { encoding: 'utf8' })).toMatch(/Image Width: 5000 Image Length: 13000/);
    // Lanczos leaves the pixels that it enlarges in the middle of those that they become, as far as they are even around.
    const even = { left: 2050, top: 6050, width: 2000, height: 1000 };
    const back = await sharp(path, { ignoreIcc: true, limitInputPixels: false })
      .extract(even)
      .resize(200, 100, { kernel: 'lanczos3' })
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer();
    const small = new Uint16Array(back.buffer, back.byteOffset, back.length / 2);
    let sum = 0;
    for (let y = 20; y < 80; y++)
      for (let x = 20; x < 180; x++) {
        const at = 3 * ((605 + y) * size.width + 205 + x);
        for (let c = 0; c < 3; c++) sum += Math.abs(small[3 * (200 * y + x) + c] - expected[at + c]);
      }
    expect(sum / (160 * 60 * 3)).toBeLessThan(257);
  });

  it('can be stopped at any time, and done again', async () => {
    const scene = randomScene(made, 'stopped', { layers: 3, parts: 2 });
    for (const after of [undefined, 0, 30, 200]) {
      const stopping = new AbortController();
      if (after === undefined) stopping.abort();
      else setTimeout(() => stopping.abort(), after);
      node.engine.setScene(scene);
      const kept: string[] = [];
      const running = deliver(
        node,
        delivery(scene),
        memoryPlace((_, name) => kept.push(name)),
        { signal: stopping.signal },
      );
      await expect(running).rejects.toMatchObject({ code: 'cancelled' });
      expect(kept).toEqual([]);
    }
    const { report } = await delivered(scene);
    expect(report.failures).toEqual([]);
  });
});
