import { faultOf } from '#core/develop/list.ts';
import type { SettingSet } from '#core/develop/settingsFile.ts';
import { openDatabase } from './database.ts';

/** Sets of settings that are kept in this browser, by name; those that this program cannot take are left out. */
export async function keptSets(): Promise<SettingSet[]> {
  const db = await openDatabase();
  const all = await db.getAll('settingSets');
  return all.filter(({ develop }) => faultOf(develop) === undefined).sort((a, b) => a.name.localeCompare(b.name));
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
