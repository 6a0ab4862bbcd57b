import { Cells, type CheckedBlock, type Found } from './checkedBlock.ts';
import { seamsIn } from './seamTerm.ts';

/** Seams: bands and steps of the seam term away from edges of the picture, where no picture that is blended has one: blotches of a brush, and
 * borders of tones. A step at an edge of the picture makes that steeper and is none.
 * @param lengths - That are looked over, in pixels of the level. */
export function seams(block: CheckedBlock, lengths: readonly number[]): Found[] {
  const cells = new Cells(block);
  for (const [{ id }, seam] of seamsIn(block, lengths)) {
    const { x, y, strength, height, over, beside, isBand } = seam;
    if (seam.isBesideEdge) continue;
    const kind = !isBand ? 'step' : height > 0 ? 'bright' : 'dark';
    const facts = { height, over, share: Math.abs(height) / Math.max(0.02, beside) };
    cells.take(x, y, { check: 'seams', strength, kind, item: id, facts });
  }
  return cells.all;
}
