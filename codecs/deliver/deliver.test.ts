import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { buildExifBlock } from '../exifBlock.ts';
import { readShotData } from '../shotData.ts';
import { fileNameOf, freeName, safeName, unknownParts } from './fileName.ts';
import { FileSettings, FORMAT_NAMES, formatOf, restOf } from './formats/list.ts';
import { PieceStore } from './memoryTarget.ts';
import { outputSize } from './outputSize.ts';
import { endingOf, FIRST_PRESETS, presetWith, readPreset } from './preset.ts';
import { writeStackXml } from './stackXml.ts';
import { keywordsOf, NO_TEXTS, writeXmp } from './texts.ts';
import { layOutPages, numbersField, textField } from './tiffFile.ts';

describe('sizes', () => {
  const size = { width: 8256, height: 5504 };
  const by = (kind: 'full' | 'long' | 'megapixels' | 'percent', value: number, enlarge = false) =>
    outputSize(size, { by: kind, value, enlarge });

  it('keep the ratio, and enlarge only when they are asked to', () => {
    expect(by('full', 1)).toEqual(size);
    expect(by('long', 2048)).toEqual({ width: 2048, height: 1365 });
    expect(by('percent', 50)).toEqual({ width: 4128, height: 2752 });
    const { width, height } = by('megapixels', 12);
    expect((width * height) / 12e6).toBeCloseTo(1, 3);
    expect(by('long', 10_000)).toEqual(size);
    expect(by('long', 10_000, true).width).toBe(10_000);
    expect(outputSize({ width: 10_000, height: 2 }, { by: 'long', value: 100, enlarge: false }).height).toBe(1);
  });
});

describe('names of files', () => {
  const facts = { scene: 'Tarn', preset: 'Screen', takenAt: '2025-10-12T06:41:07.25', width: 2048, height: 1365 };

  it('are made of a pattern', () => {
    expect(fileNameOf('{scene} {date} {time} {width}x{height}', facts)).toBe('Tarn 2025-10-12 06-41-07 2048x1365');
    expect(fileNameOf('{scene} {date}', { ...facts, takenAt: null })).toBe('Tarn undated');
    expect(fileNameOf('{scene} {number} {item}', { ...facts, item: '-2 EV', number: 3 })).toBe('Tarn 03 -2 EV');
    expect(fileNameOf('{scene} - {item}', facts)).toBe('Tarn');
    expect(unknownParts('{scene} {sceen} {}')).toEqual(['sceen', '']);
  });

  it('lead nowhere else and are taken by every file system', () => {
    expect(safeName('../../etc/passwd')).toBe('-..-etc-passwd');
    expect(safeName('a/b\\c:d*e?"<>|\u0007f')).toBe('a-b-c-d-e-f');
    expect(safeName(' ... ')).toBe('picture');
    expect(safeName('CON')).toBe('CON-');
    expect(Array.from(safeName('é'.repeat(500)))).toHaveLength(120);
    expect(safeName('夕暮れ Föhre')).toBe('夕暮れ Föhre');
  });

  it('are free', () => {
    expect(freeName('Shore', new Set(['shore', 'shore 2']))).toBe('Shore 3');
    expect(freeName('Shore', new Set(['shore.tif']), '.tif')).toBe('Shore 2');
    expect(freeName('Shore', new Set(['shore.tif']), '.jpg')).toBe('Shore');
  });
});

describe('presets', () => {
  it('are read back as they were kept', () => {
    for (const preset of FIRST_PRESETS) expect(readPreset(JSON.parse(JSON.stringify(preset)))).toEqual(preset);
  });

  it('with what cannot be are refused', () => {
    const [first] = FIRST_PRESETS;
    for (const wrong of [
      { file: { ...restOf('jpeg'), quality: 101 } },
      { file: { ...restOf('jpeg'), bits: 16 } },
      { file: { format: 'none' } },
      { space: 'cmyk' },
      { size: { by: 'long', value: 0, enlarge: false } },
      { name: '' },
      { version: 2 },
    ])
      expect(() => readPreset({ ...first, ...wrong })).toThrow();
  });

  it('are at rest what their formats say', () => {
    for (const name of FORMAT_NAMES) {
      expect(FileSettings.parse({ format: name })).toEqual(restOf(name));
      const { choices, numbers, rest } = formatOf(name);
      expect([...choices, ...numbers].map(({ setting }) => setting).sort()).toEqual(Object.keys(rest).sort());
    }
    expect(endingOf(presetWith({ what: 'layers', layersAs: 'tiff' }))).toBe('tif');
  });
});

describe('what is said of a picture', () => {
  it('is XMP that exiftool reads, signs of XML and none that it has no place for', () => {
    const folder = mkdtempSync(join(tmpdir(), 'lusket-xmp-'));
    const path = join(folder, 'a.xmp');
    const texts = { ...NO_TEXTS, title: 'A < B & "C" \u0000\u000b', caption: 'two\nlines', keywords: ['<x>', 'y'] };
    writeFileSync(path, writeXmp(texts));
    const [told] = JSON.parse(execFileSync('exiftool', ['-json', path], { encoding: 'utf8' }));
    expect(told).toMatchObject({ Title: 'A < B & "C"', Description: 'two\nlines', Subject: ['<x>', 'y'] });
    expect(told.Creator).toBeUndefined();
  });

  it('has each keyword once', () => {
    expect(keywordsOf(' shore, larch;shore\n dawn ,, ')).toEqual(['shore', 'larch', 'dawn']);
  });
});

describe('where it was taken', () => {
  const values = { GPSLatitude: -46.123456, GPSLongitude: 7.654321, GPSAltitude: -3.5, ISO: 100 };

  it('is written only when it is wanted, and read back', async () => {
    const bare = buildExifBlock(values, { camera: true, place: false, space: 'srgb' });
    expect((await readShotData(bare, { exif: null, shot: {}, headroom: 0 })).exif.GPSLatitude).toBeUndefined();
    const block = buildExifBlock(values, { camera: false, place: true, space: 'srgb' });
    const { exif } = await readShotData(block, { exif: null, shot: {}, headroom: 0 });
    expect(exif.GPSLatitude).toBeCloseTo(values.GPSLatitude, 6);
    expect(exif.GPSLongitude).toBeCloseTo(values.GPSLongitude, 6);
    expect(exif.GPSAltitude).toBeCloseTo(values.GPSAltitude, 2);
    expect(exif.ISO).toBeUndefined();
  });
});

describe('a store that a writer jumps about in', () => {
  it('holds what a plain array holds', () => {
    const store = new PieceStore();
    const plain = new Uint8Array(40_000_000);
    let [at, end] = [0, 0];
    for (let step = 0; step < 60; step++) {
      const bytes = new Uint8Array(((step * 77_777) % 400_000) + 1).fill(step + 1);
      if (step % 9 === 8) at = store.seek((step * 31_337) % end, 0);
      else if (step % 9 === 0) at = store.seek(0, 2);
      store.write(bytes);
      plain.set(bytes, at);
      at += bytes.length;
      end = Math.max(end, at);
    }
    expect(store.length).toBe(end);
    expect(end).toBeGreaterThan(2 ** 23);
    expect(Buffer.from(store.at(4_194_200, 300)).equals(Buffer.from(plain.subarray(4_194_200, 4_194_500)))).toBe(true);
    store.seek(-10, 2);
    expect(store.read(100)).toHaveLength(10);
    expect(Buffer.concat([...store.take()]).equals(Buffer.from(plain.subarray(0, end)))).toBe(true);
  });
});

describe('directories of a TIFF', () => {
  it('point past four gigabytes once they lie there', () => {
    const far = 5 * 2 ** 30;
    const { header, tail } = layOutPages(
      [{ fields: [numbersField(273, [far]), textField(285, 'far away from here')] }],
      far,
    );
    expect([...header.subarray(0, 6)]).toEqual([0x49, 0x49, 43, 0, 8, 0]);
    const view = new DataView(header.buffer);
    expect(Number(view.getBigUint64(8, true))).toBe(far);
    const fields = new DataView(tail.buffer);
    expect(Number(fields.getBigUint64(0, true))).toBe(2);
    // The one offset is in its entry, of eight bytes.
    expect([fields.getUint16(8, true), fields.getUint16(10, true)]).toEqual([273, 16]);
    expect(Number(fields.getBigUint64(20, true))).toBe(far);
  });
});

describe('the document of an OpenRaster file', () => {
  it('has the uppermost first, and names whatever they are', () => {
    const layer = { opacity: 0.5, visible: true, mode: 'svg:src-over' };
    const xml = writeStackXml({ width: 3, height: 2 }, [
      { ...layer, name: 'low', src: 'a.png' },
      { ...layer, name: '"<&>\' ü', visible: false, isolated: true, entries: [{ ...layer, name: 'in', src: 'b.png' }] },
    ]);
    const read = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' }).parse(xml);
    expect(read.image).toMatchObject({ w: '3', h: '2', version: '0.0.6' });
    expect(read.image.stack.stack).toMatchObject({ name: '"<&>\' ü', visibility: 'hidden', isolation: 'isolate' });
    expect(read.image.stack.layer.name).toBe('low');
    expect(xml.indexOf('b.png')).toBeLessThan(xml.indexOf('a.png'));
  });
});
