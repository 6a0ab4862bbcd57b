import { openDatabase } from './database.ts';
import { whileNobodyStores } from './locks.ts';
import { textsIn } from './sceneRecord.ts';

/** What was stored less than a day ago stays, whether a scene names it or not. */
const GRACE_MS = 24 * 3600e3;

/** Frees files, strokes and pictures that no stored scene names, at any step of its history; nothing while any tab is storing files. */
export function sweep(): Promise<void> {
  return whileNobodyStores(async () => {
    const db = await openDatabase();
    const named = new Set<string>();
    // Damaged records count as well: whatever they still name may be wanted.
    for (const record of await db.getAll('scenes')) textsIn(record, named);
    for (const stroke of await db.getAll('underWay')) textsIn(stroke, named);
    for (const store of ['files', 'strokes'] as const)
      for (const key of await db.getAllKeys(store)) {
        if (named.has(key)) continue;
        const stamp = `${store}/${key}`;
        const since = await db.get('stamps', stamp);
        // What was stored before there were stamps begins to age now.
        if (since === undefined) await db.put('stamps', Date.now(), stamp);
        else if (Date.now() - since > GRACE_MS) {
          await db.delete(store, key as never);
          await db.delete('stamps', stamp);
        }
      }
    const scenes = new Set(await db.getAllKeys('scenes'));
    for (const key of await db.getAllKeys('thumbs')) if (!scenes.has(key)) await db.delete('thumbs', key);
    for (const key of await db.getAllKeys('underWay')) if (!scenes.has(key)) await db.delete('underWay', key);
  });
}
