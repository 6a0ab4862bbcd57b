import { describe, expect, it } from 'vitest';
import { maskedStep, sensitivity, stepSeenWithin } from './visibility.ts';

describe('what is seen', () => {
  // Mannos and Sakrison 1974: the curve has its peak near 8 cycles a degree, at 0.98 of what is taken for 1 here.
  it('is least sensitive to very slow and very fine changes', () => {
    const curve = Array.from({ length: 60 }, (_, i) => sensitivity((i + 1) / 2));
    const peak = curve.indexOf(Math.max(...curve));
    expect((peak + 1) / 2).toBeGreaterThan(7);
    expect((peak + 1) / 2).toBeLessThan(9);
    expect(Math.max(...curve)).toBeCloseTo(1, 1);
    expect(sensitivity(0.1)).toBeLessThan(0.12);
    expect(sensitivity(40)).toBeLessThan(0.1);
  });

  it('needs more where changes are wide, less in a picture that is shown small', () => {
    const steps = [2, 8, 32, 100].map((px) => stepSeenWithin(px, 1600));
    for (const [index, step] of steps.entries()) if (index > 1) expect(step).toBeGreaterThan(steps[index - 1]);
    expect(stepSeenWithin(100, 8000)).toBeLessThan(stepSeenWithin(100, 1600));
  });

  // Legge and Foley 1980: threshold grows with the power 0.62 of the masking contrast.
  it('is hidden by contrast around it, by its power of 0.62', () => {
    expect(maskedStep(0.01, 0.005)).toBe(0.01);
    expect(maskedStep(0.01, 0.1) / 0.01).toBeCloseTo(10 ** 0.62, 6);
  });
});
