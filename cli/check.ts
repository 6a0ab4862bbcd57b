import { parseArgs } from 'node:util';
import { CHECKS, type CheckName, type Found } from '#core/checks/checkedBlock.ts';
import { jobsOf } from '#core/checks/jobs.ts';
import { type NotMade, notMadeOf } from '#core/checks/needs.ts';
import { type Visit, visitsOf } from '#core/checks/visits.ts';
import { isDelivered } from '#core/finish/turning.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { CommandError, EXIT } from './exit.ts';
import { completeOriginals, loadOriginals, openScene, say } from './opening.ts';

/** What the checks say of a scene. */
interface Told {
  scene: string;
  width: number;
  height: number;
  /** Visits of each check. */
  counts: Record<CheckName, number>;
  visits: Visit[];
  /** Checks that could not be made, and why. */
  notMade: NotMade[];
}

/** Measures the faults of a scene's blend, or of its finished picture, and tells where they are.
 * @throws {Error} with a message for the user. */
export async function check(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: 'boolean', default: false },
      finished: { type: 'boolean', default: false },
      originals: { type: 'string' },
    },
  });
  const [scenePath] = positionals;
  if (!scenePath) throw new CommandError('check needs a scene file', EXIT.usage);
  const contents = await openScene(scenePath);
  await completeOriginals(contents, values.originals);
  const size = sceneSize(contents.scene);
  if (!size) throw new Error('the scene has no frames');
  const { engine, codec, close } = await startEngine(new URL('./', import.meta.url));
  try {
    await loadOriginals(codec, contents);
    for (const [id, points] of contents.strokes) engine.addStrokePoints(id, points);
    engine.setScene(contents.scene);
    const jobs = jobsOf(size);
    const found: Found[] = [];
    const notMade = notMadeOf(contents.scene.frames.map(({ shot }) => shot.ev));
    let done = 0;
    await engine.check(
      jobs.map((_, job) => ({ job })),
      { finished: values.finished },
      (checked) => {
        for (const { outcome } of checked) {
          found.push(...(outcome?.found ?? []));
          for (const { check: name, detail } of outcome?.failed ?? []) notMade.push({ check: name, reason: detail });
        }
        done += checked.length;
        say(`checking ${Math.round((100 * done) / jobs.length)} %`);
      },
    );
    const isSeen = values.finished ? isDelivered(contents.scene.geometry, size) : () => true;
    const visits = visitsOf(found, size).filter(isSeen);
    const counts = Object.fromEntries(
      CHECKS.map((name) => [name, visits.filter((visit) => visit.check === name).length]),
    );
    const told = { scene: contents.scene.name, ...size, counts: counts as Told['counts'], visits, notMade };
    console.log(values.json ? JSON.stringify(told, null, 2) : lines(told).join('\n'));
  } finally {
    close();
  }
}

function lines({ scene, width, height, visits, notMade }: Told): string[] {
  const head = `${scene}: ${width} x ${height}, ${visits.length} ${visits.length === 1 ? 'place' : 'places'} to visit`;
  const places = visits.map(
    ({ check: name, kind, x, y, strength }) =>
      `  ${name}${kind ? `, ${kind}` : ''}: at ${Math.round(x)}, ${Math.round(y)}, ${strength.toFixed(1)} times what is just seen`,
  );
  return [head, ...places, ...notMade.map(({ check: name, reason }) => `  ${name}: not checked, ${reason}`)];
}
