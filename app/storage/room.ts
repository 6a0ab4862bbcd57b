/** Room in the browser's storage, in bytes. */
export interface Room {
  used: number;
  free: number;
}

/** Share of all room below which it is told that little is left. */
const LITTLE = 0.1;

/** How much room the browser grants; undefined where it does not say. */
export async function roomLeft(): Promise<Room | undefined> {
  const { usage, quota } = (await navigator.storage?.estimate?.()) ?? {};
  return usage === undefined || quota === undefined ? undefined : { used: usage, free: Math.max(0, quota - usage) };
}

export const isLittle = ({ used, free }: Room): boolean => free < LITTLE * (used + free);

/** Asks the browser to keep what is stored even when the disk fills up.
 * @returns Whether it does. */
export async function askToPersist(): Promise<boolean> {
  return (await navigator.storage?.persisted?.()) || (await navigator.storage?.persist?.()) || false;
}
