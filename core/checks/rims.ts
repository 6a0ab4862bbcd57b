import { Cells, type CheckedBlock, type Found } from './checkedBlock.ts';
import { bandWidth, findSeams } from './seamTerm.ts';

/** Rims (halos): bands of the seam term beside an edge of the picture, brighter or darker than both their sides where no picture that is
 * blended has one.
 * @param lengths - That are looked over, in pixels of the level. */
export function rims(block: CheckedBlock, lengths: readonly number[]): Found[] {
  const cells = new Cells(block);
  for (const item of block.items)
    findSeams(block, item, lengths, (seam) => {
      const { x, y, strength, height, beside } = seam;
      if (!seam.isBand || !seam.isBesideEdge) return;
      const facts = {
        widthPx: bandWidth(seam, item.result.tone, block),
        height,
        over: seam.over,
        share: Math.abs(height) / Math.max(0.02, beside),
      };
      cells.take(x, y, { check: 'rims', strength, kind: height > 0 ? 'bright' : 'dark', item: item.id, facts });
    });
  return cells.all;
}
