import { beforeEach, describe, expect, it } from 'vitest';
import { Fingers, type Grip } from './fingers.ts';

describe('fingers on the picture', () => {
  const takenBack: number[] = [];
  const grips: Grip[] = [];
  let fingers: Fingers;
  beforeEach(() => {
    takenBack.length = 0;
    grips.length = 0;
    fingers = new Fingers(
      (id) => takenBack.push(id),
      (grip) => grips.push(grip),
    );
  });
  const at = (id: number, x: number, y: number, timeMs = 0) => ({ id, x, y, timeMs });

  it('work alone', () => {
    expect(fingers.press(at(1, 10, 10), true)).toBe(true);
    expect(fingers.move(at(1, 20, 10))).toBe(true);
    expect(fingers.release(1)).toBe(true);
    expect(grips).toEqual([]);
  });

  it('zoom about their middle and move, by two; what the first began is taken back', () => {
    fingers.press(at(1, 100, 100), true);
    expect(fingers.press(at(2, 200, 100), false)).toBe(false);
    expect(takenBack).toEqual([1]);
    expect(fingers.move(at(2, 300, 140))).toBe(false);
    expect(fingers.works(1)).toBe(false);
    expect(grips).toHaveLength(1);
    const [{ at: middle, factor, dx, dy }] = grips;
    expect([middle, dx, dy]).toEqual([{ x: 150, y: 100 }, 50, 20]);
    expect(factor).toBeCloseTo(Math.hypot(200, 40) / 100, 9);
  });

  it('do nothing when one of two is lifted, until all are, and zoom again when it comes back', () => {
    fingers.press(at(1, 100, 100), true);
    fingers.press(at(2, 200, 100), false);
    expect(fingers.release(2)).toBe(false);
    expect(fingers.move(at(1, 150, 100))).toBe(false);
    fingers.press(at(3, 250, 100), false);
    fingers.move(at(3, 350, 100));
    expect(grips.map(({ factor }) => factor)).toEqual([2]);
    expect([fingers.release(1), fingers.release(3)]).toEqual([false, false]);
    expect(fingers.press(at(4, 1, 1), true)).toBe(true);
  });

  it('do nothing by three', () => {
    for (const id of [1, 2, 3]) fingers.press(at(id, id * 100, 100), id === 1);
    fingers.move(at(3, 900, 900));
    expect(grips).toEqual([]);
  });

  it('rest while a pen is near, and what one began is taken back', () => {
    fingers.press(at(1, 0, 0, 0), true);
    fingers.pen(1000);
    expect(takenBack).toEqual([1]);
    expect(fingers.move(at(1, 50, 50, 1010))).toBe(false);
    fingers.release(1);
    expect(fingers.press(at(2, 0, 0, 1300), true)).toBe(false);
    expect(fingers.press(at(3, 90, 0, 1310), false)).toBe(false);
    fingers.move(at(3, 190, 0, 1320));
    expect(grips).toEqual([]);
    expect(fingers.press(at(4, 0, 0, 5000), true)).toBe(true);
  });

  it('are not held to a finger whose end was never told', () => {
    fingers.press(at(1, 0, 0), true);
    expect(fingers.press(at(7, 50, 50), true)).toBe(true);
    fingers.move(at(7, 60, 50));
    expect(grips).toEqual([]);
  });
});
