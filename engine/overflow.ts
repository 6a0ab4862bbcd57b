import { OVERFLOW_PLACES, type Overflow } from '#core/raster/overflow.ts';
import { TILE_SAMPLES } from '#core/raster/size.ts';
import { SlabWord, type TileSlab } from '#core/raster/tileSlab.ts';

/** Planes at one place. */
const PLANES = 3;
const PLANE_BYTES = TILE_SAMPLES * 2;
export const PLACE_BYTES = PLANES * PLANE_BYTES;

/** Words of a thread's mailbox to the thread that keeps the overflow. */
const enum Mail {
  State,
  Kind,
  Place,
  Slots,
}
const enum State {
  Asked = 1,
  Done,
  Failed,
}
const enum Kind {
  Write,
  Read,
}

/** How often a thread that waits looks whether there still is a keeper. */
const LOOK_MS = 1000;

/** A file that one thread alone reads and writes, waiting for each. */
export interface OverflowFile {
  /** Bytes that it may grow to. */
  room: number;
  /** @throws when they could not all be written. */
  write(at: number, bytes: Uint8Array): void;
  /** @throws when they could not all be read. */
  read(at: number, bytes: Uint8Array): void;
}

/** A thread's way to the overflow: it leaves a mailbox in shared memory and waits for the keeper's answer.
 * @param index - The thread's arena. */
export function overflowOf(slab: TileSlab, index: number): Overflow {
  const ask = (kind: Kind, place: number, slots: readonly number[]): boolean => {
    const mailbox = slab.mailbox(index);
    mailbox.set([kind, place, ...slots], Mail.Kind);
    Atomics.store(mailbox, Mail.State, State.Asked);
    slab.ring();
    while (Atomics.load(mailbox, Mail.State) === State.Asked) {
      Atomics.wait(mailbox, Mail.State, State.Asked, LOOK_MS);
      // The keeper is gone, and will not answer any more.
      if (slab.overflowPlaces === 0) Atomics.store(mailbox, Mail.State, State.Failed);
    }
    return Atomics.load(mailbox, Mail.State) === State.Done;
  };
  return {
    write: (place, slots) => ask(Kind.Write, place, slots),
    read: (place, slots) => ask(Kind.Read, place, slots),
  };
}

/** Says how much the overflow takes; until then there is none. */
export function openOverflow(slab: TileSlab, { room }: OverflowFile): void {
  slab.overflowPlaces = Math.min(OVERFLOW_PLACES, Math.floor(room / PLACE_BYTES));
}

/** Answers all threads' mailboxes for ever; the thread that calls it does nothing else, and ends from outside. */
export function keepOverflow(slab: TileSlab, file: OverflowFile): never {
  for (;;) {
    const heard = slab.wakeCount;
    for (let index = 0; index < slab.threads; index++) {
      const mailbox = slab.mailbox(index);
      if (Atomics.load(mailbox, Mail.State) !== State.Asked) continue;
      Atomics.store(mailbox, Mail.State, answer(slab, file, mailbox) ? State.Done : State.Failed);
      Atomics.notify(mailbox, Mail.State);
    }
    Atomics.wait(slab.words(), SlabWord.OverflowBell, heard);
  }
}

function answer(slab: TileSlab, file: OverflowFile, mailbox: Int32Array): boolean {
  try {
    for (let plane = 0; plane < PLANES; plane++) {
      const samples = slab.plane(mailbox[Mail.Slots + plane]);
      const bytes = new Uint8Array(samples.buffer, samples.byteOffset, PLANE_BYTES);
      const at = mailbox[Mail.Place] * PLACE_BYTES + plane * PLANE_BYTES;
      if (mailbox[Mail.Kind] === Kind.Write) file.write(at, bytes);
      else file.read(at, bytes);
    }
    return true;
  } catch {
    return false; // a full or vanished disk: whoever asked says so
  }
}
