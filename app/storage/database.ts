import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { StoredHistory } from '#core/scene/history.ts';
import type { LayerId, PartId, StrokeId } from '#core/scene/ids.ts';
import type { Recipe } from '#core/scene/mask.ts';
import type { MaskPlace } from '#core/scene/places.ts';
import type { Stroke } from '#core/scene/stroke.ts';
import type { BenchState } from '../stores/benchState.ts';

/** A scene as it is stored: its history, and how its bench was left. */
export interface SceneRecord {
  id: string;
  name: string;
  createdAt: number;
  updatedAt: number;
  frames: number;
  history: StoredHistory;
  bench: BenchState | null;
}

/** A stroke, the mask that it is painted on, and what it is painted through. */
export interface MadeStroke {
  layerId: LayerId;
  of?: MaskPlace['of'];
  part?: PartId;
  stroke: Stroke;
  through: Recipe | null;
}

/** A stroke that is being painted, as far as it has come. */
export interface StrokeUnderWay extends MadeStroke {
  points: Float32Array;
}

interface LusketSchema extends DBSchema {
  scenes: { key: string; value: SceneRecord };
  /** Points of strokes, written once. */
  strokes: { key: StrokeId; value: Float32Array };
  /** Files that frames were read from, by SHA-256. */
  files: { key: string; value: Blob };
  /** The stroke under way in each scene, so that a tab that dies loses next to nothing of it. */
  underWay: { key: string; value: StrokeUnderWay };
  /** A small picture of each scene. */
  thumbs: { key: string; value: Blob };
}

export type Database = IDBPDatabase<LusketSchema>;

let opened: Promise<Database> | undefined;

/** The application's database in this browser. */
export function openDatabase(): Promise<Database> {
  opened ??= openDB<LusketSchema>('lusket', 2, {
    upgrade(db, from) {
      if (from < 2) db.createObjectStore('underWay');
      if (from > 0) return;
      db.createObjectStore('scenes', { keyPath: 'id' });
      db.createObjectStore('strokes');
      db.createObjectStore('files');
      db.createObjectStore('thumbs');
    },
  });
  return opened;
}
