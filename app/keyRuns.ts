import { SHORTCUTS } from './shortcuts.ts';

/** A pause after which the next press of a key is a change of its own, in milliseconds. */
const PAUSE_MS = 1000;

/** Other keys than arrows that step a number up and down. */
const STEPPING = new Set<string>(
  SHORTCUTS.filter(({ action }) => /^layer\.(fainter|fuller|mode)/.test(action)).map(({ keys }) => keys),
);

/** Presses of keys that step something, on one control and one soon after the other. What they change is one step. */
export class KeyRuns {
  #run = 0;
  #target: EventTarget | null = null;
  #isPressing = false;
  #isOwed = false;
  #pause: number | undefined;

  /** What names the run, as long as a press of it is being answered. */
  get now(): string | undefined {
    return this.#isPressing ? `keys ${this.#run}` : undefined;
  }

  /** What a press has changed is done when the run is, not before. */
  owe(): void {
    this.#isOwed = true;
  }

  /** Follows the keys of a page.
   * @param end - Called when a run that has changed something is over: after a pause, or when something else begins. */
  follow(page: Pick<Window, 'addEventListener' | 'setTimeout' | 'clearTimeout'>, end: () => void): void {
    const finish = () => {
      page.clearTimeout(this.#pause);
      this.#target = null;
      if (this.#isOwed) end();
      this.#isOwed = false;
    };
    page.addEventListener('pointerdown', finish, { capture: true });
    page.addEventListener(
      'keydown',
      ({ key, target }) => {
        const steps = key.startsWith('Arrow') || STEPPING.has(key);
        if (!steps || target !== this.#target) finish();
        if (!steps) return;
        if (!this.#target) this.#run++;
        this.#target = target;
        page.clearTimeout(this.#pause);
        this.#pause = page.setTimeout(finish, PAUSE_MS);
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
