import { z } from 'zod';

const Card = z.object({
  inserted: z.boolean(),
  folders: z.array(
    z.object({
      name: z.string(),
      title: z.string(),
      files: z.array(z.object({ name: z.string(), bytes: z.number() })),
    }),
  ),
});
export type Card = z.infer<typeof Card>;
export type CardFolder = Card['folders'][number];

/** Why copying from the card ended early. */
export class CardError extends Error {
  readonly code: 'pulled-out' | 'stopped';
  constructor(code: 'pulled-out' | 'stopped') {
    super(code);
    this.code = code;
  }
}

/** What is on the card; undefined where there is no card reader, as when the application is served without one. */
export async function readCard(): Promise<Card | undefined> {
  try {
    const answer = await fetch('/api/card');
    const parsed = Card.safeParse(await answer.json());
    return parsed.data;
  } catch {
    return undefined;
  }
}

/** Pulls the simulated card out, or puts it back. */
export async function switchCard(inserted: boolean): Promise<void> {
  await fetch(`/api/card/${inserted ? 'insert' : 'pull'}`, { method: 'POST' });
}

/** Copies one file off the card.
 * @param onBytes - Told of bytes as they come.
 * @throws {CardError} */
export async function copyFile(
  folder: string,
  name: string,
  signal: AbortSignal,
  onBytes: (count: number) => void,
): Promise<File> {
  try {
    const answer = await fetch(`/card/${folder}/${name}`, { signal });
    if (!answer.ok || !answer.body) throw new CardError('pulled-out');
    const pieces: Uint8Array<ArrayBuffer>[] = [];
    const reader = answer.body.getReader();
    for (let next = await reader.read(); !next.done; next = await reader.read()) {
      pieces.push(next.value);
      onBytes(next.value.length);
    }
    return new File(pieces, name);
  } catch {
    throw new CardError(signal.aborted ? 'stopped' : 'pulled-out');
  }
}
