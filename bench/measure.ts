/** Median of the times that some runs take, in milliseconds. */
export async function medianMs(runs: number, work: (run: number) => Promise<void> | void): Promise<number> {
  const times: number[] = [];
  for (let run = 0; run < runs; run++) {
    const since = performance.now();
    await work(run);
    times.push(performance.now() - since);
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length / 2)];
}

/** One line of the table. */
export interface Measure {
  measure: string;
  value: number;
  unit: 'ms' | 'ratio' | 'times';
  /** What it must reach. */
  bar?: number;
  /** The bar is a floor rather than a ceiling. */
  atLeast?: boolean;
}

/** Whether a measure reaches its bar; undefined when it has none. */
export function holds({ value, bar, atLeast }: Measure): boolean | undefined {
  if (bar === undefined) return undefined;
  return atLeast ? value >= bar : value <= bar;
}

/** Processor time of this process and its threads while something runs, in milliseconds. */
export async function cpuMs(work: () => Promise<unknown>): Promise<number> {
  const before = process.cpuUsage();
  await work();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}
