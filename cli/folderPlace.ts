import { type FileHandle, mkdir, open, rename, rm } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { freeName } from '#codecs/deliver/fileName.ts';
import type { Place, Sink } from '../engine/deliver/sink.ts';

/** A folder that files are written to. Each has another name until it is whole, so that nothing half-written is left. Files of earlier runs are
 * replaced, those of this one never: scenes may be called alike. */
export function folderPlace(folder: string): Place {
  const written = new Set<string>();
  return {
    open: async (wanted) => {
      await mkdir(folder, { recursive: true });
      const ending = extname(wanted);
      const name = freeName(basename(wanted, ending), written, ending) + ending;
      written.add(name.toLowerCase());
      return fileSink(join(folder, name), name);
    },
  };
}

/** One file, whatever it was to be called. */
export const filePlace = (path: string): Place => ({
  open: async () => {
    await mkdir(dirname(path), { recursive: true });
    return fileSink(path, path);
  },
});

async function fileSink(path: string, name: string): Promise<Sink> {
  const underWay = `${path}.part-${process.pid}`;
  const file: FileHandle = await open(underWay, 'w');
  let at = 0;
  return {
    name,
    write: async (bytes) => {
      for (let done = 0; done < bytes.length; ) {
        const { bytesWritten } = await file.write(bytes, done, bytes.length - done, at);
        done += bytesWritten;
        at += bytesWritten;
      }
    },
    patch: async (bytes) => {
      await file.write(bytes, 0, bytes.length, 0);
    },
    finish: async () => {
      await file.sync();
      await file.close();
      await rename(underWay, path);
    },
    discard: async () => {
      await file.close().catch(() => undefined);
      await rm(underWay, { force: true });
    },
  };
}
