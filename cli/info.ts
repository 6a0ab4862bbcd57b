import { parseArgs } from 'node:util';
import { FIRST_READING } from '#core/reading.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Codec } from '../engine/codec.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { CommandError, EXIT } from './exit.ts';
import { bytesOfFile, errorOf } from './files.ts';

/** What is told of a file. `ev` is the exposure value at ISO 100 of the APEX relations: larger means less light. */
type Told =
  | (Pick<Frame, 'format' | 'width' | 'height' | 'bits' | 'profile'> &
      Pick<Frame['shot'], 'exposureTime' | 'fNumber' | 'iso' | 'takenAt' | 'ev'> & { file: string })
  | { file: string; error: { code: string; detail: string } };

/** Memory that is enough for threads that keep no pixels. */
const BUDGET_BYTES = 128 * 2 ** 20;

/** Reads files through and tells what they are: the frames that they would become, or why they would not.
 * @throws {Error} with a message for the user. */
export async function info(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { json: { type: 'boolean', default: false } },
  });
  if (positionals.length === 0) throw new CommandError('info needs at least one file', EXIT.usage);
  const { codec, close } = await startEngine(new URL('./', import.meta.url), BUDGET_BYTES);
  try {
    const told = await tellAll(codec, positionals);
    console.log(values.json ? JSON.stringify(told, null, 2) : told.map(line).join('\n'));
  } finally {
    close();
  }
}

/** As many files at once as there are threads that read, so that few are in memory. */
async function tellAll(codec: Codec, files: readonly string[]): Promise<Told[]> {
  const told: Told[] = [];
  const rest = [...files.entries()];
  const lane = async () => {
    for (let next = rest.shift(); next; next = rest.shift()) told[next[0]] = await tell(codec, next[1]);
  };
  await Promise.all(Array.from({ length: codec.lanes }, lane));
  return told;
}

async function tell(codec: Codec, file: string): Promise<Told> {
  try {
    const frame = await codec.inspect({ file: await bytesOfFile(file), name: file, reading: FIRST_READING });
    const { format, width, height, bits, profile, shot } = frame;
    const { exposureTime, fNumber, iso, takenAt } = shot;
    const ev = shot.ev === null ? null : -shot.ev;
    return { file, format, width, height, bits, profile, exposureTime, fNumber, iso, takenAt, ev };
  } catch (error) {
    return { file, error: errorOf(error) };
  }
}

function line(told: Told): string {
  if ('error' in told) return `${told.file}: ${told.error.code} (${told.error.detail})`;
  const { file, format, width, height, bits, profile, exposureTime, fNumber, iso, takenAt, ev } = told;
  const shot = [
    exposureTime && `${exposureTime < 0.3 ? `1/${Math.round(1 / exposureTime)}` : exposureTime} s`,
    fNumber && `f/${fNumber}`,
    iso && `ISO ${iso}`,
    ev !== null && `EV ${ev.toFixed(2)}`,
    takenAt,
  ].filter(Boolean);
  return `${file}: ${format}, ${width} x ${height}, ${bits} bits, ${profile ?? 'no profile'}${shot.length ? `; ${shot.join(', ')}` : ''}`;
}
