import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { writeSceneFile } from '#codecs/sceneFile.ts';
import { FrameId } from '#core/ids.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { newScene } from '#core/scene/scene.ts';
import { madeFrame } from '../tests/smallScene.ts';

const folder = mkdtempSync(join(tmpdir(), 'lusket-commands-'));
const scenePath = join(folder, 'lean.lusket');
const lusket = (...args: string[]) => spawnSync(process.execPath, ['cli/lusket.mjs', ...args], { encoding: 'utf8' });

let original: Buffer;
beforeAll(async () => {
  original = await sharp({ create: { width: 64, height: 48, channels: 3, background: '#336699' } })
    .png()
    .toBuffer();
  const sha256 = createHash('sha256').update(original).digest('hex');
  const file = { sha256, name: 'IMG_1.png', bytes: original.length };
  const frames = [{ ...madeFrame(0, { width: 64, height: 48 }), id: FrameId.parse(sha256), file }];
  const scene = applyEdit(newScene('Lean'), addFrames({ frames }));
  const packed = await writeSceneFile({ scene, strokes: new Map(), originals: new Map(), evidence: new Map() });
  writeFileSync(scenePath, Buffer.from(await packed.arrayBuffer()));
});

describe('lusket render', () => {
  it('names the files that a scene file was written without, and ends with 3', () => {
    const { status, stderr } = lusket('render', scenePath, '--out', join(folder, 'a.tif'));
    expect(status).toBe(3);
    expect(stderr).toMatch(/IMG_1\.png.*--originals/);
    expect(stderr).not.toMatch(/TypeError|at .*\.mjs/);
    const nowhere = lusket('render', scenePath, '--out', join(folder, 'a.tif'), '--originals', folder);
    expect([nowhere.status, nowhere.stderr]).toEqual([3, expect.stringContaining('nor in')]);
  });

  it('finds them by their content, whatever they are called and wherever in the folder they lie', async () => {
    mkdirSync(join(folder, 'card/DCIM'), { recursive: true });
    writeFileSync(join(folder, 'card/DCIM/renamed.bin'), original);
    writeFileSync(join(folder, 'card/IMG_1.png'), Buffer.alloc(original.length));
    const out = join(folder, 'found.png');
    const { status, stderr } = lusket('render', scenePath, '--out', out, '--originals', join(folder, 'card'));
    expect([status, stderr]).toEqual([0, expect.stringContaining('wrote')]);
    expect(await sharp(out).metadata()).toMatchObject({ width: 64, height: 48 });
  });

  it('ends with 4 for what is no scene file, and with 2 for wrong usage, a sentence each', () => {
    writeFileSync(join(folder, 'no.lusket'), 'no scene');
    for (const path of ['no.lusket', 'nowhere.lusket']) {
      const { status, stderr } = lusket('render', join(folder, path), '--out', join(folder, 'a.tif'));
      expect(status).toBe(4);
      expect(stderr.trim().split('\n')).toHaveLength(1);
    }
    for (const args of [
      ['render', scenePath],
      ['render', scenePath, '--out', 'a.tif', '--space', 'none'],
      ['align'],
      ['info'],
      ['none'],
    ])
      expect(lusket(...args).status).toBe(2);
    expect(lusket('--help').stdout).toMatch(/--space.*\n[\s\S]*Exit status: 0/);
  });
});
