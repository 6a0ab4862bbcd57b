import { readFileSync } from 'node:fs';

/** Compiles the kernels.
 * @param file - The module that `npm run build:kernels` made. */
export function loadKernels(file: URL): WebAssembly.Module {
  return new WebAssembly.Module(readFileSync(file));
}
