import type { GradientPart } from '#core/parts/gradient.ts';
import type { ScenePoint } from '../../../stores/maskTools.ts';
import { dragTool, type ShapeTool } from './canvasTool.ts';

const mix = (a: ScenePoint, b: ScenePoint, t: number): ScenePoint => ({
  x: a.x + (b.x - a.x) * t,
  y: a.y + (b.y - a.y) * t,
});

/** How far along the gradient a point lies. */
function along({ start, end }: GradientPart, { x, y }: ScenePoint): number {
  const [dx, dy] = [end.x - start.x, end.y - start.y];
  return ((x - start.x) * dx + (y - start.y) * dy) / Math.max(1, dx * dx + dy * dy);
}

/** A gradient: its two ends, and the point between them where it has fallen by half. */
export const gradientTool: ShapeTool<GradientPart> = {
  handles: (part) => [
    { name: 'start', label: 'Start', at: part.start, move: (to) => ({ start: to }) },
    { name: 'end', label: 'End', at: part.end, move: (to) => ({ end: to }) },
    {
      name: 'middle',
      label: 'Midpoint',
      at: mix(part.start, part.end, part.middle),
      move: (to) => ({ middle: Math.min(0.95, Math.max(0.05, along(part, to))) }),
    },
  ],
  drawing: ({ start, end }) => ({ line: [start, end] }),
  draw: (context) =>
    dragTool('Drag from where it starts to where it ends. Escape cancels.', context, (start, end) => ({ start, end })),
};
