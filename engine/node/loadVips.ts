import Vips from 'wasm-vips';
import type { VipsModule } from '#codecs/vipsModule.ts';

let started: Promise<VipsModule> | undefined;

/** Starts the decoder library, once. */
export function loadVips(): Promise<VipsModule> {
  started ??= Vips({ dynamicLibraries: [], print: () => undefined, printErr: () => undefined }).then((vips) => {
    vips.Cache.max(0);
    return vips;
  });
  return started;
}
