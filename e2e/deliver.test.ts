import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { BlobReader, TextWriter, Uint8ArrayWriter, ZipReader } from '@zip.js/zip.js';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { downloaded, openDemo, savedScene, visitOnce } from './harness.ts';

const folder = mkdtempSync(join(tmpdir(), 'lusket-deliver-'));
const scene = join(folder, 'tarn.lusket');
const visit = visitOnce(async (page) => {
  await openDemo(page);
  await page.getByRole('link', { name: /^Export/ }).click();
  await page.getByRole('button', { name: 'Preset Print' }).waitFor();
});
const tool = (command: string, ...args: string[]) => execFileSync(command, args, { encoding: 'utf8' });
const card = (name: string) => visit.page.getByRole('button', { name: `Preset ${name}` });
const tick = (name: string) => visit.page.getByLabel(`Write ${name}`, { exact: true });
const report = () => visit.page.getByRole('status', { name: 'What was written' });
const exif = (path: string) => JSON.parse(tool('exiftool', '-json', '-n', path))[0];

describe('the export stage', () => {
  it('shows a piece at 100 % as it is and as the file holds it, and how large the file will be', async () => {
    const { page } = visit;
    await card('Screen').click();
    const size = page.getByRole('status', { name: 'Size of the file' });
    await size.getByText('about').waitFor();
    const before = await size.evaluate((element) => element.textContent ?? '');
    await page.getByRole('img', { name: 'As it is' }).waitFor();
    await page.getByRole('img', { name: 'As the file holds it' }).waitFor();
    await page.getByLabel('Quality, typed').fill('30');
    await page.getByLabel('Quality, typed').press('Enter');
    await expect.poll(() => size.evaluate((element) => element.textContent ?? '')).toMatch(/about/);
    await expect
      .poll(async () =>
        Number.parseFloat((await size.evaluate((element) => element.textContent ?? '')).replace(/\D+/, '')),
      )
      .toBeLessThan(Number.parseFloat(before.replace(/\D+/, '')) / 2);
  });

  it('foretells the size of a JPEG within a fifth', async () => {
    const { page } = visit;
    await page.getByLabel('Quality, typed').fill('92');
    await page.getByLabel('Quality, typed').press('Enter');
    const size = page.getByRole('status', { name: 'Size of the file' });
    await page.waitForTimeout(400);
    await size.getByText('about').waitFor();
    const told = Number.parseFloat((await size.evaluate((element) => element.textContent ?? '')).replace(/\D+/, ''));
    await tick('Print').uncheck();
    await tick('Screen').check();
    const file = await downloaded(page, () => page.getByRole('button', { name: 'Write Tarn 2048.jpg' }).click());
    const path = join(folder, 'screen.jpg');
    await file.saveAs(path);
    const bytes = readFileSync(path).length / 1000;
    expect(Math.abs(told - bytes) / bytes).toBeLessThan(0.2);
    expect(exif(path)).toMatchObject({ ImageWidth: 2048, ImageHeight: 1365, ISO: 100 });
  });

  it('writes the ticked presets together and lists them, with what layers cannot say', async () => {
    const { page } = visit;
    await tick('Print').check();
    await tick('Layers').check();
    const names: string[] = [];
    page.on('download', (download) => names.push(download.suggestedFilename()));
    await page.getByRole('button', { name: 'Write 3 presets' }).click();
    await report().getByText('3 files written to the browser’s downloads.').waitFor({ timeout: 60_000 });
    expect(names.sort()).toEqual(['Tarn 2048.jpg', 'Tarn layers.ora', 'Tarn print.tif']);
    await report().getByRole('button', { name: 'Close' }).click();
  });

  it('writes texts that were typed once, and forgets the place unless it is wanted', async () => {
    const { page } = visit;
    await card('Screen').click();
    await page.getByText('Title, caption, keywords').click();
    await page.getByLabel('Title').fill('Föhren, früh');
    await page.getByLabel('Keywords').fill('Ufer, 夜明け, Ufer');
    await page.getByLabel('Creator').fill('Ä. Ö.');
    await page.getByLabel('Rights').fill('© niemand');
    await page.getByLabel('Rights').press('Tab');
    await page.getByLabel('Also in an .xmp file beside it').check();
    await tick('Print').uncheck();
    await tick('Layers').uncheck();
    const picture = page.waitForEvent('download', (download) => download.suggestedFilename().endsWith('.jpg'));
    const beside = page.waitForEvent('download', (download) => download.suggestedFilename().endsWith('.xmp'));
    await page.getByRole('button', { name: 'Write Tarn 2048.jpg' }).click();
    const [jpg, xmp] = [join(folder, 'said.jpg'), join(folder, 'said.xmp')];
    await (await picture).saveAs(jpg);
    await (await beside).saveAs(xmp);
    for (const path of [jpg, xmp])
      expect(exif(path)).toMatchObject({
        Title: 'Föhren, früh',
        Subject: ['Ufer', '夜明け'],
        Creator: 'Ä. Ö.',
        Rights: '© niemand',
      });
    expect(exif(jpg).GPSLatitude).toBeUndefined();
    await page.getByLabel('Also in an .xmp file beside it').uncheck();
  });

  it('writes into a folder, and never over what lies there', async () => {
    const { page } = visit;
    await page.evaluate(() => {
      Object.assign(window, {
        showDirectoryPicker: async () =>
          (await navigator.storage.getDirectory()).getDirectoryHandle('out', { create: true }),
      });
    });
    await page.getByRole('link', { name: /^Blend/ }).click();
    await page.getByRole('link', { name: /^Export/ }).click();
    await page.getByRole('button', { name: 'Choose a folder…' }).click();
    await page.getByText('to the folder out').waitFor();
    for (let run = 0; run < 2; run++) {
      await page.getByRole('button', { name: 'Write Tarn 2048.jpg' }).click();
      await report().getByText('1 file written to the folder out.').waitFor();
      await report().getByRole('button', { name: 'Close' }).click();
    }
    const inFolder = () =>
      page.evaluate(async () => {
        const root = await navigator.storage.getDirectory();
        const names: string[] = [];
        const out = await root.getDirectoryHandle('out');
        for await (const name of (out as unknown as { keys(): AsyncIterable<string> }).keys()) names.push(name);
        return names.sort();
      });
    expect(await inFolder()).toEqual(['Tarn 2048 2.jpg', 'Tarn 2048.jpg']);
    // The folder is withdrawn: a sentence, and nothing half-written.
    await page.evaluate(() => {
      const prototype = FileSystemFileHandle.prototype as unknown as { createWritable: unknown };
      Object.assign(window, { kept: prototype.createWritable });
      prototype.createWritable = async () => {
        throw new DOMException('no', 'NotAllowedError');
      };
    });
    await page.getByRole('button', { name: 'Write Tarn 2048.jpg' }).click();
    await report()
      .getByText(/may no longer write to that folder/)
      .waitFor();
    await page.evaluate(() => {
      const prototype = FileSystemFileHandle.prototype as unknown as { createWritable: unknown };
      prototype.createWritable = (window as unknown as { kept: unknown }).kept;
    });
    expect(await inFolder()).toEqual(['Tarn 2048 2.jpg', 'Tarn 2048.jpg']);
    await report().getByRole('button', { name: 'Close' }).click();
    // Each preset has its own place, which a reload does not forget.
    await page.getByLabel('Write Print').check();
    await page.getByText('to the browser’s downloads and the folder out').waitFor();
    await page.getByText('Saved', { exact: true }).waitFor();
    await page.reload();
    await page.getByText('to the browser’s downloads and the folder out').waitFor();
    // Frames are being read again: that is waited for.
    const [loaded] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Write 2 presets' }).click(),
    ]);
    expect(loaded.suggestedFilename()).toBe('Tarn print.tif');
    await report().getByText('2 files written to the browser’s downloads and the folder out.').waitFor();
    expect(await inFolder()).toEqual(['Tarn 2048 2.jpg', 'Tarn 2048 3.jpg', 'Tarn 2048.jpg']);
    await report().getByRole('button', { name: 'Close' }).click();
    await page.getByLabel('Write Print').uncheck();
    await page.getByRole('button', { name: 'Preset Screen' }).click();
    await page.getByRole('button', { name: 'To the downloads' }).click();
    await page.getByText('to the browser’s downloads', { exact: true }).waitFor();
  });

  it('keeps presets that are made, renamed, moved and removed, over a reload', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Preset…' }).click();
    await page.getByRole('menuitem', { name: /^Masks/ }).click();
    await page.getByLabel('Name of the preset').fill('Grey');
    await page.getByLabel('Name of the preset').press('Enter');
    await card('Grey').press('Alt+ArrowLeft');
    await card('Print').click();
    await page.getByRole('button', { name: 'Remove' }).click();
    await page.getByRole('button', { name: 'Put back' }).click();
    await page.waitForTimeout(300);
    await page.reload();
    const shown = page.getByRole('button', { name: /^Preset \w/ });
    await card('Grey').waitFor();
    expect(await shown.evaluateAll((all) => all.map((each) => each.getAttribute('aria-label')))).toEqual([
      'Preset Print',
      'Preset Screen',
      'Preset Grey',
      'Preset Layers',
    ]);
    expect(await page.getByLabel('Title').inputValue()).toBe('Föhren, früh');
    expect(visit.problems).toEqual([]);
  });

  it('takes a preset from the file that it was written to, and says what is none', async () => {
    const { page } = visit;
    await card('Screen').click();
    const file = await downloaded(page, () => page.getByRole('button', { name: 'To a file' }).click());
    const path = join(folder, file.suggestedFilename());
    await file.saveAs(path);
    const count = await page.locator('[data-preset]').count();
    await page.getByLabel('File of a preset').setInputFiles(path);
    await expect.poll(() => page.locator('[data-preset]').count()).toBe(count + 1);
    const name = await page.getByLabel('Name of the preset').inputValue();
    expect(name).toMatch(/^Screen \d+$/);
    expect(await tick(name).isChecked()).toBe(true);
    const wrong = join(folder, 'wrong.json');
    writeFileSync(wrong, readFileSync(path, 'utf8').replace('"version": 1', '"version": 2'));
    await page.getByLabel('File of a preset').setInputFiles(wrong);
    await page.getByText('wrong.json is no preset.').waitFor();
    expect(await page.locator('[data-preset]').count()).toBe(count + 1);
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
  });
});

describe('lusket on the command line', () => {
  const lusket = (...args: string[]) => spawnSync(process.execPath, ['cli/lusket.mjs', ...args], { encoding: 'utf8' });
  beforeAll(async () => {
    await (await savedScene(visit.page, /^Save .*\.lusket/)).saveAs(scene);
  });

  it('exports by several presets, with a report', () => {
    const out = join(folder, 'out');
    const { status, stdout } = lusket(
      'export',
      scene,
      '--preset',
      'print',
      '--preset',
      'screen',
      '--out',
      out,
      '--json',
    );
    expect(status).toBe(0);
    const [{ files, failures }] = JSON.parse(stdout);
    expect(failures).toEqual([]);
    expect(files.map(({ name, width }: { name: string; width: number }) => [name, width])).toEqual([
      ['Tarn print.tif', 2400],
      ['Tarn 2048.jpg', 2048],
    ]);
    expect(readdirSync(out).sort()).toEqual(['Tarn 2048.jpg', 'Tarn print.tif']);
    expect(tool('tiffinfo', join(out, 'Tarn print.tif'))).toMatch(/Bits\/Sample: 16/);
    expect(exif(join(out, 'Tarn print.tif')).ProfileDescription).toBe('opRGB');
  });

  it('exports several scenes at once, of which none takes the name of another', () => {
    const out = join(folder, 'twice');
    expect(lusket('export', scene, scene, '--preset', 'screen', '--size', '200', '--out', out).status).toBe(0);
    expect(readdirSync(out).sort()).toEqual(['Tarn 200 2.jpg', 'Tarn 200.jpg']);
  });

  it('takes size, space, quality and bits, and refuses what cannot be, leaving nothing', () => {
    const out = join(folder, 'small');
    // A profile of inks: of an RGB space, but for what it says of itself.
    const inks = join(folder, 'inks.icc');
    const profile = readFileSync('/usr/share/color/icc/colord/sRGB.icc');
    profile.write('CMYK', 16, 'latin1');
    writeFileSync(inks, profile);
    expect(lusket('render', scene, '--out', join(folder, 'a.avif'), '--size', '300', '--bits', '12').status).toBe(0);
    expect(tool('avifdec', '--info', join(folder, 'a.avif'))).toMatch(/Resolution\s*: 300x200[\s\S]*Bit Depth\s*: 12/);
    for (const wrong of [
      ['--quality', '101'],
      ['--bits', '9', '--preset', 'print'],
      ['--size', '-3'],
      ['--space', 'none.icc'],
      ['--space', inks],
      ['--preset', 'nothing'],
      ['--what'],
    ]) {
      const { status, stderr } = lusket('export', scene, '--preset', 'screen', '--out', out, ...wrong);
      expect([wrong[0], status], stderr).toEqual([wrong[0], 2]);
      expect(stderr.trim().split('\n')).toHaveLength(1);
    }
    expect(existsSync(out)).toBe(false);
    writeFileSync(join(folder, 'file'), '');
    const blocked = lusket('export', scene, '--out', join(folder, 'file'));
    expect(blocked.status).toBe(1);
  });

  it('writes layers that lie on each other as the picture, by a general library', async () => {
    const ora = join(folder, 'tarn.ora');
    expect(lusket('layers', scene, '--ora', ora).status).toBe(0);
    const zip = new ZipReader(new BlobReader(new Blob([readFileSync(ora)])));
    const entries = await zip.getEntries();
    expect([entries[0].filename, entries[0].compressionMethod]).toEqual(['mimetype', 0]);
    expect(readFileSync(ora).subarray(30, 54).toString()).toBe('mimetypeimage/openraster');
    const read = async (name: string) => {
      const entry = entries.find(({ filename }) => filename === name);
      if (!entry || entry.directory) throw new Error(`no ${name}`);
      return entry;
    };
    const xml = await (await read('stack.xml')).getData(new TextWriter());
    const sources = [...xml.matchAll(/src="([^"]+)"/g)].map(([, src]) => src).reverse();
    const pictures = await Promise.all(
      sources.map(async (src) => Buffer.from(await (await read(src)).getData(new Uint8ArrayWriter()))),
    );
    expect(tool('pngcheck', '-q', await saved('layer.png', pictures[1]))).toBe('');
    const [bottom, ...above] = pictures;
    const laid = await sharp(bottom)
      .composite(above.map((input) => ({ input })))
      .removeAlpha()
      .raw()
      .toBuffer();
    const merged = Buffer.from(await (await read('mergedimage.png')).getData(new Uint8ArrayWriter()));
    const whole = await sharp(merged).raw().toBuffer();
    let off = 0;
    for (let i = 0; i < whole.length; i++) if (Math.abs(whole[i] - laid[i]) > 1) off++;
    expect(off).toBe(0);
    const thumb = Buffer.from(await (await read('Thumbnails/thumbnail.png')).getData(new Uint8ArrayWriter()));
    expect(await sharp(thumb).metadata()).toMatchObject({ width: 256, depth: 'uchar' });
  });

  it('writes layers that open in the browser as a scene of their own', async () => {
    const { page } = visit;
    await page.getByRole('link', { name: 'Lusket' }).click();
    await page.getByTestId('open-scene-file').setInputFiles(join(folder, 'tarn.ora'));
    // Nothing is painted: the four layers are the same black picture, which covers nothing.
    const gather = page.getByRole('link', { name: /^Gather/ });
    await gather.getByText('2 frames').waitFor();
    await page
      .getByRole('link', { name: /^Blend/ })
      .getByText('4 layers shown')
      .waitFor();
    await page.getByTestId('canvas').waitFor();
    expect(visit.problems).toEqual([]);
  });

  it('writes layers as pages that tiffinfo and a general library read', async () => {
    const tif = join(folder, 'tarn-layers.tif');
    expect(lusket('layers', scene, '--tiff', tif).status).toBe(0);
    const info = tool('tiffinfo', tif);
    const names = [...info.matchAll(/PageName: (.*)/g)].map(([, name]) => name);
    expect(names[0]).toBe('Tarn');
    expect(names.filter((name) => name.endsWith(', mask'))).toHaveLength(4);
    for (let page = 0; page < names.length; page++) {
      const { channels, depth } = await sharp(tif, { page }).metadata();
      expect([depth, [1, 3, 4].includes(channels ?? 0)]).toEqual(['ushort', true]);
      expect(await sharp(tif, { page }).raw().toBuffer()).toBeInstanceOf(Buffer);
    }
    expect(exif(tif).ISO).toBe(100);
  });

  it('writes masks in grey and frames as they are placed', async () => {
    const out = join(folder, 'parts');
    expect(lusket('masks', scene, '--out', out, '--of', 'tarn-2').status).toBe(0);
    expect(readdirSync(out)).toEqual(['Tarn tarn-2.png']);
    expect(await sharp(join(out, 'Tarn tarn-2.png')).metadata()).toMatchObject({ depth: 'ushort', channels: 1 });
    expect(lusket('masks', scene, '--out', out, '--of', 'nobody').status).toBe(2);
    const frames = join(folder, 'frames');
    expect(lusket('frames', scene, '--out', frames, '--format', 'png', '--bits', '8').status).toBe(0);
    expect(readdirSync(frames)).toHaveLength(5);
  });

  it('leaves nothing half-written when it is stopped', async () => {
    const out = join(folder, 'stopped');
    const { spawn } = await import('node:child_process');
    const child = spawn(process.execPath, ['cli/lusket.mjs', 'layers', scene, '--ora', join(out, 'x.ora')], {
      stdio: 'pipe',
    });
    await new Promise<void>((resolve) => {
      const seen = setInterval(() => {
        if (!existsSync(out) || readdirSync(out).length === 0) return;
        clearInterval(seen);
        resolve();
      }, 20);
    });
    child.kill('SIGINT');
    const status = await new Promise((resolve) => child.on('exit', resolve));
    expect(status).toBe(1);
    expect(readdirSync(out)).toEqual([]);
  });

  async function saved(name: string, bytes: Buffer): Promise<string> {
    const path = join(folder, name);
    writeFileSync(path, bytes);
    return path;
  }
});
