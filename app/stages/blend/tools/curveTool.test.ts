import { describe, expect, it } from 'vitest';
import { idleTool } from '../../../../tests/idleTool.ts';
import { curveTool, withPointAt } from './curveTool.ts';

describe('a point of a curve that is set on the picture', () => {
  it('lies on the curve, between its neighbours, or is one that is there', () => {
    expect(withPointAt([], 0.4, 0.4)).toEqual({
      points: [
        { x: 0, y: 0 },
        { x: 0.4, y: 0.4 },
        { x: 1, y: 1 },
      ],
      index: 1,
    });
    const three = [
      { x: 0, y: 0 },
      { x: 0.5, y: 0.6 },
      { x: 1, y: 1 },
    ];
    expect(withPointAt(three, 0.51, 0.6)?.index).toBe(1);
    expect(withPointAt(three, 0.7, 0.8)?.points).toHaveLength(4);
    const full = Array.from({ length: 16 }, (_, i) => ({ x: i / 15, y: i / 15 }));
    expect(withPointAt(full, 0.5, 0.5)).toBeUndefined();
  });

  it('goes up and down with the hand, once its tone is known', async () => {
    const shown: { x: number; y: number }[][] = [];
    let closed = 0;
    const tool = curveTool(
      '',
      { ...idleTool, closeDrag: () => void closed++ },
      {
        toneAt: async () => 0.25,
        points: () => [],
        valueOf: (x) => x,
        preview: (points) => void shown.push(points),
      },
    );
    tool.press({ x: 10, y: 100 });
    await Promise.resolve();
    await Promise.resolve();
    // 80 scene pixels are 40 of the page: a tenth of the way from black to white.
    tool.move({ x: 10, y: 20 });
    expect(shown.at(-1)?.[1]).toEqual({ x: 0.25, y: 0.35 });
    tool.release();
    expect(closed).toBe(1);
    tool.move({ x: 10, y: 0 });
    expect(shown.at(-1)?.[1].y).toBe(0.35);
  });
});
