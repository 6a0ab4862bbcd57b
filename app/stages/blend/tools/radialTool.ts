import type { RadialPart } from '#core/parts/radial.ts';
import type { ScenePoint } from '../../../stores/maskTools.ts';
import { distance, dragTool, type ShapeTool } from './canvasTool.ts';

/** A point so far from the centre along the ellipse's own axes. */
function turnedFrom({ centre, turn }: RadialPart, dx: number, dy: number): ScenePoint {
  const angle = (turn * Math.PI) / 180;
  return {
    x: centre.x + dx * Math.cos(angle) - dy * Math.sin(angle),
    y: centre.y + dx * Math.sin(angle) + dy * Math.cos(angle),
  };
}

const radius = (part: RadialPart, to: ScenePoint): number => Math.max(1, distance(to, part.centre));
const angleTo = ({ centre }: RadialPart, to: ScenePoint): number =>
  (Math.atan2(to.y - centre.y, to.x - centre.x) * 180) / Math.PI;

/** An ellipse: its centre and its two radii, the first of which also rotates it. */
export const radialTool: ShapeTool<RadialPart> = {
  handles: (part) => [
    { name: 'centre', label: 'Centre', at: part.centre, move: (to) => ({ centre: to }) },
    {
      name: 'radiusX',
      label: 'First radius',
      at: turnedFrom(part, part.radiusX, 0),
      move: (to) => ({ radiusX: radius(part, to), turn: angleTo(part, to) }),
    },
    {
      name: 'radiusY',
      label: 'Second radius',
      at: turnedFrom(part, 0, part.radiusY),
      move: (to) => ({ radiusY: radius(part, to) }),
    },
  ],
  drawing: ({ centre, radiusX, radiusY, turn }) => ({ ellipse: { centre, radiusX, radiusY, turn } }),
  draw: (context) =>
    dragTool('Drag from the centre outwards. Escape cancels.', context, (centre, { x, y }) => ({
      centre,
      radiusX: Math.max(1, Math.abs(x - centre.x)),
      radiusY: Math.max(1, Math.abs(y - centre.y)),
      turn: 0,
    })),
};
