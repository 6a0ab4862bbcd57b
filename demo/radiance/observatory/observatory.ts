import { type Bird, paintBird } from '../bird.ts';
import type { RadianceCanvas } from '../canvas.ts';
import { drawLight } from '../lens.ts';
import { paintClouds } from './clouds.ts';
import { paintDome } from './dome.ts';
import { paintHill, paintRanges } from './hills.ts';

/** The bird in each frame. */
const BIRD: readonly Bird[] = [
  { x: 0.33, y: 0.24, half: 0.013, lift: 0.5 },
  { x: 0.375, y: 0.222, half: 0.0132, lift: -0.25 },
  { x: 0.42, y: 0.21, half: 0.0134, lift: 0.15 },
];

/** Observatory: a white dome on a hilltop under breaking cloud, late in the afternoon.
 * @param width - Pixels; the picture is 3 : 2.
 * @param finer - How many times finer each way the light is drawn before it is averaged to pixels.
 * @param shot - Which of the three frames: the clouds drift and a bird flies between them.
 * @returns Linear light, unclipped; 1 is white at the middle exposure. */
export function radianceOfObservatory(
  width: number,
  finer: number,
  progress: (share: number) => void,
  shot: number,
): RadianceCanvas {
  return drawLight(width, finer, progress, (canvas) => {
    paintClouds(canvas, 0.035 * shot, (share) => progress(0.6 * share));
    paintRanges(canvas);
    // The hill last: walls rise out of its grass.
    paintDome(canvas);
    paintHill(canvas, (share) => progress(0.65 + 0.3 * share));
    paintBird(canvas, BIRD[shot % BIRD.length]);
  });
}
