import type { PointStep } from '../color/pointSteps.ts';
import type { WorkingSpace } from '../color/workingSpace.ts';
import type { TileNode } from '../render/tiles/renderContext.ts';
import { colour } from './colour.ts';
import { colourBalance } from './colourBalance.ts';
import { contrast } from './contrast.ts';
import { curve } from './curve.ts';
import type { AdjustmentKind, Whereabouts } from './defineAdjustment.ts';
import { ends } from './ends.ts';
import { exposure } from './exposure.ts';
import { fringes } from './fringes.ts';
import { grey } from './grey.ts';
import { haze } from './haze.ts';
import { lens } from './lens.ts';
import { levels } from './levels.ts';
import { localContrast } from './localContrast.ts';
import { noise } from './noise.ts';
import { sharpening } from './sharpening.ts';
import { whiteBalance } from './whiteBalance.ts';

/** All adjustments, in the order in which they are done to a frame: its lens, noise, fringes, its veil, light, colour, then sharpening. */
export const ADJUSTMENTS = {
  lens,
  noise,
  fringes,
  haze,
  whiteBalance,
  exposure,
  ends,
  contrast,
  localContrast,
  levels,
  curve,
  colour,
  colourBalance,
  grey,
  sharpening,
};
export type AdjustmentName = keyof typeof ADJUSTMENTS;
export const ADJUSTMENT_NAMES = Object.keys(ADJUSTMENTS) as AdjustmentName[];

/** What comes of the camera and not of one exposure: alike for all frames that are not set apart. */
export const ALIKE = ['lens', 'noise', 'fringes'] as const satisfies readonly AdjustmentName[];

/** What comes of the lens: it is done to frames alone, since what lies in the stack has none. */
export const isOfFrames = (name: string): boolean => name === 'lens' || name === 'fringes';

/** Settings by adjustment; what is not there is at rest. */
export type Develop = Readonly<Record<string, unknown>>;

const kindOf = (name: string): AdjustmentKind | undefined =>
  Object.hasOwn(ADJUSTMENTS, name) ? (ADJUSTMENTS[name as AdjustmentName] as unknown as AdjustmentKind) : undefined;

/** What of settings this program does not know, or cannot take; undefined when all is well. */
export function faultOf(develop: Develop): string | undefined {
  for (const [name, settings] of Object.entries(develop)) {
    const kind = kindOf(name);
    if (!kind) return `the adjustment “${name}”, which it does not know`;
    const [issue] = kind.schema.safeParse(settings).error?.issues ?? [];
    if (issue) return `settings of “${name}” that cannot be (${[...issue.path, issue.message].join(': ')})`;
  }
  return undefined;
}

/** Whether settings, that nothing is wrong with, change nothing. */
export const isAtRest = (name: AdjustmentName, settings: unknown): boolean =>
  (ADJUSTMENTS[name] as unknown as AdjustmentKind).isAtRest(settings as never);

/** What settings do to each pixel, in order; none when all are at rest.
 * @param develop - That nothing is wrong with. */
export const stepsOf = (develop: Develop, space: WorkingSpace): PointStep[] =>
  ADJUSTMENT_NAMES.flatMap((name) => stepsFrom(name, develop, space));

/** A picture after adjustments that take more than steps.
 * @param develop - That nothing is wrong with.
 * @param areLast - Those that come after all steps, or those before. */
export const builtOn = (source: TileNode, develop: Develop, where: Whereabouts, areLast: boolean): TileNode =>
  ADJUSTMENT_NAMES.reduce((before, name) => {
    const { build, isLast = false } = kindOf(name) as AdjustmentKind;
    const settings = develop[name];
    const isDone = build && isLast === areLast && settings !== undefined && !isAtRest(name, settings);
    return isDone ? build(before, settings as never, where) : before;
  }, source);

/** The same of the adjustments that come before one. */
export const stepsBefore = (name: AdjustmentName, develop: Develop, space: WorkingSpace): PointStep[] =>
  ADJUSTMENT_NAMES.slice(0, ADJUSTMENT_NAMES.indexOf(name)).flatMap((each) => stepsFrom(each, develop, space));

function stepsFrom(name: AdjustmentName, develop: Develop, space: WorkingSpace): readonly PointStep[] {
  const settings = develop[name];
  const kind = ADJUSTMENTS[name] as unknown as AdjustmentKind;
  return settings === undefined || isAtRest(name, settings) ? [] : kind.steps(settings as never, space);
}
