import { readFileSync, writeFileSync } from 'node:fs';

const REPORT = 'docs/PERFORMANCE.md';

/** Puts a freshly measured table into the report, between the marks that bear its name.
 * @throws {RangeError} when the report has no such marks. */
export function writeSection(name: string, table: string): void {
  const [open, close] = [`<!-- ${name} -->`, `<!-- /${name} -->`];
  const report = readFileSync(REPORT, 'utf8');
  const [from, to] = [report.indexOf(open), report.indexOf(close)];
  if (from < 0 || to < from) throw new RangeError(`${REPORT} has no section ${name}`);
  writeFileSync(REPORT, `${report.slice(0, from + open.length)}\n${table}\n${report.slice(to)}`);
}
