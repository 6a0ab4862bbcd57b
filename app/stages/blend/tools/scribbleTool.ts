import { shallowRef } from 'vue';
import type { ScenePoint } from '../../../stores/maskTools.ts';
import { type CanvasTool, extended, type ToolContext } from './canvasTool.ts';

/** A tool that takes a line over the picture: to pick tones or colours under it, or to mark what lies there.
 * @param hint - Asked again whenever it is shown, so that another one does not take the tool out of the hand in the middle of a press.
 * @param take - Told the line when it ends. */
export function scribbleTool(
  hint: () => string,
  { perPixel }: ToolContext,
  take: (path: readonly ScenePoint[]) => void,
): CanvasTool {
  const path = shallowRef<readonly ScenePoint[]>([]);
  return {
    get hint() {
      return hint();
    },
    get path() {
      return path.value;
    },
    press: (at) => {
      path.value = [at];
    },
    move: (at) => {
      if (path.value.length > 0) path.value = extended(path.value, at, perPixel());
    },
    release: () => {
      const along = path.value;
      path.value = [];
      if (along.length > 0) take(along);
    },
    lift: () => {
      path.value = [];
    },
    cancel: () => {
      path.value = [];
      return false;
    },
  };
}
