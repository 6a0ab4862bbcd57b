import { Cells, type CheckedBlock, type Found } from './checkedBlock.ts';
import { bandWidth, seamsIn } from './seamTerm.ts';

/** Rims (halos): bands of the seam term beside an edge of the picture, brighter or darker than both their sides where no picture that is
 * blended has one.
 * @param lengths - That are looked over, in pixels of the level. */
export function rims(block: CheckedBlock, lengths: readonly number[]): Found[] {
  const cells = new Cells(block);
  for (const [item, seam] of seamsIn(block, lengths)) {
    const { x, y, strength, height, beside, over } = seam;
    if (!seam.isBand || !seam.isBesideEdge) continue;
    const widthPx = bandWidth(seam, item.result.tone, block);
    const facts = { widthPx, height, over, share: Math.abs(height) / Math.max(0.02, beside) };
    cells.take(x, y, { check: 'rims', strength, kind: height > 0 ? 'bright' : 'dark', item: item.id, facts });
  }
  return cells.all;
}
