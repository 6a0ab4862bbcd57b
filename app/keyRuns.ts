/** A pause after which the next press of a key is a change of its own, in milliseconds. */
const PAUSE_MS = 1000;

/** Presses of arrow keys on one control, one soon after the other. What they change is one step. */
export class KeyRuns {
  #run = 0;
  #target: EventTarget | null = null;
  #pressedAt = Number.NEGATIVE_INFINITY;
  #isPressing = false;

  /** What names the run, as long as a press of it is being answered. */
  get now(): string | undefined {
    return this.#isPressing ? `keys ${this.#run}` : undefined;
  }

  /** Follows the keys of a page.
   * @param end - Called when something else begins: what a run has changed is done. */
  follow(page: Window, end: () => void): void {
    const other = () => {
      if (this.#target) end();
      this.#target = null;
    };
    page.addEventListener('pointerdown', other, { capture: true });
    page.addEventListener(
      'keydown',
      ({ key, target, timeStamp }) => {
        if (!key.startsWith('Arrow')) {
          other();
          return;
        }
        if (target !== this.#target || timeStamp - this.#pressedAt > PAUSE_MS) this.#run++;
        this.#target = target;
        this.#pressedAt = timeStamp;
        this.#isPressing = true;
        // What the page itself does with the key belongs to the press as well.
        page.setTimeout(() => {
          this.#isPressing = false;
        });
      },
      { capture: true },
    );
  }
}
