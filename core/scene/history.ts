import type { EditRecord } from './edit.ts';
import { applyEdit, editKind } from './edits/index.ts';
import type { Scene } from './scene.ts';
import { editOfThisVersion } from './upgrade.ts';

/** How many steps can be undone. */
export const HISTORY_STEPS = 200;

export interface Step {
  /** The edit of the step; of a drag the last, which says all. */
  edit: EditRecord;
  label: string;
  after: Scene;
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
}

export function newHistory(origin: Scene): History {
  return { origin, steps: [], done: 0, open: undefined };
}

/** The scene as it is now. */
export function present(history: History): Scene {
  return history.done === 0 ? history.origin : history.steps[history.done - 1].after;
}

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
  steps.push({ edit: record, label: editKind(record).label, after });
  const surplus = Math.max(0, steps.length - HISTORY_STEPS);
  const origin = surplus > 0 ? steps[surplus - 1].after : history.origin;
  const kept = steps.slice(surplus);
  return { origin, steps: kept, done: kept.length, open: open || undefined };
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

/** A history as it is stored: the origin and the edits, from which the scenes are made again. */
export interface StoredHistory {
  origin: Scene;
  steps: EditRecord[];
  done: number;
}

export function storeHistory(history: History): StoredHistory {
  return { origin: history.origin, steps: history.steps.map(({ edit }) => edit), done: history.done };
}

/** Brings a stored history back by applying its edits again.
 * @throws {ZodError} or {RangeError} when an edit does not fit. */
export function restoreHistory(stored: StoredHistory): History {
  let scene = stored.origin;
  const steps = stored.steps.map(editOfThisVersion).map((edit) => {
    scene = applyEdit(scene, edit);
    return { edit, label: editKind(edit).label, after: scene };
  });
  return { origin: stored.origin, steps, done: Math.min(stored.done, steps.length), open: undefined };
}
