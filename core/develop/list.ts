import type { z } from 'zod';
import { basesOf, type PointStep, veilOf } from '../color/pointSteps.ts';
import type { WorkingSpace } from '../color/workingSpace.ts';
import type { TileNode } from '../render/tiles/renderContext.ts';
import { colour } from './colour.ts';
import { colourBalance } from './colourBalance.ts';
import { contrast } from './contrast.ts';
import { curve } from './curve.ts';
import type { AdjustmentKind, Whereabouts } from './defineAdjustment.ts';
import { dodgeBurn } from './dodgeBurn.ts';
import { edges } from './edges.ts';
import { ends } from './ends.ts';
import { exposure } from './exposure.ts';
import { fringes } from './fringes.ts';
import { grey } from './grey.ts';
import { haze } from './haze.ts';
import { highPass } from './highPass.ts';
import { lens } from './lens.ts';
import { levels } from './levels.ts';
import { lights } from './lights.ts';
import { localContrast } from './localContrast.ts';
import { noise } from './noise.ts';
import { sharpening } from './sharpening.ts';
import { softGlow } from './softGlow.ts';
import { whiteBalance } from './whiteBalance.ts';

/** Adjustments of frames, and of what lies in the stack, in the order in which they are done to a frame: its lens, noise, fringes, its veil, light, colour, then sharpening. */
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

/** Those of pictures alone: they finish the blend, or lie in the stack. */
export const FINISHING = { dodgeBurn, edges, lights, softGlow, highPass };
export type FinishingName = keyof typeof FINISHING;
export type AnyAdjustment = AdjustmentName | FinishingName;
export const ANY_ADJUSTMENT_NAMES = [...ADJUSTMENT_NAMES, ...(Object.keys(FINISHING) as FinishingName[])] as const;

/** What comes of the camera and not of one exposure: alike for all frames that are not set apart. */
export const ALIKE = ['lens', 'noise', 'fringes'] as const satisfies readonly AdjustmentName[];

/** What comes of the lens: it is done to frames alone, since what lies in the stack has none. */
export const isOfFrames = (name: string): boolean => name === 'lens' || name === 'fringes';

/** What finishes a picture: it is done to no frame. */
export const isFinishing = (name: string): name is FinishingName => Object.hasOwn(FINISHING, name);

/** Settings by adjustment; what is not there is at rest. */
export type Develop = Readonly<Record<string, unknown>>;

const ALL: Readonly<Record<string, unknown>> = { ...ADJUSTMENTS, ...FINISHING };

/** The definition of an adjustment; undefined for what this program does not know. */
export const adjustmentKind = (name: string): AdjustmentKind | undefined =>
  Object.hasOwn(ALL, name) ? (ALL[name] as AdjustmentKind) : undefined;

/** What of settings this program does not know, or cannot take; undefined when all is well.
 * @param of - Frames are not finished. */
export function faultOf(develop: Develop, of: 'frame' | 'picture' = 'frame'): string | undefined {
  for (const [name, settings] of Object.entries(develop)) {
    const kind = adjustmentKind(name);
    const isElsewhere = of === 'frame' ? isFinishing(name) : isOfFrames(name);
    if (isElsewhere) return `the adjustment “${name}” of a ${of}`;
    if (!kind) return `the adjustment “${name}”, which this version does not know`;
    const [issue] = kind.schema.safeParse(settings).error?.issues ?? [];
    if (issue) return `settings of “${name}” that cannot be (${[issue.path.join(' '), sayIssue(issue)].join(': ')})`;
  }
  return undefined;
}

/** What is wrong with a number, in few words; of anything else as the schema says it. */
function sayIssue(issue: z.core.$ZodIssue): string {
  if (issue.code === 'too_big') return `more than ${issue.maximum}`;
  if (issue.code === 'too_small') return `less than ${issue.minimum}`;
  return issue.message;
}

/** Whether settings, that nothing is wrong with, change nothing. */
export const isAtRest = (name: string, settings: unknown): boolean =>
  (adjustmentKind(name) as AdjustmentKind).isAtRest(settings as never);

/** Whether a pixel after an adjustment follows from more than that pixel, and where it lies.
 * @param settings - That nothing is wrong with. */
export function looksAround(name: string, settings: unknown, space: WorkingSpace): boolean {
  const kind = adjustmentKind(name) as AdjustmentKind;
  if (kind.isAtRest(settings as never)) return false;
  const steps = kind.steps(settings as never, space);
  return (kind.build !== undefined && !kind.isPointwise) || basesOf(steps).length > 0 || veilOf(steps) !== undefined;
}

/** What settings do to each pixel, in order; none when all are at rest.
 * @param develop - That nothing is wrong with. */
export const stepsOf = (develop: Develop, space: WorkingSpace): PointStep[] =>
  ADJUSTMENT_NAMES.flatMap((name) => stepsFrom(name, develop, space));

/** A picture after adjustments that take more than steps.
 * @param develop - That nothing is wrong with.
 * @param areLast - Those that come after all steps, or those before. */
export const builtOn = (source: TileNode, develop: Develop, where: Whereabouts, areLast: boolean): TileNode =>
  ADJUSTMENT_NAMES.reduce((before, name) => {
    const { build, isLast = false } = adjustmentKind(name) as AdjustmentKind;
    const settings = develop[name];
    const isDone = build && isLast === areLast && settings !== undefined && !isAtRest(name, settings);
    return isDone ? build(before, settings as never, where) : before;
  }, source);

/** The same of the adjustments that come before one. */
export const stepsBefore = (name: AdjustmentName, develop: Develop, space: WorkingSpace): PointStep[] =>
  ADJUSTMENT_NAMES.slice(0, ADJUSTMENT_NAMES.indexOf(name)).flatMap((each) => stepsFrom(each, develop, space));

function stepsFrom(name: AdjustmentName, develop: Develop, space: WorkingSpace): readonly PointStep[] {
  const settings = develop[name];
  const kind = adjustmentKind(name) as AdjustmentKind;
  return settings === undefined || isAtRest(name, settings) ? [] : kind.steps(settings as never, space);
}
