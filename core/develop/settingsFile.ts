import { z } from 'zod';
import { type Develop, faultOf } from './list.ts';

/** Version of the file that this program writes. */
const VERSION = 1;
const MOST_NAME = 80;

/** Settings of a frame under a name. */
export interface SettingSet {
  name: string;
  develop: Develop;
}

const File = z.object({
  lusketSettings: z.number().int().min(1),
  name: z.string().trim().min(1).max(MOST_NAME),
  develop: z.record(z.string(), z.json()),
});

/** Why a file of settings was not taken, as a sentence that says what to do. */
export class SettingsFileError extends Error {
  constructor(sentence: string) {
    super(sentence);
    this.name = 'SettingsFileError';
  }
}

/** The text of a file with a set of settings: JSON, see docs/settings-file.md. */
export const writeSettings = ({ name, develop }: SettingSet): string =>
  `${JSON.stringify({ lusketSettings: VERSION, name, develop }, null, 2)}\n`;

/** Reads what {@link writeSettings} has written.
 * @throws {SettingsFileError} */
export function readSettings(text: string): SettingSet {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    throw new SettingsFileError(
      'This is not a file of settings: it holds no JSON. Choose one that Lusket has written.',
    );
  }
  const version = (raw as { lusketSettings?: unknown } | null)?.lusketSettings;
  if (typeof version === 'number' && version > VERSION)
    throw new SettingsFileError('These settings were written by a newer Lusket. Open them with that one.');
  const read = File.safeParse(raw);
  if (!read.success) throw new SettingsFileError('This is not a file of settings. Choose one that Lusket has written.');
  const { name, develop } = read.data;
  const fault = faultOf(develop);
  if (fault) throw new SettingsFileError(`These settings hold ${fault}. Nothing was changed.`);
  return { name, develop };
}
