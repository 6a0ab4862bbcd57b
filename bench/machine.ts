import { type Measure, medianMs } from './measure.ts';

const BYTES = 2 ** 28;
const PAGE_BYTES = 4096;
const RUNS = 5;

/** What the machine can do with its memory at the moment: what is computed on pictures waits for it, and the loop beside the bars does not
 * tell of it. They have no bar; they are for comparing runs of different days. */
export async function measureMachine(): Promise<Measure[]> {
  const [from, to] = [new Float64Array(BYTES / 8).fill(1), new Float64Array(BYTES / 8).fill(2)];
  const copied = await medianMs(RUNS, () => to.set(from));
  const touched = await medianMs(RUNS, () => {
    const fresh = new Uint8Array(new SharedArrayBuffer(BYTES));
    for (let at = 0; at < fresh.length; at += PAGE_BYTES) fresh[at] = 1;
  });
  return [
    { measure: 'the machine: copying 256 MB', value: copied, unit: 'ms' },
    { measure: 'the machine: touching 256 MB for the first time', value: touched, unit: 'ms' },
  ];
}
