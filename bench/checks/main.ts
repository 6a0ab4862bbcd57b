import { readFileSync, writeFileSync } from 'node:fs';
import { CHECKS, type CheckName } from '#core/checks/checkedBlock.ts';
import { jobsOf } from '#core/checks/jobs.ts';
import type { Visit } from '#core/checks/visits.ts';
import { findingsOf } from '../../tests/checkScene.ts';
import { openStudio, type Planted, planted, type Studio, wellBlended } from '../../tests/plantedFaults.ts';
import { spearman } from './spearman.ts';
import { compareAt, isVisible } from './visible.ts';

const USAGE = `Plants faults into blends of the demo's light and tells which the checks find.
  --only NAME  one check alone
  --time       how long checking takes
  --write      puts the table into docs/CHECKS.md`;

/** Longest side of the pictures. */
const WIDTH = 900;
const DOCS = 'docs/CHECKS.md';
const MARKS = ['<!-- measured: begin -->', '<!-- measured: end -->'] as const;

interface Tally {
  planted: number;
  visible: number;
  found: number;
  /** Families in which a stronger fault was told as weaker than a weaker one. */
  falling: string[];
  missed: string[];
}

function main(): void {
  if (process.argv.includes('--help')) {
    console.log(USAGE);
    return;
  }
  const studio = openStudio(WIDTH);
  if (process.argv.includes('--time')) {
    time(studio);
    return;
  }
  const good = wellBlended(studio).map(({ name, scene }) => ({
    name,
    visits: findingsOf(scene, studio.made.context).visits,
  }));
  const cells: { told: number; differs: number }[] = [];
  const only = process.argv[process.argv.indexOf('--only') + 1];
  const chosen = process.argv.includes('--only') ? CHECKS.filter((check) => check === only) : CHECKS;
  const tallies = chosen.map((check) => ({ check, ...tallyOf(studio, check, cells) }));
  const agreement = spearman(
    cells.map(({ told }) => told),
    cells.map(({ differs }) => differs),
  );
  const text = report(studio, good, tallies, agreement, cells.length);
  console.log(text);
  if (process.argv.includes('--write')) write(text);
}

/** How long checking takes, in one thread. */
function time(studio: Studio): void {
  for (const { name, scene } of wellBlended(studio)) {
    const begun = performance.now();
    findingsOf(scene, studio.made.context);
    console.log(name, Math.round(performance.now() - begun));
  }
}

function tallyOf(studio: Studio, check: CheckName, cells: { told: number; differs: number }[]): Tally {
  const tally: Tally = { planted: 0, visible: 0, found: 0, falling: [], missed: [] };
  let before: { name: string; strength: number } | undefined;
  for (const each of planted(studio, [check])) {
    const { found, visits } = findingsOf(each.scene, studio.made.context);
    const hit = visits
      .filter((visit) => isTold(visit, check) && isThere(visit, each))
      .sort((a, b) => b.strength - a.strength)[0];
    const isSeen = isVisible(studio, each);
    tally.planted++;
    if (isSeen) tally.visible++;
    if (isSeen && hit) tally.found++;
    if (isSeen && !hit) tally.missed.push(`${each.name}, ${Math.round(100 * each.strength)} %`);
    // Within a twentieth they are told alike.
    if (hit && before?.name === each.name && hit.strength < 0.95 * before.strength) tally.falling.push(each.name);
    before = { name: each.name, strength: hit?.strength ?? 0 };
    if (check === 'rims' || check === 'seams') cells.push(compareAt(studio, each, found));
  }
  return tally;
}

/** A dark rim on dark land may be told as the seam that it is there as well: its place is visited either way. */
const isTold = (visit: Visit, check: CheckName): boolean =>
  visit.check === check || (check === 'rims' && visit.check === 'seams');

const isThere = (visit: Visit, { x, y, radius }: Planted): boolean =>
  Math.hypot(visit.x - x, visit.y - y) < radius + visit.radius;

const percent = (part: number, whole: number): string => (whole === 0 ? '–' : `${Math.round((100 * part) / whole)} %`);

function report(
  { size }: Studio,
  good: readonly { name: string; visits: readonly Visit[] }[],
  tallies: readonly (Tally & { check: CheckName })[],
  agreement: number,
  cells: number,
): string {
  const megapixels = (size.width * size.height) / 1e6;
  const alarms = good.reduce((sum, { visits }) => sum + visits.length, 0);
  const [visible, found] = [
    tallies.reduce((sum, each) => sum + each.visible, 0),
    tallies.reduce((sum, each) => sum + each.found, 0),
  ];
  return [
    `Pictures of ${size.width} x ${size.height} pixels, ${jobsOf(size).length} parts of them looked at each.`,
    '',
    '| check | planted | visible | found | told as weaker though stronger | not found |',
    '|---|---|---|---|---|---|',
    ...tallies.map(
      ({ check, planted: count, visible: seen, found: hits, falling, missed }) =>
        `| ${check} | ${count} | ${seen} | ${hits} (${percent(hits, seen)}) | ${falling.length === 0 ? 'none' : [...new Set(falling)].join('; ')} | ${missed.join('; ') || 'none'} |`,
    ),
    `| **all** | | ${visible} | ${found} (${percent(found, visible)}) | | |`,
    '',
    '| well blended | visits |',
    '|---|---|',
    ...good.map(
      ({ name, visits }) =>
        `| ${name} | ${visits.length === 0 ? 'none' : visits.map(({ check, strength }) => `${check} (${strength.toFixed(1)})`).join(', ')} |`,
    ),
    '',
    `False alarms: ${(alarms / good.length / megapixels).toFixed(2)} visits a megapixel.`,
    `Rims and seams against SSIM (Wang, Bovik, Sheikh and Simoncelli 2004, by a registry package) between the blend and the true picture, over ${cells} places: Spearman ${agreement.toFixed(2)}.`,
  ].join('\n');
}

function write(text: string): void {
  const docs = readFileSync(DOCS, 'utf8');
  const [from, to] = [docs.indexOf(MARKS[0]) + MARKS[0].length, docs.indexOf(MARKS[1])];
  if (to < 0) throw new Error(`${DOCS} has no place for the table`);
  writeFileSync(DOCS, `${docs.slice(0, from)}\n${text}\n${docs.slice(to)}`);
}

main();
