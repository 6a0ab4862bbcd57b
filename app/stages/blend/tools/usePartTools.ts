import { computed } from 'vue';
import type { Part } from '#core/parts/list.ts';
import { type ScenePoint, useMaskTools } from '../../../stores/maskTools.ts';
import { usePicturePlace } from '../../../stores/picturePlace.ts';
import { useSession } from '../../../stores/session.ts';
import type { CanvasTool, Drawing, Handle, ShapeTool, ToolContext } from './canvasTool.ts';
import { curveTool } from './curveTool.ts';
import { gradientTool } from './gradientTool.ts';
import { outlineTool } from './outlineTool.ts';
import { radialTool } from './radialTool.ts';
import { scribbleTool } from './scribbleTool.ts';
import { useContentHandles } from './useContentHandles.ts';
import { usePickedCurve } from './usePickedCurve.ts';

/** Parts that are seen and dragged on the canvas. */
const SHAPES: Partial<Record<Part['kind'], ShapeTool<never>>> = {
  gradient: gradientTool,
  radial: radialTool,
  outline: outlineTool,
};

/** Where align counts a place from: the middle of the first pixel. */
const fromMiddle = ({ x, y }: ScenePoint): ScenePoint => ({ x: x - 0.5, y: y - 0.5 });

/** What the canvas has for the open part: the tool that is taken up, and the part's own shape and handles.
 * @param perPixel - Scene pixels for one of the page.
 * @param pick - Takes tones or colours along a line. */
export function usePartTools(perPixel: () => number, pick: (path: readonly ScenePoint[]) => void) {
  const tools = useMaskTools();
  const session = useSession();
  const context: ToolContext = {
    perPixel,
    preview: tools.preview,
    commit: tools.commit,
    closeDrag: session.closeDrag,
    end: () => {
      tools.tool = 'brush';
    },
  };
  const mark = (which: 'this' | 'notThis') => (path: readonly ScenePoint[]) => {
    tools.marks = { ...tools.marks, [which]: [...tools.marks[which], ...path] };
  };

  const picked = usePickedCurve();
  const place = usePicturePlace();
  const kind = computed(() => tools.part?.kind);
  const shape = computed(() => kind.value && SHAPES[kind.value]);
  const tool = computed<CanvasTool | undefined>(() => {
    switch (tools.tool) {
      case 'draw':
        return shape.value?.draw(context);
      case 'in':
        return scribbleTool(
          () => 'Click or drag over what to include; again to widen the range. Escape ends.',
          context,
          pick,
        );
      case 'out':
        return scribbleTool(() => 'Click or drag over what to exclude. Escape ends.', context, pick);
      case 'colour':
        return scribbleTool(
          () => 'Click the colour, or drag over what to take the middle of. Escape ends.',
          context,
          pick,
        );
      case 'curve':
        return curveTool('Press a tone of the picture and drag it up or down. Escape ends.', context, picked);
      case 'this':
        return scribbleTool(() => 'Scribble over what you want.', context, mark('this'));
      case 'notThis':
        return scribbleTool(() => 'Scribble over what you do not want.', context, mark('notThis'));
      case 'pairs':
        return scribbleTool(
          () =>
            place.pairs.isSnapping
              ? 'Finding the exact point…'
              : place.pairs.pending
                ? 'Now click the same point on the laid picture.'
                : 'Click a point of the base, seen through the picture; then the same point on the picture. Escape ends.',
          context,
          (path) => void place.pairs.put(fromMiddle(path[0])),
        );
      default:
        return undefined;
    }
  });
  const content = useContentHandles(perPixel);
  const isDrawing = computed(() => tools.tool === 'draw');
  const handles = computed<Handle[]>(() =>
    content.shown.value
      ? content.shown.value.handles
      : tools.part && !(isDrawing.value && kind.value === 'outline')
        ? (shape.value?.handles(tools.part as never) ?? [])
        : [],
  );
  const drawing = computed<Drawing>(() =>
    content.shown.value
      ? content.shown.value.drawing
      : tools.part && !(isDrawing.value && kind.value === 'outline')
        ? (shape.value?.drawing(tools.part as never) ?? {})
        : {},
  );
  const preview = (settings: object) => (content.shown.value ? content.change(settings) : tools.preview(settings));
  const commit = (settings: object) => {
    preview(settings);
    session.closeDrag();
  };
  return { tool, handles, drawing, preview, commit };
}
