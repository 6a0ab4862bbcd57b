import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { beginView, endView, viewRest } from './viewRest.ts';

describe('what waits for the large picture', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  const told = async (most: number) => {
    const goes = vi.fn();
    void viewRest(most).then(goes);
    await vi.advanceTimersByTimeAsync(0);
    return goes;
  };

  it('goes at once while none is drawn', async () => {
    expect(await told(1000)).toHaveBeenCalledOnce();
  });

  it('goes when the last of several is drawn', async () => {
    beginView();
    beginView();
    const goes = await told(1000);
    endView();
    await vi.advanceTimersByTimeAsync(10);
    expect(goes).not.toHaveBeenCalled();
    endView();
    await vi.advanceTimersByTimeAsync(0);
    expect(goes).toHaveBeenCalledOnce();
    await vi.advanceTimersByTimeAsync(2000);
    expect(goes).toHaveBeenCalledOnce();
  });

  it('goes after a while however long one is drawn', async () => {
    beginView();
    const goes = await told(300);
    await vi.advanceTimersByTimeAsync(299);
    expect(goes).not.toHaveBeenCalled();
    await vi.advanceTimersByTimeAsync(2);
    expect(goes).toHaveBeenCalledOnce();
    endView();
  });
});
