import { freeName } from '#codecs/deliver/fileName.ts';
import type { Place } from '#engine/deliver/sink.ts';

/** Folders that a page may write to, where the browser has them (File System Access, WICG). */
interface Picker {
  showDirectoryPicker?: (options: { mode: 'readwrite'; id: string }) => Promise<FileSystemDirectoryHandle>;
}

export const canChooseFolder = (): boolean => typeof (window as Picker).showDirectoryPicker === 'function';

/** Asks for a folder; undefined when none was chosen. */
export async function chooseFolder(): Promise<FileSystemDirectoryHandle | undefined> {
  try {
    return await (window as Picker).showDirectoryPicker?.({ mode: 'readwrite', id: 'deliver' });
  } catch (error) {
    if ((error as Error).name === 'AbortError') return undefined;
    throw error;
  }
}

/** A handle's rights, where the browser has them; the types of TypeScript leave them out. */
interface Guarded {
  queryPermission?: (wanted: { mode: 'readwrite' }) => Promise<PermissionState>;
  requestPermission?: (wanted: { mode: 'readwrite' }) => Promise<PermissionState>;
}

/** The folder as a place, once it may be written to: a folder of an earlier visit is asked for again, which needs a press. Files of one that may not
 * are refused one by one. */
export async function openFolder(folder: FileSystemDirectoryHandle): Promise<Place> {
  const { queryPermission, requestPermission } = folder as Guarded;
  const mode = { mode: 'readwrite' } as const;
  const state = (await queryPermission?.call(folder, mode)) ?? 'granted';
  const now = state === 'prompt' ? await requestPermission?.call(folder, mode) : state;
  if (now === 'granted') return folderPlace(folder);
  return {
    open: async () => {
      throw new DOMException('not allowed', 'NotAllowedError');
    },
  };
}

/** A folder of the user's. What has a name already keeps it; a file has its content only once it is whole. */
function folderPlace(folder: FileSystemDirectoryHandle): Place {
  return {
    open: async (wanted) => {
      const name = await freeIn(folder, wanted);
      const file = await folder.getFileHandle(name, { create: true });
      const drop = () => folder.removeEntry(name).catch(() => undefined);
      const stream = await file.createWritable().catch(async (error) => {
        await drop();
        throw error;
      });
      return {
        name,
        write: (bytes) => stream.write(bytes),
        patch: (bytes) => stream.write({ type: 'write', position: 0, data: bytes }),
        finish: async () => {
          try {
            await stream.close();
          } catch (error) {
            await drop();
            throw error;
          }
        },
        discard: async () => {
          await stream.abort().catch(() => undefined);
          await drop();
        },
      };
    },
  };
}

async function freeIn(folder: FileSystemDirectoryHandle, wanted: string): Promise<string> {
  const [, base, ending = ''] = /^(.*?)(\.[^.]+)?$/.exec(wanted) ?? [wanted, wanted, ''];
  const taken = new Set<string>();
  for (;;) {
    const name = freeName(base, taken, ending) + ending;
    try {
      await folder.getFileHandle(name);
      taken.add(name.toLowerCase());
    } catch (error) {
      if ((error as Error).name === 'NotFoundError') return name;
      throw error;
    }
  }
}
