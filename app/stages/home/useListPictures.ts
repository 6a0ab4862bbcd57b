import { onBeforeUnmount, shallowRef } from 'vue';
import { brushesOf } from '#core/scene/checkPoints.ts';
import { present } from '#core/scene/history.ts';
import { filesOf } from '#core/scene/places.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { BrowserEngine } from '#engine/browser/startEngine.ts';
import { Lane } from '#engine/lanes.ts';
import { pictureOfScene } from '../../drawing/pictureOfScene.ts';
import { getFile, getStroke, getThumb, type ListedScene, loadScene, putThumb } from '../../storage/sceneShelf.ts';
import { useEngine } from '../../stores/engine.ts';
import { useSession } from '../../stores/session.ts';

/** The list is there first. */
const SETTLING_MS = 600;

/** Draws pictures of stored scenes that have none, one after the other, while the list is shown. Scenes of which a file is missing
 * stay without; opening them tells why. */
export function useListPictures() {
  const engines = useEngine();
  const session = useSession();
  /** Scenes whose picture has been drawn. */
  const drawn = shallowRef<ReadonlySet<string>>(new Set());
  /** The scene that is drawn now. */
  const drawing = shallowRef<string>();
  let isStopped = false;
  let work: Promise<void> = Promise.resolve();

  function drawMissing(scenes: readonly ListedScene[]): void {
    const wanted = scenes.filter(({ head, problem }) => head.frames > 0 && !problem).map(({ head }) => head.id);
    work = work.then(() => drawAll(wanted));
  }

  async function drawAll(ids: readonly string[]): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, SETTLING_MS));
    for (const id of ids) {
      if (isStopped) break;
      try {
        if (await getThumb(id)) continue;
        drawing.value = id;
        await drawOne(id);
      } catch {
        // The list shows it without; opening it tells what is wrong.
      }
    }
    drawing.value = undefined;
  }

  async function drawOne(id: string): Promise<void> {
    const record = await loadScene(id);
    if (!record || isStopped) return;
    const scene = present(record.history);
    const running = await engines.start();
    try {
      if (!(await bring(scene, running))) return;
      running.engine.setScene(scene);
      const picture = await pictureOfScene(running.engine, scene);
      if (isStopped || !picture) return;
      await putThumb(id, picture);
      drawn.value = new Set([...drawn.value, id]);
    } finally {
      for (const file of filesOf(scene)) await running.codec.drop(file);
    }
  }

  /** Brings what a picture needs into memory; false when it cannot. */
  async function bring(scene: Scene, { engine, codec }: BrowserEngine): Promise<boolean> {
    for (const id of brushesOf(scene).keys()) {
      const points = engine.knowsStroke(id) ? undefined : await getStroke(id);
      if (points instanceof Float32Array) engine.addStrokePoints(id, points);
    }
    for (const { file, reading, ...size } of filesOf(scene)) {
      const stored = await getFile(file.sha256);
      if (!stored || isStopped) return false;
      await codec.load({ file: stored, name: file.name, reading }, size, () => undefined);
    }
    return !isStopped;
  }

  // A scene that is opened waits until memory is its own.
  onBeforeUnmount(() =>
    session.leave(async () => {
      isStopped = true;
      engines.running?.engine.advance(Lane.Load);
      engines.running?.codec.stopLoading();
      await work;
    }),
  );

  return { drawn, drawing, drawMissing };
}
