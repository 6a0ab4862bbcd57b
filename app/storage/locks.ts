import { StorageError } from './storageError.ts';

/** The browser's locks between tabs (Web Locks API, W3C).
 * @throws {StorageError} `no-locks` */
function locks(): LockManager {
  if (!navigator.locks) throw new StorageError('no-locks');
  return navigator.locks;
}

/** A tab's hold on a scene: only one tab may change it. */
export interface SceneClaim {
  /** Whether this tab may write. */
  isOurs: boolean;
  /** Lets go of it, or of the wish for it. */
  release: () => void;
}

const nameOf = (sceneId: string): string => `lusket-scene-${sceneId}`;
const FILES = 'lusket-files';

/** Claims a scene for this tab; whether another has it is known at once.
 * @param onFree - Told when another tab that had it has let go.
 * @throws {StorageError} `no-locks` */
export async function claimScene(id: string, onFree: () => void): Promise<SceneClaim> {
  const name = nameOf(id);
  let release: () => void = () => undefined;
  const manager = locks();
  const isOurs = await new Promise<boolean>((resolve) => {
    void manager.request(name, { ifAvailable: true }, (lock) => {
      resolve(lock !== null);
      if (lock) return new Promise<void>((done) => (release = done));
    });
  });
  if (isOurs) return { isOurs, release: () => release() };
  const giveUp = new AbortController();
  // The lock is let go of again at once: whoever is told claims the scene anew.
  manager.request(name, { signal: giveUp.signal }, () => undefined).then(onFree, () => undefined);
  return { isOurs, release: () => giveUp.abort() };
}

/** Does something to a stored scene that no tab has open.
 * @throws {StorageError} `in-use` when one has. */
export async function withScene<T>(id: string, work: () => Promise<T>): Promise<T> {
  return (await locks().request(nameOf(id), { ifAvailable: true }, async (lock) => {
    if (!lock) throw new StorageError('in-use');
    return work();
  })) as T;
}

/** Stores files or strokes together with the scene that names them: until the work is done nothing is swept away. */
export async function whileStoring<T>(work: () => Promise<T>): Promise<T> {
  return (await locks().request(FILES, { mode: 'shared' }, work)) as T;
}

/** Does something while nobody stores files, in any tab; nothing when somebody does. */
export async function whileNobodyStores(work: () => Promise<void>): Promise<void> {
  await locks().request(FILES, { mode: 'exclusive', ifAvailable: true }, (lock) => (lock ? work() : undefined));
}
