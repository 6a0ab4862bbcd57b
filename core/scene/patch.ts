/** How one value of plain data becomes another: replaced, or changed in some of its entries. Only what changed is in it, so that
 * it is small where two values share most of their parts. */
export type Patch =
  | { value: unknown }
  | { entries: [key: string, patch: Patch][]; dropped: string[] }
  | { items: [index: number, patch: Patch][]; length: number };

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

/** What changes `before` into `after`; undefined when they are the same. Parts are the same when they are one object: values that
 * share parts, as scenes before and after an edit do, are compared without going through what they share. */
export function patchOf(before: unknown, after: unknown): Patch | undefined {
  if (Object.is(before, after)) return undefined;
  if (!isObject(before) || !isObject(after) || Array.isArray(before) !== Array.isArray(after)) return { value: after };
  return Array.isArray(before) && Array.isArray(after) ? itemsPatch(before, after) : entriesPatch(before, after);
}

function itemsPatch(before: readonly unknown[], after: readonly unknown[]): Patch | undefined {
  const items: [number, Patch][] = [];
  for (let index = 0; index < after.length; index++) {
    const patch = index < before.length ? patchOf(before[index], after[index]) : { value: after[index] };
    if (patch) items.push([index, patch]);
  }
  return items.length > 0 || before.length !== after.length ? { items, length: after.length } : undefined;
}

function entriesPatch(before: Record<string, unknown>, after: Record<string, unknown>): Patch | undefined {
  const entries: [string, Patch][] = [];
  for (const [key, value] of Object.entries(after)) {
    const patch = Object.hasOwn(before, key) ? patchOf(before[key], value) : { value };
    if (patch) entries.push([key, patch]);
  }
  const dropped = Object.keys(before).filter((key) => !Object.hasOwn(after, key));
  return entries.length > 0 || dropped.length > 0 ? { entries, dropped } : undefined;
}

/** A value after a patch; what the patch does not change is shared with the value before.
 * @throws {RangeError} when the patch is of another value. */
export function applyPatch(before: unknown, patch: Patch | undefined): unknown {
  if (!patch) return before;
  if ('value' in patch) return patch.value;
  if ('items' in patch) {
    if (!Array.isArray(before)) throw new RangeError('The patch is of a list');
    const after = before.slice(0, patch.length);
    for (const [index, each] of patch.items) after[index] = applyPatch(before[index], each);
    return after;
  }
  if (!isObject(before) || Array.isArray(before)) throw new RangeError('The patch is of an object');
  const kept = Object.entries(before).filter(([key]) => !patch.dropped.includes(key));
  const after = Object.fromEntries(kept);
  for (const [key, each] of patch.entries) after[key] = applyPatch(before[key], each);
  return after;
}
