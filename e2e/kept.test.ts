import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BrowserContext, Page } from 'playwright-core';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { readSceneFile, writeSceneFile } from '#codecs/sceneFile.ts';
import { LayerId, StrokeId } from '#core/ids.ts';
import { plainStroke } from '#core/masks/stroke.ts';
import type { Part } from '#core/parts/list.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { newTonePart } from '#core/parts/tone.ts';
import { AT_REST, type Refinements } from '#core/refinements/list.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { newLayer } from '#core/scene/item.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { madeFrame } from '../tests/smallScene.ts';
import { downloaded, goToBlend, openDemo, probeAt, savedScene, settle, stroke, visitOnce } from './harness.ts';

const visit = visitOnce(async (page) => {
  await openDemo(page);
  await goToBlend(page);
});
const folder = mkdtempSync(join(tmpdir(), 'lusket-kept-'));
const DAY_MS = 24 * 3600e3;

/** Another tab of the same browser.
 * @param hoursAhead - By which its clock is ahead. */
async function otherTab(context: BrowserContext, path = '', hoursAhead = 0): Promise<Page> {
  const page = await context.newPage();
  await page.addInitScript((ms) => {
    const now = Date.now;
    Date.now = () => now() + ms;
  }, hoursAhead * 3600e3);
  await page.goto(visit.harness.address + path);
  return page;
}

/** Does something to a store of the page's database. */
const inStore = <T>(page: Page, store: string, method: 'getAll' | 'getAllKeys' | 'get' | 'put', args: unknown[] = []) =>
  page.evaluate(
    async ([name, how, given]) => {
      const asked = <R>(request: IDBRequest<R>) =>
        new Promise<R>((resolve, reject) => {
          request.onsuccess = () => resolve(request.result);
          request.onerror = () => reject(request.error);
        });
      const db = await asked(indexedDB.open('lusket'));
      const objects = db.transaction(name, how === 'put' ? 'readwrite' : 'readonly').objectStore(name) as never;
      const result = await asked((objects as Record<string, (...all: unknown[]) => IDBRequest>)[how](...given));
      db.close();
      return result;
    },
    [store, method, args] as const,
  ) as Promise<T>;

const sceneIdOf = (page: Page) => new URL(page.url()).pathname.split('/')[2];
const list = (page: Page) => page.getByRole('list', { name: 'Scenes' });

describe('originals and strokes', () => {
  it('survive being swept by another tab while they come in', async () => {
    const path = join(folder, 'tarn.lusket');
    const saved = await savedScene(visit.page, 'Save Tarn.lusket');
    await saved.saveAs(path);
    // For the other tab everything was stored two days ago: nothing but the lock keeps it from sweeping.
    const sweeping = await otherTab(visit.context, '', 48);
    await list(sweeping).waitFor();
    await visit.page.goto(visit.harness.address);
    const importing = visit.page.getByTestId('open-scene-file').setInputFiles(path);
    for (let round = 0; round < 6; round++) {
      await sweeping.goto(visit.harness.address);
      await list(sweeping).waitFor();
    }
    await importing;
    await visit.page.getByTestId('canvas').waitFor();
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    expect(await visit.page.getByRole('alert', { name: 'Missing files' }).count()).toBe(0);
    expect((await inStore<string[]>(visit.page, 'files', 'getAllKeys')).length).toBe(5);
    await sweeping.close();
  });

  it('that no scene names stay for a day, and as long as anybody stores files; then they go', async () => {
    const page = visit.page;
    const junk = async (name: string, ageMs: number) => {
      await inStore(page, 'strokes', 'put', [new Float32Array(4), name]);
      await inStore(page, 'stamps', 'put', [Date.now() - ageMs, `strokes/${name}`]);
    };
    await junk('fresh', DAY_MS / 2);
    await junk('old', 2 * DAY_MS);
    await page.evaluate(() => {
      void navigator.locks.request(
        'lusket-files',
        { mode: 'shared' },
        () => new Promise((end) => Object.assign(window, { end })),
      );
    });
    const other = await otherTab(visit.context);
    await list(other).waitFor();
    await other.waitForTimeout(300);
    expect(await inStore<string[]>(page, 'strokes', 'getAllKeys')).toEqual(expect.arrayContaining(['fresh', 'old']));
    await page.evaluate(() => (window as unknown as { end: () => void }).end());
    await other.goto(visit.harness.address);
    await list(other).waitFor();
    await expect.poll(() => inStore<string[]>(page, 'strokes', 'getAllKeys')).not.toContain('old');
    expect(await inStore<string[]>(page, 'strokes', 'getAllKeys')).toContain('fresh');
    await other.close();
  });
});

describe('a scene that is deleted in another tab', () => {
  it('is noticed at once, and can be kept as a new one with everything that was painted', async () => {
    const { page } = visit;
    const before = sceneIdOf(page);
    const layer = page.getByRole('button', { name: 'Select layer −2 EV' });
    await layer.click();
    await stroke(page, [
      [0.2, 0.2],
      [0.8, 0.2],
    ]);
    await page.getByText('Saved').waitFor();
    const other = await otherTab(visit.context);
    const card = list(other)
      .locator('li')
      .filter({ has: other.locator(`a[href*="${before}"]`) });
    await card.getByRole('button', { name: 'Delete' }).click();
    const gone = page.getByRole('alert', { name: 'The scene is gone' });
    await gone.getByText('deleted in another tab').waitFor();
    await stroke(page, [
      [0.2, 0.4],
      [0.8, 0.4],
    ]);
    const painted = await probeAt(page, 0.5, 0.4);
    expect(painted.Mask[0]).toBeGreaterThan(10);
    expect((await inStore<{ id: string }[]>(page, 'scenes', 'getAll')).map(({ id }) => id)).not.toContain(before);
    await page.getByRole('button', { name: 'Save as a new scene' }).click();
    await gone.waitFor({ state: 'detached' });
    expect(sceneIdOf(page)).not.toBe(before);
    await page.reload();
    await page.getByTestId('canvas').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    expect((await probeAt(page, 0.5, 0.4)).Mask[0]).toBeCloseTo(painted.Mask[0], 0);
    expect((await probeAt(page, 0.5, 0.2)).Mask[0]).toBeGreaterThan(10);
    await other.close();
  });
});

describe('what is damaged', () => {
  it('costs one scene, whose rest can be saved and which stays as it is', async () => {
    const { page } = visit;
    const [sha256] = await inStore<string[]>(page, 'files', 'getAllKeys');
    const broken = {
      id: 'broken',
      name: 'Broken',
      createdAt: 1,
      updatedAt: 2,
      frames: 2,
      format: 2,
      scene: { frames: [{ sha256 }] },
    };
    await inStore(page, 'scenes', 'put', [broken]);
    await page.goto(visit.harness.address);
    const card = page.getByTestId('scene-Broken');
    await card.getByText('cannot be understood').waitFor();
    expect(await card.getByText('Invalid').isVisible()).toBe(false);
    const saved = await downloaded(page, () => card.getByRole('button', { name: 'Save what is left' }).click());
    const bytes = readFileSync(await saved.path());
    expect(bytes.includes('record.json')).toBe(true);
    expect(bytes.includes(`originals/${sha256}`)).toBe(true);
    expect(await inStore(page, 'scenes', 'get', ['broken'])).toEqual(broken);
    await page.goto(`${visit.harness.address}/scene/broken/blend`);
    await page.getByText('cannot be understood').first().waitFor();
    await expect.poll(() => new URL(page.url()).pathname).toBe('/');
    await card.getByRole('button', { name: 'Delete' }).click();
    await card.waitFor({ state: 'detached' });
  });

  it('of a stroke under way is dropped with a word; an original is asked for again, by its name, once', async () => {
    const { page } = visit;
    await list(page).locator('li').first().getByRole('link').first().click();
    await page.getByTestId('canvas').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    const id = sceneIdOf(page);
    const records = await inStore<{ id: string; scene: Scene }[]>(page, 'scenes', 'getAll');
    const file = records
      .find((each) => each.id === id)
      ?.scene.frames.find(({ file }) => file.name === 'tarn-2.jpg')?.file;
    await page.goto('about:blank');
    const other = await otherTab(visit.context, '/assets/none');
    await inStore(other, 'underWay', 'put', [{ layerId: 5, points: 'none' }, id]);
    await other.evaluate(
      async ([key]) => {
        const db = await new Promise<IDBDatabase>((resolve) => {
          const request = indexedDB.open('lusket');
          request.onsuccess = () => resolve(request.result);
        });
        const put = db
          .transaction('files', 'readwrite')
          .objectStore('files')
          .put(new Blob(['no picture at all']), key);
        await new Promise((resolve) => {
          put.onsuccess = resolve;
        });
        db.close();
      },
      [file?.sha256 ?? ''],
    );
    await page.goto(`${visit.harness.address}/scene/${id}/blend`);
    await page.getByText('was damaged and has been dropped').waitFor();
    const missing = page.getByRole('alert', { name: 'Missing files' });
    await missing.getByText('tarn-2.jpg').waitFor();
    await settle(page);
    await page.getByTestId('canvas').hover();
    await page.mouse.wheel(0, -600);
    await settle(page);
    // What is named above the picture is not told again with every tile, nor in the program's own words.
    expect(await page.getByText('The picture is not complete').count()).toBe(0);
    expect(await page.getByText(/level \d+, tile|frame-missing/).count()).toBe(0);
    await page.getByTestId('find-lost').setInputFiles('demo/frames/tarn/tarn-2.jpg');
    await missing.waitFor({ state: 'detached' });
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    expect(Object.keys(await probeAt(page, 0.5, 0.5)).length).toBeGreaterThan(5);
    await other.close();
  });
});

describe('scene files that were made to do harm', () => {
  const attacked = async (name: string, change: (scene: Scene) => Scene, points?: Float32Array) => {
    const contents = await readSceneFile(new Blob([readFileSync(join(folder, 'tarn.lusket'))]));
    const scene = change(contents.scene);
    const strokes = points ? new Map([[StrokeId.parse('evil'), points]]) : contents.strokes;
    const path = join(folder, `${name}.lusket`);
    writeFileSync(path, Buffer.from(await (await writeSceneFile({ ...contents, scene, strokes })).arrayBuffer()));
    return path;
  };
  const open = async (path: string) => {
    await visit.page.goto(visit.harness.address);
    await visit.page.getByTestId('open-scene-file').setInputFiles(path);
  };
  const reference = (to: object): Part => ({ kind: 'reference', ...plainPart('reference'), to }) as Part;
  const chain = (scene: Scene, length: number, refine: Refinements): Scene => ({
    ...scene,
    stack: Array.from({ length }, (_, i) => ({
      ...newLayer(LayerId.parse(`l${i}`), scene.frames[0].id),
      visible: i === length - 1,
      mask: { parts: [i === 0 ? newTonePart('base') : reference({ item: `l${i - 1}` })], refine },
    })),
  });

  it('are refused with a sentence when masks refer to each other 1,000 deep', async () => {
    await open(await attacked('chain', (scene) => chain(scene, 1000, AT_REST)));
    await visit.page.getByText('refer to each other too many times over').waitFor();
  });

  it('are shown when they are as deep as is allowed: the threads of the browser hold it', async () => {
    const png = await sharp({ create: { width: 200, height: 120, channels: 3, background: '#778899' } })
      .png()
      .toBuffer();
    const sha256 = createHash('sha256').update(png).digest('hex');
    const frames = ['one', 'two'].map((name) => ({
      ...madeFrame(0, { width: 200, height: 120 }),
      id: name,
      file: { sha256, name: 'small.png', bytes: png.length },
    }));
    const small = applyEdit(newScene('Deep'), addFrames({ frames: frames as never }));
    const refine = {
      ...AT_REST,
      levels: { black: 0.01, white: 0.99, gamma: 1 },
      softness: 2,
      grow: 1,
      strength: 0.999,
    };
    const scene = chain(small, 60, refine);
    const originals = new Map([[sha256, new Blob([new Uint8Array(png)])]]);
    const path = join(folder, 'deep.lusket');
    const packed = await writeSceneFile({ scene, strokes: new Map(), originals, evidence: new Map() });
    writeFileSync(path, Buffer.from(await packed.arrayBuffer()));
    await open(path);
    await visit.page.getByTestId('canvas').waitFor();
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    await settle(visit.page);
    const middle = () =>
      visit.page
        .getByTestId('canvas')
        .evaluate(
          (canvas: HTMLCanvasElement) =>
            canvas.getContext('2d')?.getImageData(canvas.width / 2, canvas.height / 2, 1, 1).data[3],
        );
    await expect.poll(middle).toBe(255);
    expect(await visit.page.getByRole('alert').allTextContents()).toEqual([]);
  });

  it('are mended and say so when strokes go to infinity and placements nowhere', async () => {
    const evil = { ...plainStroke(StrokeId.parse('evil')), size: 2 };
    const points = Float32Array.of(NaN, 1, 1, 0, 1e9, -1e9, 7, 1, Infinity, 5, 1, 2, 300, 300, 1, 3);
    const path = await attacked(
      'points',
      (scene) => ({
        ...scene,
        frames: scene.frames.map((frame, i) =>
          i === 1
            ? {
                ...frame,
                placement: {
                  matrix: [1e15, 0, 0, 0, 1, 0, 0, 0, 1],
                  model: 'hand',
                  verdict: null,
                  reason: null,
                  residualPx: null,
                  agreement: null,
                  stops: null,
                },
              }
            : frame,
        ),
        stack: scene.stack.map((layer, i) =>
          i === 0
            ? { ...layer, mask: maskOfParts([{ kind: 'painted', ...plainPart('painted'), strokes: [evil] }]) }
            : layer,
        ),
      }),
      points,
    );
    await open(path);
    await visit.page.getByText('The scene had faults, which were repaired').waitFor();
    await visit.page.getByTestId('canvas').waitFor();
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    await settle(visit.page);
  });
});

describe('the database', () => {
  it('that is cleared while a scene is open is told once, and the scene can be kept', async () => {
    const { page } = visit;
    await page.evaluate(
      () =>
        new Promise((resolve) => {
          const request = indexedDB.deleteDatabase('lusket');
          request.onsuccess = resolve;
        }),
    );
    const gone = page.getByRole('alert', { name: 'The scene is gone' });
    await gone.getByText('The browser has cleared').waitFor();
    await page.getByRole('button', { name: 'Save as a new scene' }).click();
    await gone.waitFor({ state: 'detached' });
    await page.getByRole('alert', { name: 'Missing files' }).waitFor();
    expect((await inStore<string[]>(page, 'scenes', 'getAllKeys')).length).toBe(1);
    expect(await page.getByText(/InvalidState|closing/).count()).toBe(0);
  });

  it('of an old tab that does not let go is waited for with a word', async () => {
    const context = await visit.harness.browser.newContext();
    const old = await context.newPage();
    await old.goto(`${visit.harness.address}/assets/none`);
    await old.evaluate(
      () =>
        new Promise((resolve) => {
          const request = indexedDB.open('lusket', 1);
          request.onupgradeneeded = () => {
            for (const name of ['strokes', 'files', 'thumbs']) request.result.createObjectStore(name);
            request.result.createObjectStore('scenes', { keyPath: 'id' });
          };
          request.onsuccess = () => resolve(Object.assign(window, { db: request.result }) && 1);
        }),
    );
    const page = await otherTab(context);
    await page.getByRole('alert', { name: 'Storage' }).getByText('older Lusket is open').waitFor();
    await old.evaluate(() => (window as unknown as { db: IDBDatabase }).db.close());
    await page.getByText('No scenes yet').waitFor();
    await page.getByRole('alert', { name: 'Storage' }).waitFor({ state: 'detached' });

    // A newer Lusket wants the database: this tab lets go and says so; then it is told what it is.
    await old.evaluate(
      () =>
        new Promise((resolve) => {
          const request = indexedDB.open('lusket', 99);
          request.onsuccess = () => resolve(request.result.close());
        }),
    );
    await page.getByRole('alert', { name: 'Storage' }).getByText('newer Lusket').waitFor();
    await page.getByRole('button', { name: 'Reload' }).click();
    await page.getByText('A newer Lusket has been used in this browser').waitFor();
    await context.close();
  });

  it('is not needed to say that a browser lacks locks between tabs', async () => {
    const context = await visit.harness.browser.newContext();
    const page = await context.newPage();
    await page.addInitScript(() => Object.defineProperty(navigator, 'locks', { value: undefined }));
    await page.goto(visit.harness.address);
    await page.getByRole('button', { name: 'Demo: Tarn' }).click();
    await page.getByText('it lacks Web Locks').first().waitFor();
    expect(await page.getByText('undefined').count()).toBe(0);
    await context.close();
  });

  it('gave no error on the page all the while, but for what was damaged on purpose', () => {
    expect(visit.problems).toEqual([]);
  });
});
