import type { StrokeId } from './ids.ts';
import type { Scene } from './scene.ts';

/** Ids of all strokes that a scene's masks hold. */
export function strokesOf(scene: Scene): StrokeId[] {
  return scene.stack.flatMap(({ mask }) =>
    mask.parts.flatMap((part) => (part.kind === 'painted' ? part.strokes.map(({ id }) => id) : [])),
  );
}
