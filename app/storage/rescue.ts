import { BlobReader, BlobWriter, TextReader, Uint8ArrayReader, ZipWriter } from '#codecs/zip.ts';
import type { StrokeId } from '#core/ids.ts';
import { openDatabase } from './database.ts';
import { textsIn } from './sceneRecord.ts';
import { getFile, getStroke, rawScene } from './sceneShelf.ts';

/** All that is left of a scene that cannot be opened, as a ZIP: its record as it lies there, and the originals and strokes that it
 * names. */
export async function rescueFile(sceneId: string): Promise<Blob> {
  const db = await openDatabase();
  const record = await rawScene(sceneId);
  const named = textsIn(record);
  const zip = new ZipWriter(new BlobWriter('application/zip'), { level: 0 });
  await zip.add('record.json', new TextReader(JSON.stringify(record, null, 1) ?? 'null'), { level: 6 });
  for (const sha256 of await db.getAllKeys('files')) {
    const file = named.has(sha256) ? await getFile(sha256) : undefined;
    if (file) await zip.add(`originals/${sha256}`, new BlobReader(file));
  }
  for (const id of await db.getAllKeys('strokes')) {
    const points = named.has(id) ? await getStroke(id as StrokeId) : undefined;
    if (points) await zip.add(`strokes/${id}.f32`, new Uint8ArrayReader(new Uint8Array(points.slice().buffer)));
  }
  return zip.close();
}
