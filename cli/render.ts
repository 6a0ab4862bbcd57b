import { openAsBlob, writeFileSync } from 'node:fs';
import { extname } from 'node:path';
import { parseArgs } from 'node:util';
import { encodeImage, type OutputFormat } from '#codecs/encode.ts';
import { readSceneFile, type SceneContents } from '#codecs/sceneFile.ts';
import type { VipsModule } from '#codecs/vipsModule.ts';
import type { LoadingDesk } from '#core/render/loadFrame.ts';
import { type Scene, sceneSize } from '#core/scene/scene.ts';
import { loadFiles } from '../engine/node/loadFiles.ts';
import { loadVips } from '../engine/node/loadVips.ts';
import { startEngine } from '../engine/node/startEngine.ts';

const FORMATS: Record<string, OutputFormat> = {
  '.tif': 'tiff',
  '.tiff': 'tiff',
  '.png': 'png',
  '.jpg': 'jpeg',
  '.jpeg': 'jpeg',
};

/** Renders a scene file to a picture file.
 * @throws {Error} with a message for the user. */
export async function render(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { out: { type: 'string' }, quality: { type: 'string', default: '92' } },
  });
  const [scenePath] = positionals;
  const format = FORMATS[extname(values.out ?? '').toLowerCase()];
  const quality = Number(values.quality);
  if (!scenePath || !values.out || !format)
    throw new Error('render needs a scene file and --out with an ending of .tif, .png or .jpg');
  if (!Number.isInteger(quality) || quality < 1 || quality > 100)
    throw new Error('--quality is a whole number from 1 to 100');
  const contents = await readSceneFile(await openAsBlob(scenePath));
  const size = sceneSize(contents.scene);
  if (!size) throw new Error('the scene has no frames');
  const vips = await loadVips();
  const { engine, desk, close } = await startEngine(new URL('./', import.meta.url));
  try {
    await loadOriginals(vips, desk, contents);
    for (const [id, points] of contents.strokes) engine.addStrokePoints(id, points);
    engine.setScene(contents.scene);
    const image = await engine.render(size, (share) => say(`rendering ${Math.round(share * 100)} %`));
    if (image) writeFileSync(values.out, encodeImage(vips, image, size, { format, quality }, baseExif(contents.scene)));
    say(`wrote ${values.out}`, true);
  } finally {
    close();
    vips.shutdown();
  }
}

async function loadOriginals(vips: VipsModule, desk: LoadingDesk, { scene, originals }: SceneContents): Promise<void> {
  const files = scene.frames.map(({ file }) => ({
    name: file.name,
    read: async () => new Uint8Array(await (originals.get(file.sha256) as Blob).arrayBuffer()),
  }));
  const onProgress = (name: string, share: number) => say(`reading ${name} ${Math.round(share * 100)} %`);
  const frames = await loadFiles(vips, desk, files, { expect: sceneSize(scene), onProgress });
  frames.forEach(({ file }, index) => {
    const wanted = scene.frames[index].file;
    if (file.sha256 !== wanted.sha256)
      throw new Error(`the original of ${wanted.name} is not the file that the scene was made with`);
  });
}

function baseExif(scene: Scene) {
  return scene.frames.find(({ id }) => id === scene.base)?.exif ?? {};
}

function say(text: string, last = false): void {
  if (process.stderr.isTTY) process.stderr.write(`\r${text.padEnd(60)}${last ? '\n' : ''}`);
  else if (last) console.error(text);
}
