import { computed } from 'vue';
import { setAdjustment, setContent } from '#core/scene/edits/stack.ts';
import type { Content, PlacedPicture } from '#core/scene/item.ts';
import { middleOfCorners, movedBy, turned } from '#core/scene/placedPicture.ts';
import { type ScenePoint, useMaskTools } from '../../../stores/maskTools.ts';
import { usePicturePlace } from '../../../stores/picturePlace.ts';
import { useSession } from '../../../stores/session.ts';
import type { Drawing, Handle } from './canvasTool.ts';
import { stepHandles } from './stepHandles.ts';

type Corners = PlacedPicture['corners'];

const CORNER_NAMES = ['Upper left', 'Upper right', 'Lower right', 'Lower left'] as const;
const EDGE_NAMES = ['Upper', 'Right', 'Lower', 'Left'] as const;

const half = (a: ScenePoint, b: ScenePoint): ScenePoint => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });

/** What a layer shows lies on the canvas while no part of a mask is open: the ends of a run of two colours; corners and edges of a picture of
 * its own, a point to move it by and one to turn it by.
 * @param perPixel - Scene pixels for one of the page. */
export function useContentHandles(perPixel: () => number) {
  const tools = useMaskTools();
  const session = useSession();
  const place = usePicturePlace();
  const content = computed<Content | undefined>(() => (tools.part ? undefined : tools.layer?.content));
  const shown = computed<{ handles: Handle[]; drawing: Drawing } | undefined>(() => {
    const now = content.value;
    if (now && 'gradient' in now) return { handles: handlesOfRun(now.gradient), drawing: drawingOfRun(now.gradient) };
    if (now && 'picture' in now)
      return {
        // Handles are in the way of pairs.
        handles: tools.tool === 'pairs' ? [] : handlesOfCorners(now.picture.corners, 28 * perPixel()),
        drawing: drawingOfCorners(now.picture.corners, 28 * perPixel(), place.marks),
      };
    const { item } = tools;
    if (tools.part || item?.item !== 'adjustment') return undefined;
    return stepHandles(session.scene, item, perPixel());
  });
  function change(settings: object): void {
    const { layer, item } = tools;
    if (item?.item === 'adjustment') {
      session.dispatch(setAdjustment({ id: item.id, change: settings as never }), 'mask bench');
      return;
    }
    const now = content.value;
    if (!layer || !now) return;
    const next: Content | undefined =
      'gradient' in now
        ? { gradient: { ...now.gradient, ...settings } }
        : 'picture' in now
          ? { picture: { ...now.picture, ...settings } }
          : undefined;
    if (next) session.dispatch(setContent({ layerId: layer.id, content: next }), 'mask bench');
  }
  return { shown, change };
}

type Run = { start: ScenePoint; end: ScenePoint };
const handlesOfRun = ({ start, end }: Run): Handle[] => [
  { name: 'start', label: 'First colour', at: start, move: (to) => ({ start: to }) },
  { name: 'end', label: 'Second colour', at: end, move: (to) => ({ end: to }) },
];
const drawingOfRun = ({ start, end }: Run): Drawing => ({ line: [start, end] });

/** The point that turns a picture, and the middle of the edge that it hangs from.
 * @param reach - How far from the edge, towards the middle: so it is seen wherever the edge is. */
function knobOf(corners: Corners, reach: number): [ScenePoint, ScenePoint] {
  const [top, middle] = [half(corners[0], corners[1]), middleOfCorners(corners)];
  const apart = Math.hypot(top.x - middle.x, top.y - middle.y) || 1;
  const share = Math.min(reach / apart, 0.5);
  return [{ x: top.x + (middle.x - top.x) * share, y: top.y + (middle.y - top.y) * share }, top];
}

const drawingOfCorners = (corners: Corners, reach: number, pairs: Drawing['pairs']): Drawing => ({
  polygon: corners,
  line: knobOf(corners, reach),
  pairs,
});

/** @param reach - How far from the upper edge the point lies that turns it. */
function handlesOfCorners(corners: Corners, reach: number): Handle[] {
  const middle = middleOfCorners(corners);
  const moved = (which: readonly number[], from: ScenePoint) => (to: ScenePoint) => ({
    corners: movedBy(corners, which, to.x - from.x, to.y - from.y),
  });
  const [knob] = knobOf(corners, reach);
  const angle = ({ x, y }: ScenePoint) => (Math.atan2(y - middle.y, x - middle.x) * 180) / Math.PI;
  return [
    ...CORNER_NAMES.map((name, i) => ({
      ...{ name: `corner-${i}`, label: `${name} corner of the picture`, at: corners[i], move: moved([i], corners[i]) },
    })),
    ...EDGE_NAMES.map((name, i) => {
      const [a, b] = [i, (i + 1) % 4];
      const at = half(corners[a], corners[b]);
      return { name: `edge-${i}`, label: `${name} edge of the picture`, at, move: moved([a, b], at) };
    }),
    { name: 'middle', label: 'Move the picture', at: middle, move: moved([0, 1, 2, 3], middle) },
    {
      name: 'turn',
      label: 'Turn the picture',
      at: knob,
      move: (to) => ({ corners: turned(corners, angle(to) - angle(knob)) }),
    },
  ];
}
