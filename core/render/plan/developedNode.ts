import type { PointStep } from '../../color/pointSteps.ts';
import type { WorkingSpace } from '../../color/workingSpace.ts';
import type { Whereabouts } from '../../develop/defineAdjustment.ts';
import { builtOn, type Develop, stepsOf } from '../../develop/list.ts';
import { PLAIN_LENS } from '../../raster/lens.ts';
import { IDENTITY3 } from '../../raster/matrix3.ts';
import type { Adjustment } from '../../scene/item.ts';
import { framePlace } from '../nodes/frameMap.ts';
import { PointNode } from '../nodes/pointNode.ts';
import type { TileNode } from '../tiles/renderContext.ts';

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

/** A picture of the scene after one adjustment.
 * @param adjustment - That nothing is wrong with. */
export function adjustedNode(source: TileNode, { kind, settings }: Adjustment, space: WorkingSpace): TileNode {
  const { size } = source.extent;
  const place = framePlace({ placement: IDENTITY3, local: null, lens: PLAIN_LENS }, size, size);
  return developedNode(source, { [kind]: settings }, { space, place });
}
