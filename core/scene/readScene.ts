import { checkScene } from './checkScene.ts';
import { type Evidence, separateEvidence } from './evidence.ts';
import type { Repairs } from './repairs.ts';
import { SCENE_VERSION, Scene } from './scene.ts';
import { SceneError } from './sceneError.ts';
import { toVersion4 } from './upgrade.ts';
import { toVersion5 } from './upgradeTree.ts';

/** A scene that was brought up to date and checked. */
export interface OpenedScene {
  scene: Scene;
  /** What searches found, as far as the document itself still had it. */
  evidence: Evidence;
  repairs: Repairs;
}

/** A document of an older version as one of the newest. Versions 2 and 3 only gave frames fields whose defaults say what
 * held before.
 * @throws {SceneError} when it is not even like a document of its version. */
function migrate(data: unknown): unknown {
  const version = (data as { version?: unknown } | null)?.version;
  if (typeof version !== 'number' || version < 1 || version >= SCENE_VERSION) return data;
  try {
    const tree =
      version < 5 ? toVersion5(version < 4 ? toVersion4(data as object) : (data as object)) : (data as object);
    // What finishes a picture was in no scene that could be opened.
    return { ...tree, version: SCENE_VERSION };
  } catch (error) {
    throw new SceneError('invalid', `version ${version}: ${(error as Error).message}`);
  }
}

/** The one way in for a scene, whether from a file or from storage: of this version or an older one.
 * @throws {SceneError} when the data is of a newer version, no scene, or one that cannot be computed. */
export function openScene(data: unknown): OpenedScene {
  const version = (data as { version?: unknown } | null)?.version;
  if (typeof version === 'number' && version > SCENE_VERSION) {
    throw new SceneError('newer', `version ${version}, this program reads up to ${SCENE_VERSION}`);
  }
  const document = migrate(data);
  const { data: bare, evidence } =
    document !== null && typeof document === 'object'
      ? separateEvidence(document)
      : { data: document, evidence: new Map() };
  const parsed = Scene.safeParse(bare);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new SceneError('invalid', `${issue.path.join('.') || 'document'}: ${issue.message}`);
  }
  return { ...checkScene(parsed.data), evidence };
}
