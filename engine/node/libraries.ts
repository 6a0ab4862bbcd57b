import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import Vips from 'wasm-vips';
import type { HeifModule } from '#codecs/heicPicture.ts';
import type { Libraries } from '#codecs/libraries.ts';
import type { RawModule } from '#codecs/rawModule.ts';
import type { VipsModule } from '#codecs/vipsModule.ts';

const require = createRequire(import.meta.url);

async function startVips(dynamicLibraries: string[]): Promise<VipsModule> {
  const vips = await Vips({
    dynamicLibraries,
    // What the library has to say comes back as errors; its own lines would only alarm.
    print: () => undefined,
    printErr: () => undefined,
    preRun: [
      (module: { ENV?: Record<string, string> }) => {
        if (module.ENV) module.ENV.VIPS_WARNING = '0';
      },
    ],
  });
  vips.Cache.max(0);
  return vips as VipsModule;
}

/** Starts decoder libraries in Node. */
export const nodeLibraries: Libraries = {
  vips: () => startVips([]),
  vipsMore: () => startVips(['vips-jxl.wasm', 'vips-heif.wasm']),
  raw: async () => {
    const { default: start } = await import('libraw-wasm/dist/libraw.js');
    const wasmBinary = await readFile(require.resolve('libraw-wasm/dist/libraw.wasm'));
    return start({ wasmBinary, print: () => undefined, printErr: () => undefined }) as Promise<RawModule>;
  },
  heif: async () => {
    const { default: start } = await import('libheif-js/libheif-wasm/libheif-bundle.mjs');
    return (await start()) as HeifModule;
  },
};
