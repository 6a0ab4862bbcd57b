import { address, defineKernel } from './defineKernel.ts';

/** Maps 16-bit samples through a table of 65,536 16-bit values. */
export function lookUp(table: Uint16Array, samples: Uint16Array, out: Uint16Array): void {
  if (table.length !== 65536) throw new RangeError('A look-up table has 65,536 values');
  for (let i = 0; i < samples.length; i++) out[i] = table[samples[i]];
}

export const lookUpKernel = defineKernel(lookUp)({
  compiled: ['lookUp'],
  bind:
    ({ wasm }) =>
    (table, samples, out) => {
      if (table.length !== 65536) throw new RangeError('A look-up table has 65,536 values');
      wasm.lookUp(address(table), address(samples), address(out), samples.length);
    },
  samples: { 'look-up': (make) => [make.samples(65536), make.samples(), make.samples()] },
});
