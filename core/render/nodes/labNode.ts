import type { WorkingSpace } from '../../color/workingSpace.ts';
import { LAB_HALF, LAB_UNIT } from '../../kernels/nearColour.ts';
import { levelCount, levelSize, TILE } from '../../raster/size.ts';
import { type RenderContext, type TileNode, withTile } from '../tiles/renderContext.ts';
import { OfOklab } from './oklabNode.ts';

/** A picture as the three axes of Oklab: distances in it are distances of colours. */
export class LabNode extends OfOklab {
  constructor(source: TileNode, space: WorkingSpace) {
    super('lab', source, space);
  }

  protected override writer(planes: readonly Uint16Array[]) {
    const [lightness, greenRed, blueYellow] = planes;
    const code = (value: number) => Math.min(65535, Math.max(0, Math.round(value * LAB_UNIT)));
    return (i: number, l: number, a: number, b: number) => {
      lightness[i] = code(l);
      greenRed[i] = code(a + LAB_HALF);
      blueYellow[i] = code(b + LAB_HALF);
    };
  }
}

/** Pixels of the level that a brush's diameter measures where the colour under its centre is read: large enough for noise to be
 * averaged away, small enough to lie on one thing. */
const ACROSS = 24;

/** The colour under the centre of a brush, as the three axes are coded.
 * @param x - Scene pixels; beyond the picture its edge counts. Likewise `y`.
 * @param diameter - Of the brush, in scene pixels. */
export function colourUnder(lab: LabNode, x: number, y: number, diameter: number, context: RenderContext): number[] {
  const down = Math.floor(Math.log2(diameter / ACROSS));
  const level = Math.min(levelCount(lab.extent.size) - 1, Math.max(0, down));
  const { width, height } = levelSize(lab.extent.size, level);
  const column = Math.min(width - 1, Math.max(0, Math.floor(x / 2 ** level)));
  const row = Math.min(height - 1, Math.max(0, Math.floor(y / 2 ** level)));
  const spot = { level, tx: Math.floor(column / TILE), ty: Math.floor(row / TILE) };
  return withTile(lab, spot, context, ({ slots }) =>
    slots.map((slot) => context.table.slab.plane(slot)[(row % TILE) * TILE + (column % TILE)]),
  );
}
