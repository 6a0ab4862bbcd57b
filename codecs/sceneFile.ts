import type { StrokeId } from '#core/ids.ts';
import { brushesOf, soundStrokes } from '#core/scene/checkPoints.ts';
import { type Evidence, readEvidence, storeEvidence } from '#core/scene/evidence.ts';
import { distinctFiles, strokesOf } from '#core/scene/places.ts';
import { openScene } from '#core/scene/readScene.ts';
import type { RepairCode, Repairs } from '#core/scene/repairs.ts';
import type { Scene } from '#core/scene/scene.ts';
import { sha256Of } from './hash.ts';
import {
  BlobReader,
  BlobWriter,
  type Entry,
  TextReader,
  TextWriter,
  Uint8ArrayReader,
  Uint8ArrayWriter,
  ZipReader,
  ZipWriter,
} from './zip.ts';

type SceneFileCode = 'not-a-scene-file' | 'damaged' | 'stopped';

/** Why a file is no scene file, or none came to be. */
export class SceneFileError extends Error {
  readonly code: SceneFileCode;
  readonly detail: string;
  constructor(code: SceneFileCode, detail: string) {
    super(`${code}: ${detail}`);
    this.name = 'SceneFileError';
    this.code = code;
    this.detail = detail;
  }
}

/** All that a scene file holds; see docs/scene-file.md. */
export interface SceneContents {
  scene: Scene;
  /** Points of each stroke, four floats each: x, y, pressure, milliseconds. */
  strokes: Map<StrokeId, Float32Array>;
  /** The files that the frames were read from, by SHA-256; some or all may be left out. */
  originals: Map<string, Blob>;
  /** What searches found of its frames. */
  evidence: Evidence;
}

/** A scene file that was read, and what had to be mended. */
export interface ReadContents extends SceneContents {
  repairs: Repairs;
  /** Names of files of frames that are damaged in it, and were left out. */
  broken: string[];
}

/** Who waits for a scene file: told how far it is, 0..1, and able to stop it. */
export interface Watch {
  /** @param isChecking - It is written and is being read back. */
  onProgress?: (share: number, isChecking?: boolean) => void;
  signal?: AbortSignal;
}

/** Largest scene document and stroke that are read: far more than painting makes, little enough to be harmless. */
const MAX_JSON_BYTES = 256e6;
const MAX_STROKE_BYTES = 64e6;

/** Share of the work that packing is; the rest is reading it back. */
const PACKING = 0.6;

/** Packs a scene into a `.lusket` file: a ZIP (ISO/IEC 21320-1) with ZIP64 where it is needed. Files of frames are stored as they are, all
 * else is deflated. It is read back before it is handed out.
 * @throws {SceneFileError} `stopped`, or `damaged` when it is not what was packed, or an original is not the file that the scene was made with. */
export async function writeSceneFile(contents: SceneContents, watch: Watch = {}): Promise<Blob> {
  const { onProgress } = watch;
  const isEmpty = contents.originals.size === 0;
  const packing = { ...watch, onProgress: (share: number) => onProgress?.(share * PACKING, false) };
  const checking = { ...watch, onProgress: (share: number) => onProgress?.(PACKING + share * (1 - PACKING), true) };
  try {
    const packed = await pack(contents, packing);
    await checkPacked(packed, contents, checking);
    if (isEmpty) onProgress?.(1, true);
    return packed;
  } catch (error) {
    if (watch.signal?.aborted) throw new SceneFileError('stopped', 'while it was packed');
    throw error;
  }
}

async function pack(
  { scene, strokes, originals, evidence }: SceneContents,
  { onProgress, signal }: Watch,
): Promise<Blob> {
  const zip = new ZipWriter(new BlobWriter('application/zip'), { level: 0 });
  await zip.add('scene.json', new TextReader(JSON.stringify(scene, null, 1)), { level: 6 });
  if (evidence.size > 0)
    await zip.add('evidence.json', new TextReader(JSON.stringify(storeEvidence(evidence))), { level: 6 });
  for (const id of strokesOf(scene)) {
    const points = strokes.get(id);
    if (points) await zip.add(`strokes/${id}.f32`, new Uint8ArrayReader(littleEndian(points)), { level: 6 });
  }
  const steps = shares(originals.values(), onProgress);
  for (const file of distinctFiles(scene)) {
    const original = originals.get(file.sha256);
    if (!original) continue;
    const onprogress = steps(original.size);
    await zip.add(`originals/${file.sha256}`, new BlobReader(original), { onprogress, signal });
  }
  return zip.close();
}

/** Reads a packed scene back: all entries by their checksums, the files of frames by their hashes. */
async function checkPacked(packed: Blob, { scene, originals }: SceneContents, watch: Watch): Promise<void> {
  const zip = new ZipReader(new BlobReader(packed));
  try {
    const names = new Map(distinctFiles(scene).map(({ sha256, name }) => [`originals/${sha256}`, name]));
    const steps = shares(originals.values(), watch.onProgress);
    for (const entry of await listEntries(zip)) {
      const name = names.get(entry.filename);
      const onprogress = name === undefined ? () => undefined : steps(entry.uncompressedSize);
      const blob = await readBlob(entry, onprogress, watch.signal);
      if (name !== undefined && entry.filename !== `originals/${await hashOf(blob)}`)
        throw new SceneFileError('damaged', `${name} is not the file that the scene was made with`);
    }
  } finally {
    await zip.close();
  }
}

/** SHA-256 of a file, in hexadecimal. */
export const hashOf = async (file: Blob): Promise<string> => sha256Of(await file.arrayBuffer());

/** Tells of several files in a row as one: answers what to call for the next, with how far it has come. */
function shares(files: Iterable<{ size: number }>, onProgress: Watch['onProgress']) {
  const total = [...files].reduce((sum, { size }) => sum + size, 0);
  let before = 0;
  return (size: number) => {
    const from = before;
    before += size;
    return (at: number): undefined => onProgress?.(total > 0 ? (from + at) / total : 1) as undefined;
  };
}

/** Unpacks a scene file. Only entries that the scene itself names are looked at. A damaged file of a frame costs that frame's file, not the scene.
 * @throws {SceneFileError} when it is none or damaged, or reading it was stopped.
 * @throws {SceneError} when its scene is of a newer version, does not fit or cannot be computed. */
export async function readSceneFile(file: Blob, watch: Watch = {}): Promise<ReadContents> {
  const zip = new ZipReader(new BlobReader(file));
  try {
    const entries = new Map((await listEntries(zip)).map((entry) => [entry.filename, entry]));
    const opened = openScene(parseJson(await readText(entries.get('scene.json'))));
    const { scene } = opened;
    const read = new Map<StrokeId, Float32Array>();
    for (const id of brushesOf(scene).keys()) {
      const entry = entries.get(`strokes/${id}.f32`);
      if (!entry) throw new SceneFileError('damaged', `stroke ${id} is missing`);
      read.set(id, fromLittleEndian(await readBytes(entry, MAX_STROKE_BYTES)));
    }
    const repairs = new Map(opened.repairs);
    const mended = (code: RepairCode) => repairs.set(code, (repairs.get(code) ?? 0) + 1);
    const strokes = soundStrokes(scene, (id) => read.get(id), mended);
    const found = entries.get('evidence.json');
    const evidence = found ? readEvidence(parseJson(await readText(found))) : opened.evidence;
    const originals = new Map<string, Blob>();
    const broken: string[] = [];
    const files = distinctFiles(scene);
    const sizes = files.map(({ sha256, bytes }) => ({
      size: entries.has(`originals/${sha256}`) ? bytes : 0,
    }));
    const steps = shares(sizes, watch.onProgress);
    for (const original of files) {
      const entry = entries.get(`originals/${original.sha256}`);
      if (!entry) continue; // files may be left out; whoever opens the scene is asked for them
      const onprogress = steps(original.bytes);
      const read = entry.uncompressedSize === original.bytes && (await soundBlob(entry, onprogress, watch.signal));
      if (read) originals.set(original.sha256, read);
      else broken.push(original.name);
    }
    return { scene, strokes, originals, evidence, repairs, broken };
  } finally {
    await zip.close();
  }
}

async function listEntries(zip: ZipReader<Blob>): Promise<Entry[]> {
  try {
    return await zip.getEntries();
  } catch (error) {
    throw new SceneFileError('not-a-scene-file', (error as Error).message);
  }
}

async function readText(entry: Entry | undefined): Promise<string> {
  if (!entry || entry.directory) throw new SceneFileError('not-a-scene-file', 'it has no scene.json');
  checkSize(entry, MAX_JSON_BYTES);
  return unpack(entry, () => entry.getData(new TextWriter(), { checkSignature: true }));
}

async function readBytes(entry: Entry, limit: number): Promise<Uint8Array> {
  checkSize(entry, limit);
  return unpack(entry, () => fileOf(entry).getData(new Uint8ArrayWriter(), { checkSignature: true }));
}

async function readBlob(entry: Entry, onprogress: (at: number) => undefined, signal?: AbortSignal): Promise<Blob> {
  const options = { checkSignature: true, onprogress, signal };
  return unpack(entry, () => fileOf(entry).getData(new BlobWriter(), options), signal);
}

/** An entry; undefined for one that is damaged. */
async function soundBlob(...of: Parameters<typeof readBlob>): Promise<Blob | undefined> {
  try {
    return await readBlob(...of);
  } catch (error) {
    if (error instanceof SceneFileError && error.code === 'damaged') return undefined;
    throw error;
  }
}

function fileOf(entry: Entry): Extract<Entry, { directory: false }> {
  if (entry.directory) throw new SceneFileError('damaged', `${entry.filename} is a folder`);
  return entry;
}

function checkSize(entry: Entry, limit: number): void {
  if (entry.uncompressedSize > limit)
    throw new SceneFileError('damaged', `${entry.filename} has ${entry.uncompressedSize} bytes`);
}

async function unpack<T>(entry: Entry, read: () => Promise<T>, signal?: AbortSignal): Promise<T> {
  try {
    return await read();
  } catch (error) {
    if (signal?.aborted) throw new SceneFileError('stopped', 'while it was read');
    throw new SceneFileError('damaged', `${entry.filename}: ${(error as Error).message}`);
  }
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new SceneFileError('damaged', `scene.json: ${(error as Error).message}`);
  }
}

function littleEndian(points: Float32Array): Uint8Array {
  const view = new DataView(new ArrayBuffer(points.length * 4));
  for (let i = 0; i < points.length; i++) view.setFloat32(i * 4, points[i], true);
  return new Uint8Array(view.buffer);
}

function fromLittleEndian(bytes: Uint8Array): Float32Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Float32Array.from({ length: Math.floor(bytes.length / 4) }, (_, i) => view.getFloat32(i * 4, true));
}
