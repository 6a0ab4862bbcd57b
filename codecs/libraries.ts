import type { HeifModule } from './heicPicture.ts';
import type { RawModule } from './rawModule.ts';
import type { VipsModule } from './vipsModule.ts';

/** The decoder libraries. */
export interface Libraries {
  /** The formats that nearly all files have. */
  vips: () => Promise<VipsModule>;
  /** The same with AVIF and JPEG XL, which take time to start. */
  vipsMore: () => Promise<VipsModule>;
  raw: () => Promise<RawModule>;
  heif: () => Promise<HeifModule>;
}

/** Libraries that are started once each.
 * @param start - Starts each library anew. */
export function keepLibraries(start: Libraries): Libraries & { forget: () => void } {
  const running = new Map<keyof Libraries, Promise<unknown>>();
  const once =
    <K extends keyof Libraries>(name: K) =>
    () => {
      const promise = running.get(name) ?? start[name]();
      running.set(name, promise);
      // One that did not start may start the next time.
      promise.catch(() => running.delete(name));
      return promise as ReturnType<Libraries[K]>;
    };
  return {
    vips: once('vips') as Libraries['vips'],
    vipsMore: once('vipsMore') as Libraries['vipsMore'],
    raw: once('raw') as Libraries['raw'],
    heif: once('heif') as Libraries['heif'],
    forget: () => running.clear(),
  };
}
