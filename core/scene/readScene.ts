import { SCENE_VERSION, Scene } from './scene.ts';

/** Why a document is not a scene. `newer` documents come from a later program. */
export class SceneError extends Error {
  readonly code: 'newer' | 'invalid';
  readonly detail: string;
  constructor(code: 'newer' | 'invalid', detail: string) {
    super(`Scene ${code}: ${detail}`);
    this.name = 'SceneError';
    this.code = code;
    this.detail = detail;
  }
}

/** A document of an older version as one of the newest. Since version 1 frames have gained fields whose defaults say what
 * held before, so only the number changes. */
function migrated(data: unknown): unknown {
  const version = (data as { version?: unknown } | null)?.version;
  return typeof version === 'number' && version >= 1 && version < SCENE_VERSION
    ? { ...(data as object), version: SCENE_VERSION }
    : data;
}

/** A scene from stored data, of this version or an older one.
 * @throws {SceneError} when the data is of a newer version, or no scene. */
export function readScene(data: unknown): Scene {
  const version = (data as { version?: unknown } | null)?.version;
  if (typeof version === 'number' && version > SCENE_VERSION) {
    throw new SceneError('newer', `version ${version}, this program reads up to ${SCENE_VERSION}`);
  }
  const parsed = Scene.safeParse(migrated(data));
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new SceneError('invalid', `${issue.path.join('.') || 'document'}: ${issue.message}`);
  }
  return parsed.data;
}
