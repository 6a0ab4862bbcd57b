import type { PointStep } from '../../color/pointSteps.ts';
import type { OwnLayer, Whereabouts } from '../../develop/defineAdjustment.ts';
import { adjustmentKind, builtOn, type Develop, isFinishing, stepsOf } from '../../develop/list.ts';
import { PLAIN_LENS } from '../../raster/lens.ts';
import { IDENTITY3 } from '../../raster/matrix3.ts';
import type { Adjustment } from '../../scene/item.ts';
import { CompositeNode } from '../nodes/compositeNode.ts';
import { EverywhereNode } from '../nodes/everywhereNode.ts';
import { framePlace } from '../nodes/frameMap.ts';
import { keptNode } from '../nodes/keptNode.ts';
import { PointNode } from '../nodes/pointNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';

/** Sharpening comes after all steps: light is not made again for it. */
const nameOf = ({ sharpening: _, ...before }: Develop): string => JSON.stringify(before);

/** A frame as it is developed: its corners lifted, without noise and fringes, then without its veil, so that light looks at none of them;
 * what comes first is kept while the rest is changed.
 * @param taken - In the working space, as it is placed; what its lens bent is straight there already.
 * @param develop - Settings that nothing is wrong with. */
export function developedNode(taken: TileNode, develop: Develop, where: Whereabouts): TileNode {
  const { space } = where;
  const isVeil = ({ step }: PointStep) => step === 'veil';
  const steps = stepsOf(develop, space);
  const [veil, rest] = [steps.filter(isVeil), steps.filter((each) => !isVeil(each))];
  const quiet = builtOn(taken, develop, where, false);
  const clear = veil.length === 0 ? quiet : new PointNode(quiet, veil, JSON.stringify(develop.haze), space);
  const lit = rest.length === 0 ? clear : new PointNode(clear, rest, nameOf(develop), space);
  return builtOn(lit, develop, where, true);
}

/** What an adjustment of a picture of the scene may ask for. */
export type AdjustedWhere = Omit<Whereabouts, 'place'>;

function whereIn({ size }: Extent, where: AdjustedWhere): Whereabouts {
  return { ...where, place: framePlace({ placement: IDENTITY3, local: null, lens: PLAIN_LENS }, size, size) };
}

/** A picture of the scene after one adjustment.
 * @param adjustment - That nothing is wrong with. */
export function adjustedNode(source: TileNode, adjustment: Adjustment, where: AdjustedWhere): TileNode {
  const own = ownLayer(source, adjustment, where);
  if (own) {
    const { below, layer } = own;
    const mask = layer.mask ?? new EverywhereNode(source.extent);
    return new CompositeNode(below, [{ ...layer, mask }], { isIntermediate: true });
  }
  const { kind, settings } = adjustment;
  const whole = whereIn(source.extent, where);
  if (!isFinishing(kind)) return developedNode(source, { [kind]: settings }, whole);
  return adjustmentKind(kind)?.build?.(source, settings as never, whole) ?? source;
}

/** What an adjustment lays over a picture and what over, as that is before it is rounded; undefined where it is not done by laying. */
export function ownLayer(
  source: TileNode,
  { kind, settings }: Adjustment,
  where: AdjustedWhere,
): { below: TileNode; layer: OwnLayer } | undefined {
  const make = adjustmentKind(kind)?.layer;
  if (!make) return undefined;
  const below = keptNode(source.unrounded ?? source);
  return { below, layer: make(below, settings as never, whereIn(source.extent, where)) };
}

/** What an adjustment lays over a picture, by itself; undefined when there is no such thing. */
export const innerNode = (source: TileNode, { kind, settings }: Adjustment, where: AdjustedWhere) =>
  adjustmentKind(kind)?.inner?.(source, settings as never, whereIn(source.extent, where));
