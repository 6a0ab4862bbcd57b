import type { PointStep } from '../color/pointSteps.ts';
import type { WorkingSpace } from '../color/workingSpace.ts';
import { colour } from './colour.ts';
import { colourBalance } from './colourBalance.ts';
import { contrast } from './contrast.ts';
import { curve } from './curve.ts';
import type { AdjustmentKind } from './defineAdjustment.ts';
import { ends } from './ends.ts';
import { exposure } from './exposure.ts';
import { grey } from './grey.ts';
import { haze } from './haze.ts';
import { levels } from './levels.ts';
import { localContrast } from './localContrast.ts';
import { whiteBalance } from './whiteBalance.ts';

/** All adjustments, in the order in which they are done to a frame: its veil, light, then colour. */
export const ADJUSTMENTS = {
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
};
export type AdjustmentName = keyof typeof ADJUSTMENTS;
export const ADJUSTMENT_NAMES = Object.keys(ADJUSTMENTS) as AdjustmentName[];

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

/** What settings do in passes, each of which looks at what the one before has made: a veil is away before light is looked at.
 * @param develop - That nothing is wrong with. */
export function passesOf(develop: Develop, space: WorkingSpace): PointStep[][] {
  const steps = stepsOf(develop, space);
  const isVeil = (each: PointStep) => each.step === 'veil';
  return [steps.filter(isVeil), steps.filter((each) => !isVeil(each))].filter(({ length }) => length > 0);
}

/** Names what a pass depends on: one before the last on the veil alone, so that it is kept while light is changed. */
export const passName = (develop: Develop, isBefore: boolean): string =>
  JSON.stringify(isBefore ? { haze: develop.haze } : develop);

/** What settings do to each pixel, in order; none when all are at rest.
 * @param develop - That nothing is wrong with. */
export const stepsOf = (develop: Develop, space: WorkingSpace): PointStep[] =>
  ADJUSTMENT_NAMES.flatMap((name) => stepsFrom(name, develop, space));

/** The same of the adjustments that come before one. */
export const stepsBefore = (name: AdjustmentName, develop: Develop, space: WorkingSpace): PointStep[] =>
  ADJUSTMENT_NAMES.slice(0, ADJUSTMENT_NAMES.indexOf(name)).flatMap((each) => stepsFrom(each, develop, space));

function stepsFrom(name: AdjustmentName, develop: Develop, space: WorkingSpace): readonly PointStep[] {
  const settings = develop[name];
  const kind = ADJUSTMENTS[name] as unknown as AdjustmentKind;
  return settings === undefined || isAtRest(name, settings) ? [] : kind.steps(settings as never, space);
}
