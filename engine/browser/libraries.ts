import rawWasmUrl from 'libraw-wasm/dist/libraw.wasm?url';
import Vips from 'wasm-vips';
import vipsUrl from 'wasm-vips/vips.wasm?url';
import heifUrl from 'wasm-vips/vips-heif.wasm?url';
import jxlUrl from 'wasm-vips/vips-jxl.wasm?url';
import type { HeifModule } from '#codecs/heicPicture.ts';
import type { Libraries } from '#codecs/libraries.ts';
import type { RawModule } from '#codecs/rawModule.ts';
import type { VipsModule } from '#codecs/vipsModule.ts';

const URLS: Record<string, string> = { 'vips.wasm': vipsUrl, 'vips-heif.wasm': heifUrl, 'vips-jxl.wasm': jxlUrl };

async function startVips(dynamicLibraries: string[]): Promise<VipsModule> {
  const vips = await Vips({
    dynamicLibraries,
    // What the library has to say comes back as errors; its own lines would only alarm in the console.
    print: () => undefined,
    printErr: () => undefined,
    locateFile: (name) => URLS[name] ?? name,
  });
  vips.Cache.max(0);
  return vips as VipsModule;
}

/** Starts decoder libraries in a browser's worker. */
export const browserLibraries: Libraries = {
  vips: () => startVips([]),
  vipsMore: () => startVips(['vips-jxl.wasm', 'vips-heif.wasm']),
  raw: async () => {
    const { default: start } = await import('libraw-wasm/dist/libraw.js');
    return start({
      locateFile: () => rawWasmUrl,
      print: () => undefined,
      printErr: () => undefined,
    }) as Promise<RawModule>;
  },
  heif: async () => {
    const { default: start } = await import('libheif-js/libheif-wasm/libheif-bundle.mjs');
    return (await start()) as HeifModule;
  },
};
