import { FIRST_PRESETS, Preset } from '#codecs/deliver/preset.ts';
import { NO_TEXTS, Texts } from '#codecs/deliver/texts.ts';
import { openDatabase } from './database.ts';

/** What is remembered of how pictures are delivered. */
export interface KeptDeliveries {
  presets: Preset[];
  /** Presets that are written together. */
  chosen: string[];
}

/** The presets that are kept in this browser, or those that are there from the start; any that this program cannot take are left out. */
export async function keptPresets(): Promise<KeptDeliveries> {
  const db = await openDatabase();
  const stored = (await db.get('deliveries', 'presets')) as Partial<KeptDeliveries> | undefined;
  const presets = (stored?.presets ?? []).flatMap((each) => Preset.safeParse(each).data ?? []);
  if (presets.length === 0) return { presets: [...FIRST_PRESETS], chosen: [FIRST_PRESETS[0].id] };
  const known = new Set(presets.map(({ id }) => id));
  return { presets, chosen: (stored?.chosen ?? []).filter((id) => known.has(id)) };
}

export async function keepPresets(kept: KeptDeliveries): Promise<void> {
  const db = await openDatabase();
  await db.put('deliveries', kept, 'presets');
}

/** What was said of a scene's picture; who made it, and its rights, are those of the last one. */
export async function keptTexts(sceneId: string): Promise<Texts> {
  const db = await openDatabase();
  const [own, shared] = await Promise.all([
    db.get('deliveries', `texts ${sceneId}`),
    db.get('deliveries', 'texts of all'),
  ]);
  const read = (stored: unknown) => Texts.safeParse(stored).data ?? NO_TEXTS;
  const { creator, rights } = read(shared);
  return { ...read(own), creator, rights };
}

export async function keepTexts(sceneId: string, texts: Texts): Promise<void> {
  const db = await openDatabase();
  const { creator, rights, ...own } = texts;
  await db.put('deliveries', { ...own, creator: '', rights: '' }, `texts ${sceneId}`);
  await db.put('deliveries', { ...NO_TEXTS, creator, rights }, 'texts of all');
}

/** Folders that presets write to, by the presets' ids. */
export async function keptFolders(ids: readonly string[]): Promise<Map<string, FileSystemDirectoryHandle>> {
  const db = await openDatabase();
  const kept = await Promise.all(ids.map(async (id) => [id, await db.get('deliveries', `folder ${id}`)] as const));
  return new Map(kept.flatMap(([id, folder]) => (folder ? [[id, folder as FileSystemDirectoryHandle] as const] : [])));
}

/** @param folder - None for the browser's downloads. */
export async function keepFolder(id: string, folder: FileSystemDirectoryHandle | undefined): Promise<void> {
  const db = await openDatabase();
  if (folder) await db.put('deliveries', folder, `folder ${id}`);
  else await db.delete('deliveries', `folder ${id}`);
}
