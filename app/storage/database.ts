import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { SettingSet } from '#core/develop/settingsFile.ts';
import type { ItemId, PartId, StrokeId } from '#core/ids.ts';
import type { Stroke } from '#core/masks/stroke.ts';
import type { Recipe } from '#core/scene/mask.ts';
import type { MaskPlace } from '#core/scene/places.ts';
import { upToDate } from './sceneRecord.ts';
import { StorageError } from './storageError.ts';

/** A stroke, the mask that it is painted on, and what it is painted through. */
export interface MadeStroke {
  owner: ItemId;
  of?: MaskPlace['of'];
  part?: PartId;
  stroke: Stroke;
  through: Recipe | null;
  /** The stroke that it goes on from, in one run of straight lines. */
  replaces?: StrokeId;
}

/** A stroke that is being painted, as far as it has come. */
export interface StrokeUnderWay extends MadeStroke {
  points: Float32Array;
}

interface LusketSchema extends DBSchema {
  /** Scenes, see `SceneRecord`; whatever comes out of here goes through `openRecord`. */
  scenes: { key: string; value: { id: string } };
  /** Points of strokes, written once. */
  strokes: { key: StrokeId; value: Float32Array };
  /** Files that frames were read from, by SHA-256. */
  files: { key: string; value: Blob };
  /** When files and strokes were stored, in milliseconds of the clock, by store and key. */
  stamps: { key: string; value: number };
  /** The stroke under way in each scene, so that a tab that dies loses next to nothing of it. */
  underWay: { key: string; value: unknown };
  /** A small picture of each scene. */
  thumbs: { key: string; value: Blob };
  /** Settings of frames that were saved under a name. */
  settingSets: { key: string; value: SettingSet };
  /** How pictures are delivered: presets, and what is said of pictures. */
  deliveries: { key: string; value: unknown };
}

export type Database = IDBPDatabase<LusketSchema>;

const NAME = 'lusket';
const VERSION = 5;

/** What may happen to the database while a page is open: another tab with an older program keeps it from being opened; a newer program
 * wants it; the browser has cleared it. */
export type DatabaseTrouble = 'blocked' | 'outdated' | 'cleared';

let opened: Promise<Database> | undefined;
let isOutdated = false;
let tell: (trouble: DatabaseTrouble | undefined) => void = () => undefined;

/** Names who is told of trouble, and when a blocked database has opened after all. */
export function onDatabaseTrouble(listener: (trouble: DatabaseTrouble | undefined) => void): void {
  tell = listener;
}

/** The application's database in this browser.
 * @throws {StorageError} `newer` when a later program has changed it, `refused` when the browser allows none. */
export function openDatabase(): Promise<Database> {
  if (isOutdated) return Promise.reject(new StorageError('newer'));
  opened ??= open().catch((error) => {
    opened = undefined;
    const { name, message } = error as Error;
    throw new StorageError(name === 'VersionError' ? 'newer' : 'refused', message);
  });
  return opened;
}

async function open(): Promise<Database> {
  let wasBlocked = false;
  const db = await openDB<LusketSchema>(NAME, VERSION, {
    async upgrade(db, from, _to, transaction) {
      if (from < 1) {
        db.createObjectStore('scenes', { keyPath: 'id' });
        db.createObjectStore('strokes');
        db.createObjectStore('files');
        db.createObjectStore('thumbs');
      }
      if (from < 2) db.createObjectStore('underWay');
      if (from < 3) db.createObjectStore('stamps');
      if (from < 4) db.createObjectStore('settingSets');
      if (from < 5) db.createObjectStore('deliveries');
      if (from < 1) return;
      // Scenes are from now on what they are, not what edits make of them.
      const scenes = transaction.objectStore('scenes');
      for (const raw of await scenes.getAll()) {
        const record = upToDate(raw) as { id: string };
        if (record !== raw) await scenes.put(record);
      }
    },
    blocked() {
      wasBlocked = true;
      tell('blocked');
    },
    blocking(_now, wanted) {
      db.close();
      opened = undefined;
      // Deleted, or wanted by a newer program: it gets its way, and this page says so.
      isOutdated = wanted !== null;
      tell(isOutdated ? 'outdated' : 'cleared');
    },
    terminated() {
      opened = undefined;
      tell('cleared');
    },
  });
  if (wasBlocked) tell(undefined);
  return db;
}
