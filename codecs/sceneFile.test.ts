import { createHash } from 'node:crypto';
import { BlobWriter, TextReader, ZipWriter } from '@zip.js/zip.js';
import { describe, expect, it } from 'vitest';
import { StrokeId } from '#core/ids.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { layerIdOf } from '#core/scene/edits/layersOfFrames.ts';
import { addStroke } from '#core/scene/edits/painting.ts';
import { newScene } from '#core/scene/scene.ts';
import { madeFrame } from '../tests/smallScene.ts';
import { readSceneFile, type SceneContents, writeSceneFile } from './sceneFile.ts';

const frames = [0, 1].map((i) => {
  const frame = madeFrame(i, { width: 9, height: 7 });
  const sha256 = createHash('sha256').update(`original ${i}`).digest('hex');
  return { ...frame, file: { ...frame.file, sha256, bytes: `original ${i}`.length } };
});
const id = StrokeId.parse('stroke-1');
const stroke = { id, target: 1, size: 5, hardness: 0, strength: 1, flow: 1, pressure: 'none' as const, stencil: null };
const scene = [addFrames({ frames }), addStroke({ owner: layerIdOf(frames[1].id), stroke })].reduce(
  applyEdit,
  newScene('Kept'),
);
const contents: SceneContents = {
  scene,
  strokes: new Map([[id, Float32Array.of(1.5, -2.25, 0.5, 0, 3, 4, 1, 16)]]),
  originals: new Map(frames.map(({ file }, i) => [file.sha256, new Blob([`original ${i}`])])),
  evidence: new Map(),
};

async function zipOf(entries: Record<string, string>): Promise<Blob> {
  const zip = new ZipWriter(new BlobWriter());
  for (const [name, text] of Object.entries(entries)) await zip.add(name, new TextReader(text));
  return zip.close();
}

describe('the scene file', () => {
  it('holds a file once that several frames were read from', async () => {
    const [first, second] = scene.frames;
    const twice = { ...scene, frames: [first, { ...second, file: first.file }] };
    const back = await readSceneFile(await writeSceneFile({ ...contents, scene: twice }));
    expect([...back.originals.keys()]).toEqual([first.file.sha256]);
  });

  it('gives back scene, strokes and originals', async () => {
    const back = await readSceneFile(await writeSceneFile(contents));
    expect(back.scene).toEqual(scene);
    expect(back.strokes).toEqual(contents.strokes);
    for (const [sha, blob] of contents.originals) expect(await back.originals.get(sha)?.text()).toBe(await blob.text());
  });

  it('tells how far it is, and can be stopped both ways', async () => {
    const told: number[] = [];
    const packed = await writeSceneFile(contents, { onProgress: (share) => told.push(share) });
    await readSceneFile(packed, { onProgress: (share) => told.push(share) });
    expect(told.filter((share) => share === 1)).toHaveLength(2);
    expect(told.slice(0, told.indexOf(1))).toEqual(told.slice(0, told.indexOf(1)).sort((a, b) => a - b));
    expect(Math.min(...told)).toBeGreaterThanOrEqual(0);
    const watch = { signal: AbortSignal.abort() };
    await expect(writeSceneFile(contents, watch)).rejects.toMatchObject({ code: 'stopped' });
    await expect(readSceneFile(packed, watch)).rejects.toMatchObject({ code: 'stopped' });
  });

  it('is refused by name when it is something else', async () => {
    await expect(readSceneFile(new Blob(['no zip']))).rejects.toMatchObject({ code: 'not-a-scene-file' });
    await expect(readSceneFile(await zipOf({ 'other.txt': 'x' }))).rejects.toMatchObject({ code: 'not-a-scene-file' });
    await expect(readSceneFile(await zipOf({ 'scene.json': '{"version": 1' }))).rejects.toMatchObject({
      code: 'damaged',
    });
    await expect(readSceneFile(await zipOf({ 'scene.json': '{"version": 99}' }))).rejects.toMatchObject({
      code: 'newer',
    });
  });

  it('may leave originals out, but is damaged when a stroke is missing, and never written with an original of another content', async () => {
    const slim = await readSceneFile(await writeSceneFile({ ...contents, originals: new Map() }));
    expect(slim.originals.size).toBe(0);
    await expect(readSceneFile(await writeSceneFile({ ...contents, strokes: new Map() }))).rejects.toMatchObject({
      code: 'damaged',
    });
    for (const other of ['x'.repeat(1e6), 'original 1'])
      await expect(
        writeSceneFile({ ...contents, originals: new Map([[frames[0].file.sha256, new Blob([other])]]) }),
      ).rejects.toMatchObject({ code: 'damaged' });
  });

  it('with one broken frame opens with the others, and says which', async () => {
    const whole = new Uint8Array(await (await writeSceneFile(contents)).arrayBuffer());
    const text = Buffer.from(whole).toString('latin1');
    whole[text.indexOf('original 1') + 3] ^= 0xff;
    const back = await readSceneFile(new Blob([whole]));
    expect(back.broken).toEqual([frames[1].file.name]);
    expect([...back.originals.keys()]).toEqual([frames[0].file.sha256]);
    expect(back.scene).toEqual(scene);
    expect(back.strokes).toEqual(contents.strokes);
  });

  it('with paths that lead elsewhere is refused, and entries that the scene does not name are never looked at', async () => {
    const json = JSON.stringify({ ...scene, frames: [], base: null, stack: [] });
    for (const path of ['../../evil', '/etc/evil', 'originals/../../x'])
      await expect(readSceneFile(await zipOf({ 'scene.json': json, [path]: 'x' }))).rejects.toHaveProperty('code');
    const { originals, strokes } = await readSceneFile(await zipOf({ 'scene.json': json, 'originals/aa': 'x' }));
    expect([originals.size, strokes.size]).toEqual([0, 0]);
  });

  it('cut short or with changed bytes is never taken for whole', async () => {
    const whole = new Uint8Array(await (await writeSceneFile(contents)).arrayBuffer());
    for (let length = 0; length < whole.length; length += 41) {
      await expect(readSceneFile(new Blob([whole.subarray(0, length)]))).rejects.toHaveProperty('code');
    }
    for (let at = 60; at < whole.length - 200; at += 53) {
      const broken = whole.slice();
      broken[at] ^= 0xff;
      const back = await readSceneFile(new Blob([broken])).catch((error) => error);
      if (!('code' in back)) expect(back.scene).toEqual(scene); // a changed byte of the padding harms nothing
    }
  });
});
