import { writeFileSync } from 'node:fs';
import { extname } from 'node:path';
import { parseArgs } from 'node:util';
import type { OutputFormat } from '#codecs/encode.ts';
import { OUTPUT_SPACES, type OutputSpace } from '#core/color/workingSpace.ts';
import { deliveredPicture } from '#core/finish/delivered.ts';
import type { Scene } from '#core/scene/scene.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { CommandError, EXIT } from './exit.ts';
import { completeOriginals, loadOriginals, openScene, say } from './opening.ts';

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
    options: {
      out: { type: 'string' },
      quality: { type: 'string', default: '92' },
      space: { type: 'string' },
      originals: { type: 'string' },
    },
  });
  const [scenePath] = positionals;
  const format = FORMATS[extname(values.out ?? '').toLowerCase()];
  const quality = Number(values.quality);
  if (!scenePath || !values.out || !format)
    throw new CommandError('render needs a scene file and --out with an ending of .tif, .png or .jpg', EXIT.usage);
  if (!Number.isInteger(quality) || quality < 1 || quality > 100)
    throw new CommandError('--quality is a whole number from 1 to 100', EXIT.usage);
  if (!isOutputSpace(values.space)) throw new CommandError(`--space is one of ${OUTPUT_SPACES.join(', ')}`, EXIT.usage);
  const contents = await openScene(scenePath);
  await completeOriginals(contents, values.originals);
  const delivered = deliveredPicture(contents.scene);
  if (!delivered) throw new Error('the scene has no frames');
  const { of, size, region } = delivered;
  const { engine, codec, close } = await startEngine(new URL('./', import.meta.url));
  try {
    await loadOriginals(codec, contents);
    for (const [id, points] of contents.strokes) engine.addStrokePoints(id, points);
    engine.setScene(contents.scene);
    const space = values.space ?? contents.scene.workingSpace;
    const image = await engine.render(of, size, region, space, (share) =>
      say(`rendering ${Math.round(share * 100)} %`),
    );
    if (!image) throw new Error('rendering was stopped');
    const exif = baseExif(contents.scene);
    writeFileSync(
      values.out,
      await codec.encode(image.buffer as SharedArrayBuffer, region, { format, quality, space }, exif),
    );
    say(`wrote ${values.out}`, true);
  } finally {
    close();
  }
}

const isOutputSpace = (name: string | undefined): name is OutputSpace | undefined =>
  name === undefined || OUTPUT_SPACES.includes(name as OutputSpace);

function baseExif(scene: Scene) {
  return scene.frames.find(({ id }) => id === scene.base)?.exif ?? {};
}
