import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { addStroke, setGradient, setTone, setToneUse, tonePartOf } from '#core/scene/edits/masks.ts';
import { StrokeId } from '#core/scene/ids.ts';
import type { GradientPart, Stroke } from '#core/scene/mask.ts';
import { type Frame, newScene, type Scene } from '#core/scene/scene.ts';

/** A stroke of the bench and its points. */
export interface MadeStroke {
  stroke: Stroke;
  points: Float32Array;
}

/** A soft stroke across a picture, with a wave in it.
 * @param v - How far down, 0..1. */
export function strokeAcross(
  id: string,
  size: { width: number; height: number },
  v: number,
  diameter: number,
): MadeStroke {
  const points: number[] = [];
  for (let i = 0; i <= 60; i++) {
    points.push((i / 60) * size.width, size.height * (v + 0.02 * Math.sin(i / 4)), 0.5, i * 8);
  }
  const stroke: Stroke = {
    id: StrokeId.parse(id),
    target: 1,
    size: diameter,
    hardness: 0,
    strength: 0.4,
    flow: 1,
    pressure: 'none',
    stencil: null,
  };
  return { stroke, points: Float32Array.from(points) };
}

/** A scene in which every layer has light or dark tones laid as its mask and is painted over twice, one of the strokes
 * through a stencil; the first layer has a gradient in its mask as well. */
export function busyScene(frames: readonly Frame[]): { scene: Scene; strokes: MadeStroke[] } {
  let scene = applyEdit(newScene('Bench'), addFrames({ frames: [...frames] }));
  const strokes: MadeStroke[] = [];
  for (const [index, { id: layerId }] of scene.stack.entries()) {
    scene = applyEdit(scene, setTone({ layerId, tone: { side: index % 2 ? 'dark' : 'light', narrowing: 1 } }));
    scene = applyEdit(scene, setToneUse({ layerId, use: 'mask' }));
    if (index === 0) scene = applyEdit(scene, setGradient({ layerId, gradient: fallOver(frames[0]) }));
    const tone = tonePartOf(scene.stack[index]);
    for (const v of [0.25, 0.6]) {
      const made = strokeAcross(
        `bench-${frames[0].width}-${index}-${v}`,
        frames[0],
        v + index * 0.05,
        frames[0].height / 5,
      );
      made.stroke = { ...made.stroke, stencil: tone && v > 0.5 ? { tone } : null };
      strokes.push(made);
      scene = applyEdit(scene, addStroke({ layerId, stroke: made.stroke }));
    }
  }
  return { scene, strokes };
}

/** A gradient over the middle third of a picture. */
function fallOver({ width, height }: { width: number; height: number }): GradientPart {
  return {
    kind: 'gradient',
    join: 'intersect',
    enabled: true,
    start: { x: width / 2, y: height / 3 },
    end: { x: width * 0.55, y: (height * 2) / 3 },
    profile: 'smooth',
    middle: 0.5,
  };
}
