import type Vips from 'wasm-vips';

/** The decoder library, started. Its objects live in its own memory: `delete()` each one. */
export type VipsModule = typeof Vips;

/** The library's errors are no `Error`s, and their message may be a list.
 * @returns One line that says what the library said. */
export function vipsMessage(error: unknown): string {
  const message = (error as { message?: unknown } | null)?.message ?? error;
  return (Array.isArray(message) ? message.join(' ') : String(message)).trim().replace(/\s+/g, ' ');
}
