/** A finger or pen, in CSS pixels of the page. */
export interface Contact {
  id: number;
  x: number;
  y: number;
  timeMs: number;
}

/** How two fingers moved a picture: it is zoomed about a point of the page, then moved. */
export interface Grip {
  at: { x: number; y: number };
  factor: number;
  dx: number;
  dy: number;
}

/** A hand may rest so long after its pen was last near. */
const PEN_IS_NEAR_MS = 700;

/** Tells fingers apart: one works, two zoom and move the picture, and none does anything while a pen is near. */
export class Fingers {
  readonly #down = new Map<number, Contact>();
  /** The finger that works alone. */
  #working: number | undefined;
  #grips = false;
  #penAt = Number.NEGATIVE_INFINITY;
  readonly #takeBack: (id: number) => void;
  readonly #grip: (grip: Grip) => void;

  /** @param takeBack - Told of a finger that began to work and turned out to mean something else.
   * @param grip - Told how two fingers move. */
  constructor(takeBack: (id: number) => void, grip: (grip: Grip) => void) {
    this.#takeBack = takeBack;
    this.#grip = grip;
  }

  /** A pen is near, or draws: fingers on the picture are a hand that rests. */
  pen(timeMs: number): void {
    this.#penAt = timeMs;
    this.#stopWorking();
    this.#grips = false;
  }

  /** @param isFirst - No other finger is down, whatever was heard of before.
   * @returns Whether the finger works; if not, nothing but this hears of it. */
  press(finger: Contact, isFirst: boolean): boolean {
    if (isFirst) this.#down.clear();
    const isResting = finger.timeMs - this.#penAt < PEN_IS_NEAR_MS;
    this.#down.set(finger.id, finger);
    if (isResting) return false;
    if (this.#down.size === 1) {
      this.#working = finger.id;
      return true;
    }
    // Of three fingers none is asked what it means.
    this.#grips = this.#down.size === 2;
    this.#stopWorking();
    return false;
  }

  /** Whether what a finger does is heard of. */
  works(id: number): boolean {
    return this.#working === id || !this.#down.has(id);
  }

  move(finger: Contact): boolean {
    if (!this.#down.has(finger.id)) return true;
    const pair = [...this.#down.values()];
    this.#down.set(finger.id, finger);
    if (this.#grips && pair.length === 2) this.#grip(gripOf(pair, [...this.#down.values()]));
    return this.works(finger.id);
  }

  release(id: number): boolean {
    const worked = this.works(id);
    this.#down.delete(id);
    if (this.#working === id) this.#working = undefined;
    this.#grips = false;
    return worked;
  }

  #stopWorking(): void {
    if (this.#working !== undefined) this.#takeBack(this.#working);
    this.#working = undefined;
  }
}

function gripOf(before: readonly Contact[], after: readonly Contact[]): Grip {
  const [from, to] = [middleOf(before), middleOf(after)];
  return { at: from, factor: spread(after) / spread(before), dx: to.x - from.x, dy: to.y - from.y };
}

const middleOf = ([a, b]: readonly Contact[]) => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
/** Never 0: fingers are no points. */
const spread = ([a, b]: readonly Contact[]): number => Math.max(10, Math.hypot(a.x - b.x, a.y - b.y));
