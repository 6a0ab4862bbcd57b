import simplify from 'simplify-js';
import { shallowRef } from 'vue';
import type { OutlinePart } from '#core/parts/outline.ts';
import type { ScenePoint } from '../../../stores/maskTools.ts';
import { type CanvasTool, distance, extended, type ShapeTool, type ToolContext } from './canvasTool.ts';

/** So many corners are dragged one by one; a freehand line has more. */
const MOST_HANDLES = 40;
/** A line of more points than this was drawn in one go. */
const MOST_CLICKS = 12;
/** How near the first corner a click closes the outline, in pixels of the page. */
const CLOSES_PX = 10;
const MOST_CORNERS = 4000;

const pointsOf = (corners: readonly number[]): ScenePoint[] =>
  Array.from({ length: corners.length / 2 }, (_, i) => ({ x: corners[2 * i], y: corners[2 * i + 1] }));

const tenths = (value: number): number => Math.round(value * 10) / 10;

/** Draws an outline: freehand in one go, or corner by corner. */
function drawOutline({ perPixel, commit, end }: ToolContext): CanvasTool {
  const path = shallowRef<readonly ScenePoint[]>([]);
  let beforePress: readonly ScenePoint[] = [];
  function close(): void {
    if (path.value.length >= 3) {
      const kept = simplify([...path.value], 0.7 * perPixel(), true).slice(0, MOST_CORNERS);
      commit({ corners: kept.flatMap(({ x, y }) => [tenths(x), tenths(y)]) });
    }
    path.value = [];
    end();
  }
  return {
    hint: 'Drag to draw, or click corner by corner; Enter or the first corner closes it. Escape cancels.',
    get path() {
      return path.value;
    },
    press: (at) => {
      beforePress = path.value;
      const [first] = path.value;
      if (path.value.length >= 3 && distance(at, first) < CLOSES_PX * perPixel()) close();
      else path.value = [...path.value, at];
    },
    move: (at) => {
      if (path.value.length > 0) path.value = extended(path.value, at, perPixel());
    },
    // A line drawn in one go closes itself; single clicks go on.
    release: () => {
      if (path.value.length > MOST_CLICKS) close();
    },
    lift: () => {
      path.value = beforePress;
    },
    cancel: () => {
      const was = path.value.length > 0;
      path.value = [];
      return was;
    },
    close,
  };
}

/** An outline: its corners, where there are few enough to drag. */
export const outlineTool: ShapeTool<OutlinePart> = {
  handles: ({ corners }) =>
    corners.length / 2 > MOST_HANDLES
      ? []
      : pointsOf(corners).map((at, i) => ({
          name: `corner-${i}`,
          label: `Corner ${i + 1}`,
          at,
          move: (to) => ({ corners: corners.toSpliced(2 * i, 2, to.x, to.y) }),
        })),
  drawing: ({ corners }) => ({ polygon: pointsOf(corners) }),
  draw: drawOutline,
};
