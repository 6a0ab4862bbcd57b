import { z } from 'zod';
import type { FrameId } from '#core/ids.ts';
import type { EditRecord } from '#core/scene/edit.ts';
import {
  type Evidence,
  type FrameEvidence,
  readEvidence,
  type StoredEvidence,
  storeEvidence,
} from '#core/scene/evidence.ts';
import {
  type History,
  type NamedStep,
  newHistory,
  present,
  replay,
  restoreHistory,
  type StoredSteps,
  storeSteps,
} from '#core/scene/history.ts';
import { openScene } from '#core/scene/readScene.ts';
import type { Repairs } from '#core/scene/repairs.ts';
import type { Scene } from '#core/scene/scene.ts';
import { SceneError } from '#core/scene/sceneError.ts';
import { editsOfThisVersion } from '#core/scene/upgrade.ts';

/** The newest form of a record that this program writes and reads. In the first the scene was only what its edits led to. */
export const RECORD_FORMAT = 2;

/** What of a record is shown in a list. */
export const RecordHead = z.object({
  id: z.string().min(1),
  name: z.string(),
  createdAt: z.number(),
  updatedAt: z.number(),
  frames: z.number().int().nonnegative(),
});
export type RecordHead = z.infer<typeof RecordHead>;

/** A scene as it is stored: as it is now, and beside it what undoing takes, what searches found, and how its bench was left. */
export interface SceneRecord extends RecordHead {
  format: typeof RECORD_FORMAT;
  scene: Scene;
  undo: StoredSteps;
  evidence: StoredEvidence;
  bench: unknown;
}

/** A record that was brought up to date and checked. */
export interface OpenedRecord {
  head: RecordHead;
  history: History;
  evidence: Evidence;
  repairs: Repairs;
  bench: unknown;
}

const Steps = z.object({
  steps: z.array(z.object({ kind: z.string(), params: z.unknown(), at: z.number().optional() })),
  done: z.number().int().nonnegative(),
});

const Named = z.array(z.object({ name: z.string(), at: z.number(), scene: z.unknown() }));

/** The one way in for a stored record, whoever reads it.
 * @throws {SceneError} `newer` when a later program wrote it, or when its scene cannot be opened. */
export function openRecord(raw: unknown): OpenedRecord {
  const format = (raw as { format?: unknown } | null)?.format ?? 1;
  if (typeof format === 'number' && format > RECORD_FORMAT) throw new SceneError('newer', `record ${format}`);
  const head = RecordHead.safeParse(raw);
  if (!head.success) throw new SceneError('invalid', `record: ${head.error.issues[0].path.join('.')}`);
  const { history, undo, scene, evidence, bench = null } = raw as Record<string, unknown>;
  if (format === 1) return { head: head.data, bench, ...openFirstFormat(history) };
  const opened = openScene(scene);
  return {
    head: head.data,
    history: restore(opened.scene, undo),
    evidence: readEvidence(evidence),
    repairs: opened.repairs,
    bench,
  };
}

/** The history of a scene; without past when that cannot be read any more. */
function restore(scene: Scene, undo: unknown): History {
  const parsed = Steps.safeParse(undo);
  if (!parsed.success) return newHistory(scene);
  try {
    const { scene: origin, steps } = openSteps(undo, parsed.data.steps as EditRecord[]);
    return restoreHistory(scene, { origin, steps, done: parsed.data.done, named: openNamed(undo) });
  } catch {
    return newHistory(scene);
  }
}

/** Steps that were kept by name; those that cannot be opened any more are left out. */
function openNamed(stored: unknown): NamedStep[] {
  const parsed = Named.safeParse((stored as { named?: unknown }).named ?? []);
  if (!parsed.success) return [];
  return parsed.data.flatMap((each) => {
    try {
      return { ...each, scene: openScene(each.scene).scene };
    } catch {
      return [];
    }
  });
}

/** Where stored edits began, and the edits as they are now. */
function openSteps(stored: unknown, edits: readonly EditRecord[]) {
  const { origin } = stored as { origin?: { version?: number } };
  const opened = openScene(origin);
  return { ...opened, steps: editsOfThisVersion(edits, { ...opened, version: origin?.version ?? 1 }) };
}

/** A record in which the scene was what its edits led to: they are applied for the last time. */
function openFirstFormat(stored: unknown): Pick<OpenedRecord, 'history' | 'evidence' | 'repairs'> {
  const parsed = Steps.safeParse(stored);
  if (!parsed.success) throw new SceneError('invalid', 'record: history');
  const { scene: origin, evidence, steps } = openSteps(stored, parsed.data.steps as EditRecord[]);
  const undo = { origin, steps, done: parsed.data.done };
  let now: Scene;
  try {
    now = replay(undo);
  } catch (error) {
    throw new SceneError('invalid', `record: ${(error as Error).message}`);
  }
  const opened = openScene(now);
  const seen = new Map([...evidence, ...evidenceIn(parsed.data.steps.slice(0, undo.done))]);
  return { history: restoreHistory(opened.scene, undo), evidence: seen, repairs: opened.repairs };
}

/** What edits of old said that searches had found. */
function evidenceIn(steps: readonly { kind: string; params?: unknown }[]): [FrameId, FrameEvidence][] {
  const Found = z.object({
    found: z.array(z.object({ frameId: z.string(), placement: z.unknown(), compared: z.unknown().optional() })),
  });
  return steps.flatMap(({ kind, params }) => {
    const parsed = kind === 'frames.takePlacements' ? Found.safeParse(params) : undefined;
    const found = parsed?.data?.found ?? [];
    return found.flatMap(({ frameId, placement, compared = [] }) => [
      ...readEvidence([{ frameId, found: placement, compared }]),
    ]);
  });
}

/** A record to be stored. */
export function recordOf(
  head: Omit<RecordHead, 'name' | 'frames'>,
  history: History,
  evidence: Evidence,
  bench: unknown,
): SceneRecord {
  const scene = present(history);
  return {
    ...head,
    format: RECORD_FORMAT,
    name: scene.name,
    frames: scene.frames.length,
    scene,
    undo: storeSteps(history),
    evidence: storeEvidence(evidence),
    bench,
  };
}

/** A record of any form as one of this; the same when it is one already, or cannot be opened. */
export function upToDate(raw: unknown): unknown {
  if ((raw as { format?: unknown } | null)?.format !== undefined) return raw;
  try {
    const { head, history, evidence, bench } = openRecord(raw);
    return recordOf(head, history, evidence, bench);
  } catch {
    return raw; // whoever opens it is told why
  }
}

/** All texts in a record, wherever they stand: whatever is stored under one of them belongs to it, however damaged it is. */
export function textsIn(value: unknown, into: Set<string> = new Set()): Set<string> {
  const rest = [value];
  for (let next = rest.pop(); next !== undefined || rest.length > 0; next = rest.pop()) {
    if (typeof next === 'string') into.add(next);
    else if (typeof next === 'object' && next !== null) rest.push(...Object.values(next), ...Object.keys(next));
  }
  return into;
}
