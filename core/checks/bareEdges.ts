import { Cells, type CheckedBlock, type Found, forCells } from './checkedBlock.ts';

/** How much of a layer there would be where its frame is not. */
const WANTED = 0.15;

/** Edges left bare: where a layer's mask would show its frame and the frame, as it is placed, is not there, so that what lies below shows. */
export function bareEdges(block: CheckedBlock): Found[] {
  const cells = new Cells(block);
  for (const { item, frame, wanted, inside } of block.bare)
    forCells(block, (x, y, at) => {
      const missing = wanted[at] * (1 - inside[at]);
      if (missing < WANTED) return;
      cells.take(x, y, { check: 'bare', strength: missing / WANTED, item, frame, facts: { share: missing } });
    });
  return cells.all;
}
