import { parseArgs } from 'node:util';
import type { Alignment } from '#core/align/alignment.ts';
import { FIRST_READING } from '#core/reading.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Aligner } from '../engine/aligner.ts';
import type { PixelsToPlace } from '../engine/alignProtocol.ts';
import type { Codec } from '../engine/codec.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { CommandError, EXIT } from './exit.ts';
import { bytesOfFile, errorOf } from './files.ts';

/** What is told of a frame. Numbers that are not known are null. */
type Told =
  | (Pick<Alignment, 'matrix' | 'model' | 'agreement' | 'confidence' | 'verdict' | 'reason'> & {
      file: string;
      residualPx: number | null;
    })
  | { file: string; error: { code: string; detail: string } };

/** Places frames on a base and tells how.
 * @throws {Error} with a message for the user. */
export async function align(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { json: { type: 'boolean', default: false } },
  });
  const [basePath, ...paths] = positionals;
  if (!basePath || paths.length === 0) throw new CommandError('align needs a base and at least one frame', EXIT.usage);
  const { codec, aligner, close } = await startEngine(new URL('./', import.meta.url));
  try {
    const base = await load(codec, basePath, undefined).catch((error) => {
      throw new Error(`the base cannot be read: ${(error as Error).message}`);
    });
    const loaded = await Promise.all(
      paths.map((path) => load(codec, path, base).catch((error: unknown) => errorOf(error))),
    );
    const frames = loaded.filter((frame): frame is Frame => 'id' in frame);
    const told: Told[] = [];
    for (const [index, frame] of loaded.entries()) {
      const file = paths[index];
      told.push('id' in frame ? await place(aligner, file, base, frame, frames) : { file, error: frame });
    }
    console.log(values.json ? JSON.stringify(told, null, 2) : told.map(line).join('\n'));
  } finally {
    close();
  }
}

async function load(codec: Codec, path: string, expect: Frame | undefined): Promise<Frame> {
  const size = expect && { width: expect.width, height: expect.height };
  return codec.load({ file: await bytesOfFile(path), name: path, reading: FIRST_READING }, size, () => undefined);
}

const toPlace = ({ file, reading, width, height, shot }: Frame): PixelsToPlace => ({
  file,
  reading,
  width,
  height,
  ev: shot.ev,
});

async function place(aligner: Aligner, file: string, base: Frame, frame: Frame, all: readonly Frame[]): Promise<Told> {
  const between = all.filter(({ id }) => id !== frame.id && id !== base.id).map(toPlace);
  const request = { base: toPlace(base), frame: toPlace(frame), between, wanted: null };
  const found = await aligner.align(request, () => undefined);
  const { matrix, model, agreement, confidence, verdict, reason } = found;
  const residualPx = Number.isFinite(found.residualPx) ? found.residualPx : null;
  return { file, matrix, model, residualPx, agreement, confidence, verdict, reason };
}

/** A reason as its code and the figures that belong to it. */
function sayReason({ code, count, of, share, px, isChained }: Alignment['reason']): string {
  const counted = count === undefined ? '' : of === undefined ? ` ${count}` : ` ${count} of ${of}`;
  const figures = `${counted}${share === undefined ? '' : ` ${share.toFixed(2)}`}${px === undefined ? '' : ` ${px.toFixed(2)} px`}`;
  return `${code}${figures}${isChained ? ', through another frame' : ''}`;
}

function line(told: Told): string {
  if ('error' in told) return `${told.file}: ${told.error.code} (${told.error.detail})`;
  const { file, model, residualPx, verdict, reason } = told;
  const off = residualPx === null ? '' : `, ${residualPx.toFixed(2)} px`;
  return `${file}: ${verdict} (${model}${off}; ${sayReason(reason)})`;
}
