/** One line of the table. */
export interface Measure {
  measure: string;
  value: number;
  unit: 'ms' | 'ratio' | 'times';
  /** What it must reach. */
  bar?: number;
  /** The bar is a floor rather than a ceiling. */
  atLeast?: boolean;
  /** What was timed beside it: a bar in milliseconds is judged scaled by how far the machine was slowed down. */
  pace?: { readonly slowdown: number };
}

/** What a measure is judged by: its bar, in milliseconds scaled by the slowdown of the machine. */
export const judgedBar = ({ bar, unit, pace }: Measure): number | undefined =>
  bar === undefined || unit !== 'ms' || !pace ? bar : bar * pace.slowdown;

/** Whether a measure reaches its bar; undefined when it has none. */
export function holds(measure: Measure): boolean | undefined {
  const bar = judgedBar(measure);
  if (bar === undefined) return undefined;
  return measure.atLeast ? measure.value >= bar : measure.value <= bar;
}

/** A measure as a row of a Markdown table. */
export function rowOf(result: Measure): string {
  const { measure, value, unit, bar, atLeast, pace } = result;
  const verdict = { true: 'holds', false: 'misses', undefined: '' }[String(holds(result))];
  const wanted = bar === undefined ? '' : `${atLeast ? '≥' : '≤'} ${bar}`;
  const slowed =
    pace && bar !== undefined && unit === 'ms' ? `${pace.slowdown.toFixed(2)} → ${judgedBar(result)?.toFixed(1)}` : '';
  const digits = value < 10 ? 2 : value < 100 ? 1 : 0;
  return `| ${measure} | ${value.toFixed(digits)}${unit === 'ratio' ? '' : ` ${unit}`} | ${wanted} | ${slowed} | ${verdict} |`;
}

/** Measures as a Markdown table, those with a bar first. */
export function tableOf(results: readonly Measure[]): string {
  const sorted = [...results.filter(({ bar }) => bar !== undefined), ...results.filter(({ bar }) => bar === undefined)];
  return [
    '| measure | value | must reach | loop slowed → judged by | |',
    '|---|---|---|---|---|',
    ...sorted.map(rowOf),
  ].join('\n');
}

/** A value at a share of a list, 0.5 for the median. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))];
}

/** Median of the times that some runs take, in milliseconds. */
export async function medianMs(runs: number, work: (run: number) => Promise<void> | void): Promise<number> {
  const times: number[] = [];
  for (let run = 0; run < runs; run++) times.push(await wallMs(() => work(run)));
  return quantile(times, 0.5);
}

/** Time that something takes, in milliseconds. */
export async function wallMs(work: () => Promise<unknown> | unknown): Promise<number> {
  const since = performance.now();
  await work();
  return performance.now() - since;
}

/** Processor time of this process and its threads while something runs, in milliseconds. */
export async function cpuMs(work: () => Promise<unknown>): Promise<number> {
  const before = process.cpuUsage();
  await work();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}

/** Runs several works in turn, round after round, so that a machine that slows down slows all of them.
 * @returns The median of each. */
export async function interleaved<K extends string>(
  rounds: number,
  works: Record<K, () => Promise<number>>,
): Promise<Record<K, number>> {
  const names = Object.keys(works) as K[];
  const values = Object.fromEntries(names.map((name) => [name, [] as number[]])) as Record<K, number[]>;
  for (let round = 0; round < rounds; round++) for (const name of names) values[name].push(await works[name]());
  return Object.fromEntries(names.map((name) => [name, quantile(values[name], 0.5)])) as Record<K, number>;
}
