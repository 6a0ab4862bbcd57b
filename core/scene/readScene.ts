import { SCENE_VERSION, Scene } from './scene.ts';
import { toVersion4 } from './upgrade.ts';

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

/** A document of an older version as one of the newest. Versions 2 and 3 only gave frames fields whose defaults say what
 * held before.
 * @throws {SceneError} when it is not even like a document of its version. */
function migrated(data: unknown): unknown {
  const version = (data as { version?: unknown } | null)?.version;
  if (typeof version !== 'number' || version < 1 || version >= SCENE_VERSION) return data;
  try {
    return toVersion4(data as object);
  } catch (error) {
    throw new SceneError('invalid', `version ${version}: ${(error as Error).message}`);
  }
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
