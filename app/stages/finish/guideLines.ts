import type { Region } from '#core/raster/size.ts';
import type { Guide } from '../../stores/finish.ts';

interface Line {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
}

/** The smaller part of a length divided by the golden section. */
const GOLDEN = 2 / (3 + Math.sqrt(5));

/** Lines that help to arrange what is in a frame. */
export function guideLines(guide: Guide, { x, y, width, height }: Region): Line[] {
  const upright = (share: number): Line => ({ x1: x + share * width, y1: y, x2: x + share * width, y2: y + height });
  const level = (share: number): Line => ({ x1: x, y1: y + share * height, x2: x + width, y2: y + share * height });
  const both = (shares: readonly number[]) => shares.flatMap((share) => [upright(share), level(share)]);
  switch (guide) {
    case 'thirds':
      return both([1 / 3, 2 / 3]);
    case 'golden':
      return both([GOLDEN, 1 - GOLDEN]);
    case 'centre':
      return both([0.5]);
    case 'diagonals':
      return [
        { x1: x, y1: y, x2: x + width, y2: y + height },
        { x1: x + width, y1: y, x2: x, y2: y + height },
      ];
    default:
      return [];
  }
}
