import { describe, expect, it } from 'vitest';
import { KeyRuns } from './keyRuns.ts';

/** A page whose time goes by when it is told to. */
class Page extends EventTarget {
  #now = 0;
  readonly #due = new Map<number, { at: number; run: () => void }>();
  #timers = 0;
  setTimeout = ((run: () => void, after = 0) => {
    this.#due.set(++this.#timers, { at: this.#now + after, run });
    return this.#timers;
  }) as Window['setTimeout'];
  clearTimeout(timer: number | undefined): void {
    if (timer !== undefined) this.#due.delete(timer);
  }
  pass(by: number): void {
    this.#now += by;
    for (const [timer, { at, run }] of [...this.#due]) {
      if (at > this.#now || !this.#due.delete(timer)) continue;
      run();
    }
  }
}

function follow() {
  const page = new Page();
  const runs = new KeyRuns();
  const ended: string[] = [];
  runs.follow(page, () => ended.push('end'));
  /** The run that a press belongs to, as one asks while it is answered; it changes something. */
  const press = (key: string, target: object, after: number, changes = true) => {
    page.pass(after);
    const event = new Event('keydown');
    Object.defineProperties(event, { key: { value: key }, target: { value: target } });
    page.dispatchEvent(event);
    const { now } = runs;
    if (now && changes) runs.owe();
    page.pass(1);
    return now;
  };
  return { page, runs, ended, press };
}

describe('runs of keys', () => {
  const [slider, other] = [{}, {}];

  it('go on while one control is pressed soon after', () => {
    const { runs, ended, press } = follow();
    const first = press('ArrowRight', slider, 0);
    expect(first).toBeDefined();
    // So do the keys that step opacity and mode.
    for (const key of ['ArrowRight', 'ArrowUp', '5', '8']) expect(press(key, slider, 900)).toBe(first);
    // Between presses nothing belongs to them.
    expect(runs.now).toBeUndefined();
    expect(ended).toEqual([]);
  });

  it('end with a pause, another control, another key and the pointer', () => {
    const { page, ended, press } = follow();
    const all = [press('ArrowRight', slider, 0), press('ArrowRight', slider, 1500)];
    expect(ended).toHaveLength(1);
    all.push(press('ArrowRight', other, 100));
    expect(ended).toHaveLength(2);
    expect(press('Escape', other, 50)).toBeUndefined();
    expect(ended).toHaveLength(3);
    all.push(press('ArrowRight', other, 50));
    page.dispatchEvent(new Event('pointerdown'));
    expect(ended).toHaveLength(4);
    all.push(press('ArrowRight', other, 50));
    expect(new Set(all).size).toBe(5);
  });

  it('end nothing where nothing was changed, or where others say when it is done', () => {
    const { page, ended, press } = follow();
    page.dispatchEvent(new Event('pointerdown'));
    press('Escape', slider, 10);
    press('ArrowDown', slider, 10, false);
    press('Escape', slider, 10);
    page.pass(5000);
    expect(ended).toEqual([]);
  });
});
