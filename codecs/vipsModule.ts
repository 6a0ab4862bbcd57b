import type Vips from 'wasm-vips';

/** The decoder library, started. Its objects live in its own memory: `delete()` each one. */
export type VipsModule = typeof Vips & {
  /** Its file system, in memory; the package's types leave it out. */
  FS: {
    analyzePath: (path: string) => { exists: boolean };
    writeFile: (path: string, bytes: Uint8Array) => void;
  };
};

/** Keeps objects of the library until they can be deleted. */
export type Keep = <T extends { delete(): void }>(object: T) => T;

/** Objects of the library that are deleted together. */
export function keeper(): { keep: Keep; close: () => void } {
  const kept: { delete(): void }[] = [];
  const keep: Keep = (object) => {
    kept.push(object);
    return object;
  };
  const close = () => {
    for (const object of kept.splice(0).reverse()) object.delete();
  };
  return { keep, close };
}

/** The library's errors are no `Error`s; their message may be a list, and tells of every layer that it went through.
 * @returns What went wrong, each thing once. */
export function vipsMessage(error: unknown): string {
  const message = (error as { message?: unknown } | null)?.message ?? error;
  const lines = (Array.isArray(message) ? message.join('\n') : String(message)).split('\n');
  const told = lines
    .map((line) => line.trim().replace(/^\w+: /, ''))
    .filter((line) => line && !/unable to call|^vips::/.test(line));
  return [...new Set(told)].join('; ') || String(message).trim();
}

/** The path of a profile in the library's own file system, which is in memory.
 * @param write - Makes the profile. */
export function profilePath<Name extends string>(
  { FS }: VipsModule,
  name: Name,
  write: (name: Name) => Uint8Array,
): string {
  const path = `/${name}.icc`;
  if (!FS.analyzePath(path).exists) FS.writeFile(path, write(name));
  return path;
}
