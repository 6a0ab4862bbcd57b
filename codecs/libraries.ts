import type { HeifModule } from './heicPicture.ts';
import type { RawModule } from './rawModule.ts';
import type { VipsModule } from './vipsModule.ts';

/** The decoder libraries; each starts when it is first asked for. One that broke is started anew. */
export interface Libraries {
  /** The formats that nearly all files have. */
  vips: () => Promise<VipsModule>;
  /** The same with AVIF and JPEG XL, which take time to start. */
  vipsMore: () => Promise<VipsModule>;
  raw: () => Promise<RawModule>;
  heif: () => Promise<HeifModule>;
}

/** What starts each library. */
export type Starters = Libraries;

/** Libraries that are started once. */
export function keepLibraries(start: Starters): Libraries & { forget: () => void } {
  const running = new Map<keyof Starters, Promise<unknown>>();
  const once =
    <K extends keyof Starters>(name: K) =>
    () => {
      const promise = running.get(name) ?? start[name]();
      running.set(name, promise);
      return promise as ReturnType<Starters[K]>;
    };
  return {
    vips: once('vips') as Libraries['vips'],
    vipsMore: once('vipsMore') as Libraries['vipsMore'],
    raw: once('raw') as Libraries['raw'],
    heif: once('heif') as Libraries['heif'],
    forget: () => running.clear(),
  };
}
