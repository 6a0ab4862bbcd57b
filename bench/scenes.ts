import { type LayerId, StrokeId } from '#core/ids.ts';
import { WHOLE_RANGE } from '#core/masks/range.ts';
import { plainStroke, type Stroke } from '#core/masks/stroke.ts';
import type { GradientPart } from '#core/parts/gradient.ts';
import type { Part } from '#core/parts/list.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { newTonePart } from '#core/parts/tone.ts';
import { AT_REST, type Refinements } from '#core/refinements/list.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { addPart, setRefinement } from '#core/scene/edits/masks.ts';
import { setGradient, setTone, setToneUse, tonePartOf } from '#core/scene/edits/older.ts';
import { addStroke } from '#core/scene/edits/painting.ts';
import type { Frame } from '#core/scene/frame.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { layersOf } from '#core/scene/tree.ts';

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
  const stroke: Stroke = { ...plainStroke(StrokeId.parse(id)), size: diameter, hardness: 0, strength: 0.4 };
  return { stroke, points: Float32Array.from(points) };
}

/** A scene in which every layer has light or dark tones laid as its mask and is painted over twice, one of the strokes
 * through a stencil; the first layer has a gradient in its mask as well. */
export function busyScene(frames: readonly Frame[]): { scene: Scene; strokes: MadeStroke[] } {
  let scene = applyEdit(newScene('Bench'), addFrames({ frames: [...frames] }));
  const strokes: MadeStroke[] = [];
  for (const [index, { id: layerId }] of layersOf(scene).entries()) {
    scene = applyEdit(scene, setTone({ layerId, tone: { side: index % 2 ? 'dark' : 'light', narrowing: 1 } }));
    scene = applyEdit(scene, setToneUse({ layerId, use: 'mask' }));
    if (index === 0) scene = applyEdit(scene, setGradient({ layerId, gradient: fallOver(frames[0]) }));
    const tone = tonePartOf(layersOf(scene)[index]);
    for (const v of [0.25, 0.6]) {
      const made = strokeAcross(
        `bench-${frames[0].width}-${index}-${v}`,
        frames[0],
        v + index * 0.05,
        frames[0].height / 5,
      );
      const through = tone && v > 0.5 ? { of: null, seenFrom: null, mask: maskOfParts([tone]) } : null;
      strokes.push(made);
      scene = applyEdit(scene, addStroke({ owner: layerId, stroke: made.stroke, through }));
    }
  }
  return { scene, strokes };
}

/** A gradient over the middle third of a picture. */
function fallOver({ width, height }: { width: number; height: number }): GradientPart {
  return {
    ...plainPart('gradient'),
    kind: 'gradient',
    join: 'intersect',
    start: { x: width / 2, y: height / 3 },
    end: { x: width * 0.55, y: (height * 2) / 3 },
    profile: 'smooth',
    middle: 0.5,
  };
}

/** The scene with eight parts in a layer's mask, some of them refined, and the whole fitted to edges and filled. */
export function withEightParts(scene: Scene, layerId: LayerId): Scene {
  const { width, height } = scene.frames[0];
  const [first, second] = scene.frames;
  const refine = (change: Partial<Refinements>): Refinements => ({ ...AT_REST, ...change });
  const parts: Part[] = [
    {
      kind: 'colour',
      ...plainPart('colour'),
      join: 'subtract',
      source: 'base',
      hue: { centre: 60, width: 20, shoulder: 20 },
      chroma: { ...WHOLE_RANGE, from: 0.1, fromShoulder: 0.05 },
      lightness: WHOLE_RANGE,
      refine: refine({ softness: 6 }),
    },
    { ...newTonePart('below'), side: 'middle', join: 'add', refine: refine({ strength: 0.5 }) },
    { ...fallOver(first), join: 'intersect' },
    {
      kind: 'radial',
      ...plainPart('radial'),
      centre: { x: width / 2, y: height / 2 },
      radiusX: width / 3,
      radiusY: height / 4,
      turn: 20,
      feather: 0.6,
    },
    {
      kind: 'outline',
      ...plainPart('outline'),
      join: 'subtract',
      corners: [0.1, 0.6, 0.4, 0.55, 0.5, 0.8, 0.2, 0.9].map((share, i) => share * (i % 2 ? height : width)),
      feather: 40,
    },
    {
      kind: 'difference',
      ...plainPart('difference'),
      first: first.id,
      second: second.id,
      stops: null,
      mode: 'any',
      around: 60,
      from: 0.06,
      shoulder: 0.1,
      refine: refine({ grow: 6 }),
    },
  ];
  const edits = [
    ...parts.map((part) => addPart({ owner: layerId, part })),
    setRefinement({
      owner: layerId,
      part: null,
      change: {
        edgeFit: { guide: 'base', radius: 12, contrast: 0.05 },
        coreFill: { amount: 0.7, reach: 60, from: 0.25 },
      },
    }),
  ];
  return edits.reduce(applyEdit, scene);
}
