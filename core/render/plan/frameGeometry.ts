import { lensOf } from '../../develop/lensOf.ts';
import { IDENTITY3 } from '../../raster/matrix3.ts';
import type { Frame } from '../../scene/frame.ts';
import type { FrameGeometry } from '../nodes/frameMap.ts';

/** How a frame comes into the scene. */
export const geometryOf = ({ placement, local, develop }: Frame): FrameGeometry => ({
  placement: placement?.matrix ?? IDENTITY3,
  local,
  lens: lensOf(develop),
});
