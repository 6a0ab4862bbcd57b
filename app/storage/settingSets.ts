import { faultOf } from '#core/develop/list.ts';
import type { SettingSet } from '#core/develop/settingsFile.ts';
import { StepSet } from '#core/scene/stepSet.ts';
import { openDatabase } from './database.ts';

/** Sets of steps are kept beside those of settings, under names that those cannot have. */
const STEPS = '\u0000steps ';

/** Sets of settings that are kept in this browser, by name; those that this program cannot take are left out. */
export async function keptSets(): Promise<SettingSet[]> {
  const db = await openDatabase();
  const all = await db.getAll('settingSets');
  return all
    .filter((set) => !('steps' in set) && faultOf(set.develop) === undefined)
    .sort((a, b) => a.name.localeCompare(b.name));
}

/** Keeps a set, in place of one of the same name. */
export async function keepSet(set: SettingSet): Promise<void> {
  const db = await openDatabase();
  await db.put('settingSets', set, set.name);
}

export async function dropSet(name: string): Promise<void> {
  const db = await openDatabase();
  await db.delete('settingSets', name);
}

/** The same of sets of steps. */
export async function keptStepSets(): Promise<StepSet[]> {
  const db = await openDatabase();
  const all: unknown[] = await db.getAll('settingSets');
  return all.flatMap((each) => StepSet.safeParse(each).data ?? []).sort((a, b) => a.name.localeCompare(b.name));
}

export async function keepStepSet(set: StepSet): Promise<void> {
  const db = await openDatabase();
  await db.put('settingSets', set as never, STEPS + set.name);
}

export async function dropStepSet(name: string): Promise<void> {
  const db = await openDatabase();
  await db.delete('settingSets', STEPS + name);
}
