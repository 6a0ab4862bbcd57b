import { FrameId, ItemId } from '#core/ids.ts';
import type { Step } from '#core/scene/history.ts';
import type { Scene } from '#core/scene/scene.ts';
import { findItem } from '#core/scene/tree.ts';
import { titleOfAdjustment } from './develop/adjustmentWords.ts';
import { frameLabel, itemLabel } from './frameLabel.ts';

/** More are counted. */
const MOST_NAMED = 2;

/** What a step did and what it was about, in words: a card, or frames.
 * @param before - The scene before it: what the step took away was there. */
export function wordsOfStep({ label, edit, after }: Step, before: Scene): { label: string; about: string } {
  const params = edit.params as Record<string, unknown>;
  return { label: saysDeveloping(params) ?? label, about: cardOf(params, after, before) || framesOf(params, after) };
}

function cardOf(params: Record<string, unknown>, after: Scene, before: Scene): string {
  for (const name of ['id', 'owner', 'layerId', 'to', 'of']) {
    const id = params[name];
    if (typeof id !== 'string') continue;
    const scene = findItem(after, ItemId.parse(id)) ? after : before;
    const item = findItem(scene, ItemId.parse(id));
    if (item) return itemLabel(scene, item);
  }
  return '';
}

const list = (value: unknown): unknown[] => (Array.isArray(value) ? value : []);
const namesIn = (change: unknown): string[] => (change && typeof change === 'object' ? Object.keys(change) : []);

/** Which adjustments of frames were changed; undefined where none were, or more than can be named. */
function saysDeveloping({ frameIds, change, changes }: Record<string, unknown>): string | undefined {
  const each = list(changes).map((one) => (one as { change?: unknown }).change);
  const names = new Set([...each, ...(frameIds ? [change] : [])].flatMap(namesIn));
  return names.size > 0 && names.size <= MOST_NAMED ? [...names].map(titleOfAdjustment).join(', ') : undefined;
}

function framesOf({ frameId, frameIds, changes }: Record<string, unknown>, scene: Scene): string {
  const each = list(changes).map((one) => (one as { frameId?: unknown }).frameId);
  const ids = [frameId, ...list(frameIds), ...each].filter((id) => FrameId.safeParse(id).success) as FrameId[];
  if (ids.length > MOST_NAMED) return ids.length === scene.frames.length ? 'all frames' : `${ids.length} frames`;
  return ids
    .map((id) => frameLabel(scene, id))
    .filter(Boolean)
    .join(', ');
}
