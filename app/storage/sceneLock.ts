/** A tab's hold on a scene: only one tab may change it. */
export interface SceneClaim {
  /** Whether this tab may write. */
  isOurs: boolean;
  /** Lets go of it, or of the wish for it. */
  release: () => void;
}

/** Claims a scene for this tab; whether another has it is known at once.
 * @param onFree - Told when another tab that had it has let go. */
export async function claimScene(id: string, onFree: () => void): Promise<SceneClaim> {
  const name = `lusket-scene-${id}`;
  let release: () => void = () => undefined;
  const isOurs = await new Promise<boolean>((resolve) => {
    void navigator.locks.request(name, { ifAvailable: true }, (lock) => {
      resolve(lock !== null);
      if (lock) return new Promise<void>((done) => (release = done));
    });
  });
  if (isOurs) return { isOurs, release: () => release() };
  const giveUp = new AbortController();
  // The lock is let go of again at once: whoever is told claims the scene anew.
  navigator.locks.request(name, { signal: giveUp.signal }, () => undefined).then(onFree, () => undefined);
  return { isOurs, release: () => giveUp.abort() };
}
