import { onBeforeUnmount, watch } from 'vue';
import type { Scene } from '#core/scene/scene.ts';
import type { Engine } from '#engine/engine.ts';
import { pictureOfScene } from '../drawing/pictureOfScene.ts';
import { putThumb } from '../storage/sceneShelf.ts';
import { useEngine } from '../stores/engine.ts';
import { useFrames } from '../stores/frames.ts';
import { useSession } from '../stores/session.ts';

/** The hand has rested so long before a picture is drawn for the list. */
const RESTING_MS = 4000;

/** Draws a scene's picture for the list, if it can be drawn, and keeps it.
 * @param isStill - Whether the engine has that scene yet once it is drawn. */
export async function keepPicture(
  engine: Engine,
  sceneId: string,
  scene: Scene,
  isStill: () => boolean = () => true,
): Promise<void> {
  const picture = scene.frames.length > 0 ? await pictureOfScene(engine, scene) : undefined;
  if (picture && isStill()) await putThumb(sceneId, picture);
}

/** Keeps the picture of the open scene current, so that the list has it whenever the tab is closed. */
export function useScenePicture(): void {
  const session = useSession();
  const frames = useFrames();
  const engines = useEngine();
  let timer: ReturnType<typeof setTimeout> | undefined;

  async function keep(): Promise<void> {
    const { scene, sceneId } = session;
    if (!engines.running || !sceneId || session.gone || session.readOnly || frames.reading) return;
    // A full disk is told of when the scene itself is stored.
    const isStill = () => session.scene === scene && session.sceneId === sceneId;
    await keepPicture(engines.running.engine, sceneId, scene, isStill).catch(() => undefined);
  }
  watch(
    () => [session.scene, frames.reading],
    () => {
      clearTimeout(timer);
      timer = setTimeout(() => void keep(), RESTING_MS);
    },
  );
  onBeforeUnmount(() => clearTimeout(timer));
}
