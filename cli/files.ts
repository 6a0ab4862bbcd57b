import { readFile } from 'node:fs/promises';
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
