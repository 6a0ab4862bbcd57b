import type { EditRecord } from './edit.ts';
import { applyEdit, editKind } from './edits/index.ts';
import type { Scene } from './scene.ts';

/** How many steps can be undone. */
export const HISTORY_STEPS = 200;

export interface Step {
  /** The edit of the step; of a drag the last, which says all. */
  edit: EditRecord;
  label: string;
  after: Scene;
}

/** A step with a name of the user's: it is kept however many follow. */
export interface NamedStep {
  name: string;
  scene: Scene;
  /** When it was named, in milliseconds since 1970. */
  at: number;
}

/** A scene with its past and its undone future. Immutable: every operation answers another history. */
export interface History {
  /** The scene before the first step that is kept. */
  readonly origin: Scene;
  readonly steps: readonly Step[];
  /** How many steps are done; those after it are undone. */
  readonly done: number;
  /** A drag in progress belongs to this step, so that it merges; undefined between drags. */
  readonly open: string | undefined;
  /** Steps that are kept by name, the oldest first. */
  readonly named: readonly NamedStep[];
}

export function newHistory(origin: Scene): History {
  return { origin, steps: [], done: 0, open: undefined, named: [] };
}

/** The scene as it is now. */
export const present = (history: History): Scene => sceneAfter(history, history.done);

function mergeKeyOf(record: EditRecord): string | undefined {
  const key = editKind(record).mergeKeyOf(record.params);
  return key === undefined ? undefined : `${record.kind}:${key}`;
}

/** Applies an edit as a new step, or as a continuation of the drag in progress. What was undone is forgotten.
 * @param drag - Names the drag that the edit belongs to; edits of one drag that can merge become one step. */
export function dispatch(history: History, record: EditRecord, drag?: string): History {
  const mergeKey = drag && mergeKeyOf(record);
  const open = mergeKey && `${drag}:${mergeKey}`;
  const continues = open !== undefined && open === history.open;
  // A continued drag starts again from where it began, so that the last edit alone gives the same scene when replayed.
  const before = continues ? present(undo(history)) : present(history);
  const after = applyEdit(before, record);
  if (after === before && !continues) return history;
  const steps = history.steps.slice(0, continues ? history.done - 1 : history.done);
  steps.push({ edit: record, label: editKind(record).labelOf(record.params), after });
  const surplus = Math.max(0, steps.length - HISTORY_STEPS);
  const origin = surplus > 0 ? steps[surplus - 1].after : history.origin;
  const kept = steps.slice(surplus);
  return { ...history, origin, steps: kept, done: kept.length, open: open || undefined };
}

/** Ends a drag; the next edit is a step of its own. */
export function closeDrag(history: History): History {
  return history.open ? { ...history, open: undefined } : history;
}

/** Gives up a drag: the scene is as before it. */
export function cancelDrag(history: History): History {
  if (!history.open) return history;
  return { ...history, steps: history.steps.slice(0, -1), done: history.done - 1, open: undefined };
}

export function undo(history: History): History {
  return history.done === 0 ? history : { ...history, done: history.done - 1, open: undefined };
}

export function redo(history: History): History {
  return history.done === history.steps.length ? history : { ...history, done: history.done + 1, open: undefined };
}

/** Goes to where so many steps are done, there and back. */
export function goTo(history: History, done: number): History {
  const to = Math.min(history.steps.length, Math.max(0, Math.round(done)));
  return to === history.done ? history : { ...history, done: to, open: undefined };
}

/** Keeps the scene as it is after so many steps under a name; one of that name before it is kept no more. */
export function nameStep(history: History, done: number, name: string, at: number): History {
  const scene = sceneAfter(history, done);
  return { ...history, named: [...history.named.filter((each) => each.name !== name), { name, scene, at }] };
}

export const forgetNamed = (history: History, name: string): History => ({
  ...history,
  named: history.named.filter((each) => each.name !== name),
});

/** How many steps are done where a named one is; undefined when the steps begin after it. */
export function placeOfNamed({ origin, steps }: History, { scene }: NamedStep): number | undefined {
  if (scene === origin) return 0;
  const index = steps.findIndex(({ after }) => after === scene);
  return index < 0 ? undefined : index + 1;
}

/** The scene after so many steps. */
export const sceneAfter = ({ origin, steps }: History, done: number): Scene =>
  done === 0 ? origin : steps[done - 1].after;

/** What undoing takes, as it is stored beside the scene: where the steps began, and the edits. */
export interface StoredSteps {
  origin: Scene;
  steps: EditRecord[];
  done: number;
  named?: readonly NamedStep[];
}

export const storeSteps = ({ origin, steps, done, named }: History): StoredSteps => ({
  origin,
  steps: steps.map(({ edit }) => edit),
  done,
  named,
});

/** Brings a stored history back. The scene is what it was, whatever edits do by now: they are applied again for undoing and redoing
 * only. Edits that do not fit any more are forgotten, with those before them.
 * @param now - The scene as it was stored. */
export function restoreHistory(now: Scene, stored: StoredSteps): History {
  const done = Math.min(stored.done, stored.steps.length);
  const past = stepsFrom(stored.origin, stored.steps.slice(0, done));
  if (past && past.length > 0) past[past.length - 1] = { ...past[past.length - 1], after: now };
  const future = stepsFrom(now, stored.steps.slice(done)) ?? [];
  const origin = past && past.length > 0 ? stored.origin : now;
  const steps = [...(past ?? []), ...future];
  const all = [origin, ...steps.map(({ after }) => after)];
  // A step that is still there is itself, so that it is found among the others.
  const named = (stored.named ?? []).map((each) => {
    const text = JSON.stringify(each.scene);
    return { ...each, scene: all.find((scene) => JSON.stringify(scene) === text) ?? each.scene };
  });
  return { origin, steps, done: past?.length ?? 0, open: undefined, named };
}

/** The steps that edits are, one after the other; undefined when one of them does not fit. */
function stepsFrom(origin: Scene, edits: readonly EditRecord[]): Step[] | undefined {
  let scene = origin;
  const steps: Step[] = [];
  try {
    for (const edit of edits) {
      scene = applyEdit(scene, edit);
      steps.push({ edit, label: editKind(edit).labelOf(edit.params), after: scene });
    }
  } catch {
    return undefined;
  }
  return steps;
}

/** The scene that edits lead to: all that was stored once.
 * @throws {ZodError} or {RangeError} when an edit does not fit. */
export function replay({ origin, steps, done }: StoredSteps): Scene {
  return steps.slice(0, done).reduce(applyEdit, origin);
}
