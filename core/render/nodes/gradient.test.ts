import { describe, expect, it } from 'vitest';
import { edit, maskOf, setUp, size } from '../../../tests/renderScene.ts';
import { gradientCoverage } from '../../masks/gradientProfile.ts';
import type { GradientPart } from '../../parts/gradient.ts';
import { plainPart } from '../../parts/partBase.ts';
import { levelSize } from '../../raster/size.ts';
import { setGradient } from '../../scene/edits/older.ts';

const { made, dark, whole } = setUp();
const part = (change: Partial<GradientPart> = {}): GradientPart => ({
  kind: 'gradient',
  ...plainPart('gradient'),
  start: { x: 60, y: 40 },
  end: { x: 220, y: 150 },
  profile: 'linear',
  middle: 0.5,
  ...change,
});

describe('a gradient', () => {
  it.each<Partial<GradientPart>>([
    {},
    { profile: 'smooth' },
    { middle: 0.3 },
    { profile: 'smooth', middle: 0.8, start: { x: 250, y: 10 }, end: { x: 20, y: 30 } },
    { start: { x: 100.5, y: 50 }, end: { x: 100.5, y: 50 } },
  ])('is its closed form at every level: %j', (change) => {
    const gradient = part(change);
    const scene = edit(made.scene, setGradient({ layerId: dark, gradient }));
    const { start, end } = gradient;
    const [dx, dy] = [end.x - start.x, end.y - start.y];
    const isEdge = dx === 0 && dy === 0;
    for (const level of [0, 1]) {
      const { width, height } = levelSize(size, level);
      const coverage = whole(maskOf(scene, dark), 0, level);
      for (let y = 0; y < height; y += 3) {
        for (let x = 0; x < width; x += 3) {
          const [sx, sy] = [(x + 0.5) * 2 ** level, (y + 0.5) * 2 ** level];
          const t = isEdge ? 0 : ((sx - start.x) * dx + (sy - start.y) * dy) / (dx * dx + dy * dy);
          // Within the profile's table of 1,024 steps: a power falls steeply at its very beginning.
          const off = Math.abs(coverage[y * width + x] / 65535 - gradientCoverage(gradient, t));
          if (off > 0.004) expect.unreachable(`${level}: ${x}, ${y}: off by ${off}`);
        }
      }
    }
  });

  it('falls by half at its middle, is all before it and nothing behind it', () => {
    for (const middle of [0.2, 0.5, 0.8]) {
      expect(gradientCoverage({ profile: 'linear', middle }, middle)).toBeCloseTo(0.5, 9);
      expect(gradientCoverage({ profile: 'smooth', middle }, middle)).toBeCloseTo(0.5, 9);
      expect(gradientCoverage({ profile: 'smooth', middle }, -1)).toBe(1);
      expect(gradientCoverage({ profile: 'linear', middle }, 2)).toBe(0);
    }
  });

  it('takes the place of the one before, and undoes as one step', () => {
    const first = edit(made.scene, setGradient({ layerId: dark, gradient: part() }));
    const second = edit(first, setGradient({ layerId: dark, gradient: part({ profile: 'smooth' }) }));
    const kinds = second.stack.find(({ id }) => id === dark)?.mask.parts.map(({ kind }) => kind);
    expect(kinds).toEqual(['gradient', 'painted']);
    expect(setGradient({ layerId: dark, gradient: part() }).kind).toBe('mask.setGradient');
  });
});
