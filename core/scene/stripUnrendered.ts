import type { Frame } from './frame.ts';
import type { Scene } from './scene.ts';

const known = new WeakMap<Frame, Frame>();

/** What of a scene decides its pixels: without names, shot data and what was said of placements. Frames that did not change stay
 * the same objects. */
export const stripUnrendered = (scene: Scene): Scene => ({
  ...scene,
  name: '',
  frames: scene.frames.map(renderedFrame),
});

function renderedFrame(frame: Frame): Frame {
  const before = known.get(frame);
  if (before) return before;
  const { placement, shot } = frame;
  const bare: Frame = {
    ...frame,
    exif: {},
    shot: { ...shot, exposureTime: null, fNumber: null, iso: null, takenAt: null },
    moment: '',
    label: '',
    choice: 'pick',
    apart: false,
    placement: placement && { ...placement, reason: null, verdict: null, residualPx: null, agreement: null },
  };
  known.set(frame, bare);
  return bare;
}
