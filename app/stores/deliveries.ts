import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { DecodeError } from '#codecs/decodeError.ts';
import { endingOf, FIRST_PRESETS, type Preset } from '#codecs/deliver/preset.ts';
import { NO_TEXTS, type Texts } from '#codecs/deliver/texts.ts';
import type { ItemId } from '#core/ids.ts';
import { findItem } from '#core/scene/tree.ts';
import { type DeliveredFile, deliver } from '#engine/deliver/deliver.ts';
import { memoryPlace, type Place } from '#engine/deliver/sink.ts';
import { frameLabel, itemLabel } from '../frameLabel.ts';
import { plain } from '../plain.ts';
import { keepFolder, keepPresets, keepTexts, keptFolders, keptPresets, keptTexts } from '../storage/deliveries.ts';
import { download } from '../storage/download.ts';
import { openFolder } from '../storage/folderPlace.ts';
import { sayError } from '../wording.ts';
import { useEngine } from './engine.ts';
import { useFrames } from './frames.ts';
import { useNotices } from './notices.ts';
import { useSession } from './session.ts';

/** A file that was not written, and why. */
export interface FailedFile {
  name: string;
  reason: string;
}

const DOWNLOADS = 'the browser’s downloads';

/** What a run has written. */
export interface DeliveryRun {
  files: DeliveredFile[];
  failures: FailedFile[];
  /** Where to. */
  places: string[];
  isStopped: boolean;
}

/** Presets, what is said of the picture, and files under way: they go on when the stage is left. */
export const useDeliveries = defineStore('deliveries', () => {
  const session = useSession();
  const engines = useEngine();
  const frames = useFrames();
  const notices = useNotices();

  const presets = ref<Preset[]>([...FIRST_PRESETS]);
  /** Presets that are written together. */
  const chosen = ref<string[]>([FIRST_PRESETS[0].id]);
  /** The preset at hand; null for the scene file. */
  const atHand = ref<string | null>(FIRST_PRESETS[0].id);
  const preset = computed(() => presets.value.find(({ id }) => id === atHand.value));
  const texts = ref<Texts>(NO_TEXTS);
  /** Folders that presets write to, by their ids; the others write to the browser's downloads. */
  const folders = shallowRef<ReadonlyMap<string, FileSystemDirectoryHandle>>(new Map());
  /** Masks that are written; all where none is named. */
  const masksOf = ref<ItemId[]>();
  const working = ref<{ share: number; startedAt: number }>();
  const run = shallowRef<DeliveryRun>();
  let stopping = new AbortController();
  let isRead = false;

  /** Reads what this browser remembers, once; what is said of the picture belongs to its scene. */
  async function read(): Promise<void> {
    try {
      if (!isRead) {
        const kept = await keptPresets();
        presets.value = kept.presets;
        chosen.value = kept.chosen;
        folders.value = await keptFolders(kept.presets.map(({ id }) => id));
        if (!kept.presets.some(({ id }) => id === atHand.value)) atHand.value = kept.presets[0]?.id ?? null;
        isRead = true;
      }
      if (session.sceneId) texts.value = await keptTexts(session.sceneId);
    } catch {
      // what cannot be remembered starts anew; storage says by itself that it does not work
    }
  }
  watch(
    () => session.sceneId,
    () => {
      run.value = undefined;
      masksOf.value = undefined;
      if (isRead) void read();
    },
  );

  function keep(): void {
    keepPresets(plain({ presets: presets.value, chosen: chosen.value })).catch(() => undefined);
  }

  function change(id: string, to: Partial<Preset>): void {
    presets.value = presets.value.map((each) => (each.id === id ? { ...each, ...to } : each));
    keep();
  }

  /** @param index - Its place; at the end if none is told. */
  function add(made: Preset, index = presets.value.length): void {
    presets.value = presets.value.toSpliced(index, 0, made);
    atHand.value = made.id;
    keep();
  }

  function remove(id: string): void {
    const index = presets.value.findIndex((each) => each.id === id);
    const [gone] = presets.value.slice(index, index + 1);
    if (!gone) return;
    const wasChosen = chosen.value.includes(id);
    presets.value = presets.value.toSpliced(index, 1);
    chosen.value = chosen.value.filter((each) => each !== id);
    atHand.value = presets.value[Math.min(index, presets.value.length - 1)]?.id ?? null;
    keep();
    const restore = () => {
      add(gone, index);
      if (wasChosen) choose(id, true);
    };
    notices.tell(`The preset “${gone.name}” was removed.`, { action: { label: 'Put back', run: restore } });
  }

  function move(id: string, by: number): void {
    const from = presets.value.findIndex((each) => each.id === id);
    const to = Math.min(presets.value.length - 1, Math.max(0, from + by));
    if (from < 0 || to === from) return;
    presets.value = presets.value.toSpliced(from, 1).toSpliced(to, 0, presets.value[from]);
    keep();
  }

  function choose(id: string, isChosen: boolean): void {
    chosen.value = isChosen ? [...new Set([...chosen.value, id])] : chosen.value.filter((each) => each !== id);
    keep();
  }

  /** @param folder - None for the browser's downloads. */
  function sendTo(id: string, folder: FileSystemDirectoryHandle | undefined): void {
    const now = new Map(folders.value);
    if (folder) now.set(id, folder);
    else now.delete(id);
    folders.value = now;
    keepFolder(id, folder).catch(() => undefined);
  }

  /** Where files of presets go, each place once. */
  const placesOf = (of: readonly Preset[]): string[] => [
    ...new Set(of.map(({ id }) => (folders.value.has(id) ? `the folder ${folders.value.get(id)?.name}` : DOWNLOADS))),
  ];

  function say(change: Partial<Texts>): void {
    texts.value = { ...texts.value, ...change };
    if (session.sceneId) keepTexts(session.sceneId, plain(texts.value)).catch(() => undefined);
  }

  const together = computed(() => presets.value.filter(({ id }) => chosen.value.includes(id)));

  /** Writes the chosen presets. */
  async function write(): Promise<void> {
    if (working.value) return;
    stopping = new AbortController();
    working.value = { share: 0, startedAt: performance.now() };
    const made: DeliveryRun = { files: [], failures: [], places: placesOf(together.value), isStopped: false };
    const { signal } = stopping;
    const onFile = (file: DeliveredFile) => made.files.push(file);
    const stopped = new Promise<void>((go) => signal.addEventListener('abort', () => go(), { once: true }));
    try {
      const { scene } = session;
      const downloads = memoryPlace(download);
      const places = new Map<string, Place>();
      for (const { id } of together.value) {
        const folder = folders.value.get(id);
        if (folder) places.set(id, await openFolder(folder));
      }
      // A scene that was just opened is still being read.
      await Promise.race([frames.settled(), stopped]);
      const placeOf = ({ id }: Preset) => places.get(id) ?? downloads;
      const delivery = {
        scene,
        presets: plain(together.value),
        texts: plain(texts.value),
        masksOf: masksOf.value && plain(masksOf.value),
        nameOfItem: (id: ItemId) => nameOfItem(id),
        nameOfFrame: (id: string) => frameLabel(scene, id),
      };
      const onProgress = (share: number) => {
        if (working.value) working.value.share = share;
      };
      const report = await deliver(await engines.start(), delivery, placeOf, { onProgress, signal, onFile });
      made.failures = report.failures.map(({ name, error }) => ({ name, reason: sayDeliveryError(error) }));
    } catch (error) {
      if (signal.aborted || (error instanceof DecodeError && error.code === 'cancelled')) made.isStopped = true;
      else notices.tellError(error);
    } finally {
      working.value = undefined;
      run.value = made;
    }
  }

  function nameOfItem(id: ItemId): string {
    const item = findItem(session.scene, id);
    return item ? itemLabel(session.scene, item) : id;
  }

  const stop = () => stopping.abort();

  return {
    presets,
    chosen,
    together,
    atHand,
    preset,
    texts,
    folders,
    masksOf,
    working,
    run,
    read,
    change,
    add,
    remove,
    move,
    choose,
    sendTo,
    placesOf,
    say,
    write,
    stop,
    nameOfItem,
    endingOf,
  };
});

/** Why a file was not written, for the user. */
function sayDeliveryError(error: unknown): string {
  const { name, message } = error as Error;
  if (name === 'QuotaExceededError')
    return 'There is no room left where it was to go. Make room, or choose another folder; nothing half-written is left.';
  if (name === 'NotAllowedError' || name === 'SecurityError')
    return 'The browser may no longer write to that folder. Choose it again, or write to the downloads.';
  if (name === 'NotFoundError') return 'The folder is gone. Choose another one.';
  if (error instanceof DecodeError && error.code === 'unsupported')
    return `${message.replace(/^\w+: /, '')}. Choose a smaller size, or another format.`;
  return sayError(error);
}
