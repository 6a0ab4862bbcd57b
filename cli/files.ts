import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { DecodeError } from '#codecs/decodeError.ts';

/** The whole of a file, as bytes that can be handed over to another thread. */
export async function bytesOfFile(path: string): Promise<ArrayBuffer> {
  const { buffer, byteOffset, byteLength } = await readFile(path);
  return buffer.slice(byteOffset, byteOffset + byteLength) as ArrayBuffer;
}

/** Why a file could not be read, for output that other programs read. */
export function errorOf(error: unknown): { code: string; detail: string } {
  if (error instanceof DecodeError) return { code: error.code, detail: error.detail };
  const { code, message } = error as NodeJS.ErrnoException;
  return code === undefined ? { code: 'internal', detail: message } : { code: 'unreadable', detail: message };
}

/** Files of a folder, and of those in it, that have a wanted content.
 * @returns By SHA-256. */
export async function findByContent(
  folder: string,
  wanted: readonly { sha256: string; bytes: number }[],
): Promise<Map<string, Blob>> {
  const found = new Map<string, Blob>();
  const sizes = new Set(wanted.map(({ bytes }) => bytes));
  const hashes = new Set(wanted.map(({ sha256 }) => sha256));
  for (const entry of await readdir(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue;
    const path = join(entry.parentPath, entry.name);
    // Only what is as long as one of them is read.
    if (!sizes.has((await stat(path)).size)) continue;
    const sha256 = await sha256OfFile(path);
    // Other threads cannot be given a Blob that lies in a file.
    if (hashes.has(sha256)) found.set(sha256, new Blob([await readFile(path)]));
  }
  return found;
}

async function sha256OfFile(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const piece of createReadStream(path)) hash.update(piece as Uint8Array);
  return hash.digest('hex');
}
