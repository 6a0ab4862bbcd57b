import { z } from 'zod';
import { faultOf } from '../develop/list.ts';
import { ItemId } from '../ids.ts';
import { isFill } from '../masks/stroke.ts';
import { kindOf, type Part } from '../parts/list.ts';
import type { Mask } from './mask.ts';
import { type Scene, Step, sceneSize } from './scene.ts';

/** Version of the file that this program writes. */
const VERSION = 1;
const MOST_NAME = 80;
const MOST_STEPS = 200;

/** Steps that finish a picture, under a name, and the longer side of the picture that their shapes lie on. */
export const StepSet = z.strictObject({
  name: z.string().trim().min(1).max(MOST_NAME),
  side: z.number().int().positive(),
  steps: z.array(Step).max(MOST_STEPS),
});
export type StepSet = z.infer<typeof StepSet>;

/** Why a file of steps was not taken, as a sentence that says what to do. */
export class StepSetError extends Error {
  constructor(sentence: string) {
    super(sentence);
    this.name = 'StepSetError';
  }
}

/** What a scene's steps are for another one: masks of tones and shapes come along; what was painted, and what follows other masks or shows pictures, stays. */
export function stepSetOf(scene: Scene, name: string): StepSet {
  const { width = 1, height = 1 } = sceneSize(scene) ?? {};
  const steps = scene.finish.map(
    (step): Step => ({
      ...step,
      mask: travelling(step.mask),
      guard: step.guard && travelling(step.guard),
      stencil: null,
      stencilOn: false,
    }),
  );
  return { name, side: Math.max(width, height), steps };
}

const travelling = (mask: Mask): Mask => ({ ...mask, parts: mask.parts.flatMap((part) => ofAnyScene(part) ?? []) });

function ofAnyScene(part: Part): Part | undefined {
  if (part.kind === 'reference' || part.kind === 'picture') return undefined;
  if ('source' in part && typeof part.source === 'string' && part.source.includes('frame:')) return undefined;
  if (part.kind !== 'painted') return part;
  return {
    ...part,
    strokes: part.strokes.filter((touch) => isFill(touch) && touch.outline === null && touch.stencil === null),
  };
}

/** Steps of a set as they lie on a scene: under new ids, shapes as large as the picture is.
 * @param idOf - A fresh id. */
export function stepsFor({ side, steps }: StepSet, scene: Scene, idOf: () => string): Step[] {
  const { width = side, height = side } = sceneSize(scene) ?? {};
  const by = Math.max(width, height) / side;
  const maskOf = (mask: Mask): Mask => ({
    ...mask,
    parts: mask.parts.map((part) => kindOf(part).withNearPlaces?.(part, (at) => at * by) ?? part),
  });
  return steps.map((step): Step => {
    const id = ItemId.parse(idOf());
    const laid = { ...step, id: id as never, mask: maskOf(step.mask), guard: step.guard && maskOf(step.guard) };
    if (laid.item !== 'adjustment' || laid.kind !== 'lights') return laid;
    const lights = laid.settings.lights as { x: number; y: number; radius: number }[];
    const scaled = lights.map((light) => ({ ...light, x: light.x * by, y: light.y * by, radius: light.radius * by }));
    return { ...laid, settings: { ...laid.settings, lights: scaled } };
  });
}

/** The text of a file with a set of steps: JSON, see docs/settings-file.md. */
export const writeStepSet = ({ name, side, steps }: StepSet): string =>
  `${JSON.stringify({ lusketSteps: VERSION, name, side, steps }, null, 2)}\n`;

/** Reads what {@link writeStepSet} has written.
 * @throws {StepSetError} */
export function readStepSet(text: string): StepSet {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    throw new StepSetError('This is not a set of steps: it holds no JSON. Choose a file that Lusket has written.');
  }
  const { lusketSteps: version, ...rest } = (raw ?? {}) as { lusketSteps?: unknown };
  if (typeof version === 'number' && version > VERSION)
    throw new StepSetError('This set was written by a newer Lusket. Open it with that one.');
  const read = StepSet.safeParse(rest);
  if (version !== VERSION || !read.success)
    throw new StepSetError('This is not a set of steps. Choose a file that Lusket has written.');
  const fault = faultOfSteps(read.data.steps);
  if (fault) throw new StepSetError(`This set holds ${fault}. Nothing was changed.`);
  return read.data;
}

/** What of steps this program does not know, or cannot take. */
export function faultOfSteps(steps: readonly Step[]): string | undefined {
  return steps
    .flatMap((step) => (step.item === 'adjustment' ? (faultOf({ [step.kind]: step.settings }, 'picture') ?? []) : []))
    .at(0);
}
