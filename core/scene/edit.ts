import type { z } from 'zod';
import type { Scene } from './scene.ts';

/** An edit as data: it can be stored, sent and applied again. */
export interface EditRecord {
  kind: string;
  params: unknown;
  /** When it was made, in milliseconds since 1970; of older ones nobody knows. */
  at?: number;
}

/** A way to change a scene, whatever its parameters. */
export interface AnyEdit {
  readonly kind: string;
  /** What the step is called in the history. */
  labelOf(params: unknown): string;
  /** Edits of one kind and one merge key within a drag are one step; undefined for those that never merge. */
  mergeKeyOf(params: unknown): string | undefined;
  /** @throws {ZodError} when the parameters do not fit. */
  applyTo(scene: Scene, params: unknown): Scene;
}

/** An edit whose parameters are known; calling it makes the record to dispatch. */
export interface EditKind<Given> extends AnyEdit {
  (params: Given): EditRecord;
}

/** Defines an edit. `apply` must be pure, and answer the same scene when there is nothing to change. */
export function defineEdit<P, Given>(definition: {
  kind: string;
  label: string | ((params: P) => string);
  params: z.ZodType<P, Given>;
  mergeKey?: (params: P) => string;
  apply: (scene: Scene, params: P) => Scene;
}): EditKind<Given> {
  const { kind, label, params, mergeKey, apply } = definition;
  const make = (given: Given): EditRecord => ({ kind, params: given });
  return Object.assign(make, {
    kind,
    labelOf: (given: unknown) => (typeof label === 'string' ? label : label(params.parse(given))),
    mergeKeyOf: (given: unknown) => mergeKey?.(params.parse(given)),
    applyTo: (scene: Scene, given: unknown) => apply(scene, params.parse(given)),
  });
}
