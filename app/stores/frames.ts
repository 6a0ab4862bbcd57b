import { defineStore } from 'pinia';
import { ref, shallowRef, toRaw, watch } from 'vue';
import { DecodeError } from '#codecs/decodeError.ts';
import { sha256Of } from '#codecs/hash.ts';
import type { PicturePart } from '#core/parts/picture.ts';
import type { Size } from '#core/raster/size.ts';
import { FIRST_READING, PLAIN_READING, type Reading, type ReadingWish, readingText } from '#core/reading.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { PlacedPicture } from '#core/scene/item.ts';
import { cornersIn } from '#core/scene/placedPicture.ts';
import { filesOf, layerPicturesOf, missingFiles, picturesOf } from '#core/scene/places.ts';
import { sceneSize } from '#core/scene/scene.ts';
import type { FileToRead } from '#engine/codecProtocol.ts';
import { Lane } from '#engine/lanes.ts';
import { whileStoring } from '../storage/locks.ts';
import { isLittle, roomLeft } from '../storage/room.ts';
import { getFile, putFile } from '../storage/sceneShelf.ts';
import { sayBytes, sayError } from '../wording.ts';
import { useEngine } from './engine.ts';
import { useNotices } from './notices.ts';
import { useSession } from './session.ts';

/** Tells the pixels of frames apart: one file may be read in several ways. */
export const pixelsName = ({ file, reading }: Pick<Frame, 'file' | 'reading'>): string =>
  `${file.sha256}:${readingText(reading)}`;

/** Pixels of a file that the scene names. */
type PixelsToRead = Pick<Frame, 'file' | 'reading' | 'width' | 'height'>;

/** Why a stored file cannot be what it was. */
const DAMAGED: ReadonlySet<string> = new Set([
  'empty',
  'unknown-format',
  'damaged',
  'unsupported',
  'size-differs',
  'stuck',
]);

/** A file that was refused for nothing but its size. */
const wrongSizeFileOf = (item: unknown, error: unknown): File | undefined =>
  item instanceof File &&
  error instanceof DecodeError &&
  error.code === 'size-differs' &&
  !/proportions/.test(error.detail)
    ? item
    : undefined;

export interface Refusal {
  name: string;
  reason: string;
  /** The file, when nothing but its size is wrong. */
  wrongSizeFile?: File;
}

/** Reading files into frames, with progress. */
export const useFrames = defineStore('frames', () => {
  const engines = useEngine();
  const session = useSession();
  const notices = useNotices();

  /** Files under way: how many, how many done, and the shares of those being read. */
  const reading = ref<{ total: number; done: number; shares: Record<string, number>; waiting: string[] }>();
  /** Files that did not become frames, until the user has seen them. */
  const refused = ref<Refusal[]>([]);
  /** Files of the scene, of frames and of pictures in masks, that are not stored here or cannot be read any more. */
  const lost = shallowRef<readonly Frame['file'][]>([]);
  /** Counts up whenever pixels have arrived. */
  const arrivals = ref(0);
  /** Pixels that are in memory, and that are on their way, by name. */
  const loaded = new Set<string>();
  const coming = new Set<string>();

  /** Pictures that cameras put into their files for a quick look, by name of the file, while the files are read. */
  const previews = shallowRef<Record<string, string>>({});

  /** Shows what cameras put into files, before they are read. A file without such a picture is waited for. */
  async function preview(files: readonly File[]): Promise<void> {
    const { default: exifr } = await import('exifr');
    for (const file of files) {
      const picture = await exifr.thumbnail(file).catch(() => undefined);
      if (!reading.value) break;
      if (picture)
        previews.value = { ...previews.value, [file.name]: URL.createObjectURL(new Blob([new Uint8Array(picture)])) };
    }
  }

  function forgetPreviews(): void {
    for (const url of Object.values(previews.value)) URL.revokeObjectURL(url);
    previews.value = {};
  }

  /** Reads files and takes those that fit into the scene. A file that fails leaves the others alone. */
  async function take(files: readonly File[], scaleTo: Reading['scaleTo'] = null): Promise<void> {
    if (files.length === 0 || !(await hasRoom(files))) return;
    await whileStoring(() => takeStored(files, scaleTo));
  }

  /** The same while nothing is swept away: the scene names the files only when they are in. */
  async function takeStored(files: readonly File[], scaleTo: Reading['scaleTo']): Promise<void> {
    const taken = new Map<File, Frame>();
    const drag = crypto.randomUUID();
    const takeOne = async (file: File) => {
      const frame = await read(
        { file, name: file.name, reading: { ...FIRST_READING, scaleTo } },
        sceneSize(session.scene),
      );
      if (session.scene.frames.some(({ id }) => id === frame.id)) {
        refuse(file.name, 'This frame is in the scene already.');
        return;
      }
      const { width, height } = sceneSize(session.scene) ?? frame;
      if (frame.width !== width || frame.height !== height) {
        // Two first files were read at once, and the other was quicker.
        void drop([frame]);
        throw new DecodeError('size-differs', `${frame.width} x ${frame.height}, not ${width} x ${height}`);
      }
      await putFile(frame.file.sha256, file);
      taken.set(file, frame);
      // In the order that they were given in, whichever was read first.
      const frames = files.flatMap((each) => taken.get(each) ?? []);
      session.dispatch(addFrames({ frames }), drag);
    };
    void preview(files);
    await eachOf(files, ({ name }) => name, takeOne);
    forgetPreviews();
    session.closeDrag();
    await session.save();
  }

  /** Whether the browser has room to keep files; says so when it has not, and warns while there is still some. */
  async function hasRoom(files: readonly File[]): Promise<boolean> {
    const room = await roomLeft();
    if (!room) return true;
    const needed = files.reduce((sum, { size }) => sum + size, 0);
    const figures = `${sayBytes(needed)} are needed, and ${sayBytes(room.free)} are free`;
    if (needed > room.free) {
      notices.tell(
        `The browser has no room to keep these files: ${figures}. Save scenes as files in their Export stage and delete them here, or free space on the disk.`,
        { tone: 'error' },
      );
      return false;
    }
    if (isLittle({ used: room.used + needed, free: room.free - needed }))
      notices.tell(
        `Room in this browser becomes scarce: ${figures}. Save finished scenes as files in their Export stage and delete them here.`,
      );
    return true;
  }

  /** Brings the pixels of frames that the scene has and the memory has not: after opening a scene, and when a file is to be
   * read another way. */
  async function ensure(): Promise<void> {
    forgetLost();
    const away = new Set(lost.value.map(({ sha256 }) => sha256));
    const missing = session.scene.frames.filter(
      (frame) => !away.has(frame.file.sha256) && !loaded.has(pixelsName(frame)) && !coming.has(pixelsName(frame)),
    );
    if (missing.length === 0) return;
    for (const frame of missing) coming.add(pixelsName(frame));
    await eachOf(missing, ({ file }) => file.name, readStored);
    // What failed is told of once, and not tried again with every change of the scene.
    for (const name of missing.map(pixelsName)) if (loaded.has(name)) coming.delete(name);
  }
  watch(() => session.scene.frames, ensure);

  /** Reads a file that the scene names from where it is stored. One that is not there, or is not what it was, is asked for. */
  async function readStored({ file, reading, width, height }: PixelsToRead): Promise<void> {
    const blob = await getFile(file.sha256);
    const isWhole = blob && (await readWhole({ file: blob, name: file.name, reading }, { width, height }, file.sha256));
    if (isWhole) return;
    coming.delete(pixelsName({ file, reading }));
    lost.value = [...lost.value.filter(({ sha256 }) => sha256 !== file.sha256), toRaw(file)];
  }

  /** Whether a stored file could be read, and is the one that it should be. */
  async function readWhole(file: FileToRead, size: Size, sha256: string): Promise<boolean> {
    try {
      const frame = await read(file, size);
      if (frame.file.sha256 === sha256) return true;
      await drop([frame]);
    } catch (error) {
      if (!(error instanceof DecodeError && DAMAGED.has(error.code))) throw error;
    }
    return false;
  }

  /** Files that the scene does not name any more are not missed. */
  function forgetLost(): void {
    const wanted = new Set(filesOf(session.scene).map(({ file }) => file.sha256));
    if (lost.value.some(({ sha256 }) => !wanted.has(sha256)))
      lost.value = lost.value.filter(({ sha256 }) => wanted.has(sha256));
  }

  /** Asks for files of the scene that are not stored here, though their pixels may still be in memory. */
  async function askForUnstored(): Promise<void> {
    const stored = new Set<string>();
    for (const { file } of filesOf(session.scene)) if (await getFile(file.sha256)) stored.add(file.sha256);
    lost.value = missingFiles(session.scene, (sha256) => stored.has(sha256));
  }

  /** Takes files that were lost; each is known by what is in it, whatever its name.
   * @returns How many of them were wanted. */
  async function findLost(files: readonly File[]): Promise<number> {
    const wanted = new Set(lost.value.map(({ sha256 }) => sha256));
    let found = 0;
    for (const file of files) {
      const sha256 = await sha256Of(new Uint8Array(await file.arrayBuffer()));
      if (!wanted.delete(sha256)) continue;
      await putFile(sha256, file);
      found++;
    }
    lost.value = lost.value.filter(({ sha256 }) => wanted.has(sha256));
    await ensure();
    await ensurePictures();
    return found;
  }

  /** Lists that are being worked through. */
  const underWay = new Set<Promise<void>>();

  /** Works through a list, as many at once as there are threads that read; a failure is told and leaves the others alone. */
  async function eachOf<T>(list: readonly T[], nameOf: (item: T) => string, work: (item: T) => Promise<void>) {
    await untilDone(workThrough(list, nameOf, work));
  }

  async function untilDone(work: Promise<void>): Promise<void> {
    underWay.add(work);
    await work.finally(() => underWay.delete(work));
  }

  /** Resolves when all that the scene names is read, or is known to be lost. */
  async function settled(): Promise<void> {
    await ensure();
    await ensurePictures();
    while (underWay.size > 0) await Promise.allSettled([...underWay]);
  }

  async function workThrough<T>(list: readonly T[], nameOf: (item: T) => string, work: (item: T) => Promise<void>) {
    const { codec } = await engines.start();
    // Two lists may be under way: what is told is the sum of both.
    reading.value ??= { total: 0, done: 0, shares: {}, waiting: [] };
    const now = reading.value;
    now.total += list.length;
    now.waiting.push(...list.map(nameOf));
    const rest = [...list];
    let stopped = false;
    const lane = async () => {
      for (let item = rest.shift(); item && !stopped; item = rest.shift()) {
        const name = nameOf(item);
        try {
          await work(item);
        } catch (error) {
          stopped ||= error instanceof DecodeError && error.code === 'cancelled';
          if (!stopped) refuse(name, sayError(error), wrongSizeFileOf(item, error));
        }
        delete now.shares[name];
        now.waiting = now.waiting.filter((each) => each !== name);
        now.done++;
        arrivals.value++;
      }
    };
    await Promise.all(Array.from({ length: codec.lanes }, lane));
    if (now.done >= now.total) reading.value = undefined;
  }

  async function read(file: FileToRead, expect: Size | undefined): Promise<Frame> {
    const { codec } = await engines.start();
    const size = expect && { width: expect.width, height: expect.height };
    const frame = await codec.load(file, size, (share) => {
      if (reading.value) reading.value.shares[file.name] = share;
    });
    loaded.add(pixelsName(frame));
    return frame;
  }

  /** Reads a grey picture for a mask, and keeps its file. One of another size is scaled when its proportions fit.
   * @throws {DecodeError} */
  async function takeMaskPicture(file: File, size: Size): Promise<Pick<PicturePart, 'file' | 'scaleTo'>> {
    const wish = (scaleTo: Reading['scaleTo']) => ({ file, name: file.name, reading: { ...PLAIN_READING, scaleTo } });
    let frame: Frame;
    try {
      frame = await read(wish(null), size);
    } catch (error) {
      if (!wrongSizeFileOf(file, error)) throw error;
      frame = await read(wish({ width: size.width, height: size.height }), size);
    }
    await putFile(frame.file.sha256, file);
    arrivals.value++;
    return { file: frame.file, scaleTo: frame.reading.scaleTo };
  }

  /** Reads a picture of any size for a layer, and keeps its file; it covers the scene until it is placed.
   * @param as - How it is read, if another scene has read it.
   * @throws {DecodeError} */
  async function takeLayerPicture(file: File, as: ReadingWish = FIRST_READING): Promise<PlacedPicture | undefined> {
    const size = sceneSize(session.scene);
    if (!size || !(await hasRoom([file]))) return undefined;
    return whileStoring(async () => {
      reading.value ??= { total: 0, done: 0, shares: {}, waiting: [] };
      const now = reading.value;
      now.total++;
      try {
        const frame = await read({ file, name: file.name, reading: as }, undefined);
        await putFile(frame.file.sha256, file);
        const { width, height } = frame;
        return { file: frame.file, reading: frame.reading, width, height, corners: cornersIn(size, frame, 'covering') };
      } finally {
        delete now.shares[file.name];
        now.done++;
        arrivals.value++;
        if (now.done >= now.total) reading.value = undefined;
      }
    });
  }

  /** Pictures of masks and layers that are not in memory, after a scene was opened or a step was undone. */
  async function ensurePictures(): Promise<void> {
    const size = sceneSize(session.scene);
    if (size) await untilDone(readPictures(size));
  }
  watch(() => [session.scene.stack, session.scene.finish, session.scene.stencils], ensurePictures);

  async function readPictures(size: Size): Promise<void> {
    forgetLost();
    const inMasks = picturesOf(session.scene).map(({ file, scaleTo }) => ({
      file,
      reading: { ...PLAIN_READING, scaleTo },
      ...{ width: size.width, height: size.height },
    }));
    for (const each of [...inMasks, ...layerPicturesOf(session.scene)]) {
      const name = pixelsName(each);
      const { sha256 } = each.file;
      if (loaded.has(name) || coming.has(name) || lost.value.some((file) => file.sha256 === sha256)) continue;
      coming.add(name);
      await readStored(each).catch((error) => refuse(each.file.name, sayError(error)));
      coming.delete(name);
      arrivals.value++;
    }
  }

  /** Frees the pixels of frames that are no longer open. */
  async function drop(frames: readonly Pick<Frame, 'file' | 'reading' | 'width' | 'height'>[]): Promise<void> {
    const { codec } = await engines.start();
    for (const name of frames.map(pixelsName)) for (const known of [loaded, coming]) known.delete(name);
    await Promise.all(frames.map((frame) => codec.drop(frame)));
  }

  /** Stops reading. Frames that are in already stay. */
  function stop(): void {
    engines.running?.engine.advance(Lane.Load);
    engines.running?.codec.stopLoading();
  }

  function refuse(name: string, reason: string, wrongSizeFile?: File): void {
    refused.value = [...refused.value, { name, reason, wrongSizeFile }];
  }

  /** Reads files again that were refused for their size, scaled to the scene's. */
  async function fitWrongSizes(): Promise<void> {
    const wrongSizeFiles = refused.value.flatMap(({ wrongSizeFile }) => wrongSizeFile ?? []);
    refused.value = refused.value.filter(({ wrongSizeFile }) => !wrongSizeFile);
    const size = sceneSize(session.scene);
    if (size) await take(wrongSizeFiles, size);
  }

  return {
    reading,
    refused,
    lost,
    previews,
    arrivals,
    take,
    takeMaskPicture,
    takeLayerPicture,
    ensure,
    settled,
    /** Whether the picture lacks frames that come, or that are asked for already. */
    isIncomplete: () => underWay.size > 0 || lost.value.length > 0,
    findLost,
    askForUnstored,
    fitWrongSizes,
    isLoaded: (frame: Frame) => loaded.has(pixelsName(frame)),
    drop,
    stop,
    forget: () => {
      refused.value = [];
    },
  };
});
