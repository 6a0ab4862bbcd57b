import { describe, expect, it } from 'vitest';
import { KeyRuns } from './keyRuns.ts';

/** A page whose timers run when they are told to. */
class Page extends EventTarget {
  readonly due: (() => void)[] = [];
  setTimeout(run: () => void): void {
    this.due.push(run);
  }
  tick(): void {
    for (const run of this.due.splice(0)) run();
  }
}

/** A press of a key on something, as a page tells it. */
function press(page: Page, key: string, target: object, timeStamp: number): void {
  const event = new Event('keydown');
  Object.defineProperties(event, { key: { value: key }, target: { value: target }, timeStamp: { value: timeStamp } });
  page.dispatchEvent(event);
}

function follow() {
  const page = new Page();
  const runs = new KeyRuns();
  const ended: string[] = [];
  runs.follow(page as unknown as Window, () => ended.push('end'));
  /** The run that a press belongs to, as one asks while it is answered. */
  const runOf = (key: string, target: object, at: number) => {
    press(page, key, target, at);
    const { now } = runs;
    page.tick();
    return now;
  };
  return { page, runs, ended, runOf };
}

describe('runs of keys', () => {
  const [slider, other] = [{}, {}];

  it('go on while one control is pressed soon after', () => {
    const { runs, runOf } = follow();
    const first = runOf('ArrowRight', slider, 1000);
    expect(first).toBeDefined();
    expect(runOf('ArrowRight', slider, 1400)).toBe(first);
    expect(runOf('ArrowUp', slider, 2300)).toBe(first);
    // Between presses nothing belongs to them.
    expect(runs.now).toBeUndefined();
  });

  it('end with a pause, another control, another key and the pointer', () => {
    const { page, ended, runOf } = follow();
    const all = [
      runOf('ArrowRight', slider, 1000),
      runOf('ArrowRight', slider, 2500),
      runOf('ArrowRight', other, 2600),
    ];
    expect(ended).toEqual([]);
    expect(runOf('Escape', other, 2650)).toBeUndefined();
    expect(ended).toEqual(['end']);
    all.push(runOf('ArrowRight', other, 2700));
    page.dispatchEvent(new Event('pointerdown'));
    all.push(runOf('ArrowRight', other, 2800));
    expect(new Set(all).size).toBe(5);
    expect(ended).toEqual(['end', 'end']);
  });

  it('tell nobody that drags with a pointer', () => {
    const { page, ended, runOf } = follow();
    page.dispatchEvent(new Event('pointerdown'));
    runOf('Escape', slider, 10);
    expect(ended).toEqual([]);
  });
});
