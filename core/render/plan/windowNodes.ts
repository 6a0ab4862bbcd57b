import type { WorkingSpace } from '../../color/workingSpace.ts';
import { isWholeRange, type Range } from '../../masks/range.ts';
import { rangeWindow } from '../../masks/rangeWindow.ts';
import type { ToneWindow } from '../../scene/item.ts';
import { measureOf } from '../nodes/measureNode.ts';
import { OklabNode } from '../nodes/oklabNode.ts';
import { TableNode } from '../nodes/tableNode.ts';
import type { TileNode } from '../tiles/renderContext.ts';

/** Where tones of a layer, and of what lies below it, are within a window: a plane for each range that lets not everything through. Each costs
 * one look into a table a pixel. */
export function windowNodes(
  { measure, layer, below }: ToneWindow,
  pictures: { layer: () => TileNode | undefined; below: () => TileNode | undefined },
  space: WorkingSpace,
): TileNode[] {
  const within = (range: Range, pictureOf: () => TileNode | undefined): TileNode[] => {
    const picture = isWholeRange(range) ? undefined : pictureOf();
    if (!picture) return [];
    const tones = measureOf(picture, measure, space, () => new OklabNode(picture, space));
    const { from, to, fromShoulder, toShoulder } = range;
    return [new TableNode(tones, `window:${[from, to, fromShoulder, toShoulder]}`, () => tableOf(range))];
  };
  return [...within(layer, pictures.layer), ...within(below, pictures.below)];
}

const tableOf = (range: Range): Uint16Array =>
  Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * rangeWindow(range, code / 65535)));
