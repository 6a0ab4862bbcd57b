import { TileSlab } from '#core/raster/tileSlab.ts';
import { keepOverflow, type OverflowFile, openOverflow } from '../overflow.ts';

/** Share of the storage still free that may be taken. */
const STORAGE_SHARE = 0.5;
const PREFIX = 'overflow-';

/** What the type library for pages leaves out, since only workers have it. */
interface SyncFile {
  createSyncAccessHandle(): Promise<{
    write(bytes: Uint8Array, options: { at: number }): number;
    read(bytes: Uint8Array, options: { at: number }): number;
  }>;
}

/** A file of the page's own file system (File System Standard, WHATWG); files that other pages left behind go. */
async function openPrivate(): Promise<OverflowFile> {
  const folder = await navigator.storage.getDirectory();
  for await (const name of (folder as unknown as { keys(): AsyncIterable<string> }).keys()) {
    // A page that still runs holds a lock on its file, and keeps it.
    if (name.startsWith(PREFIX)) await folder.removeEntry(name).catch(() => undefined);
  }
  const { quota = 0, usage = 0 } = await navigator.storage.estimate();
  const entry = await folder.getFileHandle(PREFIX + crypto.randomUUID(), { create: true });
  const file = await (entry as unknown as SyncFile).createSyncAccessHandle();
  const whole = (done: number, bytes: Uint8Array) => {
    if (done !== bytes.length) throw new Error(`${done} of ${bytes.length} bytes`);
  };
  return {
    room: (quota - usage) * STORAGE_SHARE,
    write: (at, bytes) => whole(file.write(bytes, { at }), bytes),
    read: (at, bytes) => whole(file.read(bytes, { at }), bytes),
  };
}

self.addEventListener('message', async ({ data }: MessageEvent<WebAssembly.Memory>) => {
  const slab = new TileSlab(data);
  const file = await openPrivate().catch(() => undefined);
  if (file) openOverflow(slab, file);
  self.postMessage('ready');
  // Without a file (a private window, say) scenes have to fit into memory.
  if (file) keepOverflow(slab, file);
});
