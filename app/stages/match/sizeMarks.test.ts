import { describe, expect, it } from 'vitest';
import { ADJUSTMENTS } from '#core/develop/list.ts';
import { markedAt, SIZE_MARKS, shareOf } from './sizeMarks.ts';

const settingsAt = (mark: (typeof SIZE_MARKS)[number], share: number, size?: number) => {
  const rest = ADJUSTMENTS[mark.adjustment].rest;
  return { ...rest, ...markedAt(mark, rest, share, size) };
};

describe('discs on the scale of sizes', () => {
  it.each(SIZE_MARKS.map((mark) => [mark.label, mark] as const))('%s stands where it was dragged to', (_, mark) => {
    const { min, step, max } = mark.amount;
    expect(shareOf(mark, ADJUSTMENTS[mark.adjustment].rest)).toBe(0);
    for (const share of [-1, -0.5, -0.1, 0, 0.1, 0.5, 1]) {
      const settings = settingsAt(mark, share);
      expect(ADJUSTMENTS[mark.adjustment].schema.safeParse(settings).success).toBe(true);
      const canGo = share === 0 || (mark.takesAway ? share < 0 : share > 0) || min < 0;
      expect(shareOf(mark, settings)).toBeCloseTo(canGo ? share : 0, max - min > 1 ? 1 : 2);
      expect(Math.abs(shareOf(mark, settings) - (canGo ? share : 0))).toBeLessThanOrEqual(step);
    }
  });

  it('changes how large something is within its row, and leaves the rest of its adjustment alone', () => {
    const broad = SIZE_MARKS.find(({ key }) => key === 'broad') as (typeof SIZE_MARKS)[number];
    expect(settingsAt(broad, 0.5, 1000)).toEqual({
      ...ADJUSTMENTS.localContrast.rest,
      broad: { amount: 1, radius: 400 },
    });
    expect(settingsAt(broad, -1, 77.4)).toEqual({
      ...ADJUSTMENTS.localContrast.rest,
      broad: { amount: -1, radius: 77 },
    });
    expect(settingsAt(broad, 0, undefined)).toEqual(ADJUSTMENTS.localContrast.rest);
  });

  it('takes noise and the veil away downwards', () => {
    const settings = (key: string, share: number) =>
      settingsAt(SIZE_MARKS.find((mark) => mark.key === key) as never, share);
    expect(settings('grain', -0.6)).toMatchObject({ brightness: 0.6 });
    expect(settings('grain', 0.6)).toMatchObject({ brightness: 0 });
    expect(settings('veil', -0.3)).toMatchObject({ amount: 0.3 });
    expect(settings('veil', 0.3)).toMatchObject({ amount: -0.3 });
  });
});
