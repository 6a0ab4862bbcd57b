import { drawTwig, type RadianceCanvas } from './canvas.ts';

/** A bird in flight: where it is and half its span, in picture heights, and how far its wings are lifted, in half spans. */
export interface Bird {
  x: number;
  y: number;
  half: number;
  lift: number;
}

/** Paints a bird over what is there. */
export function paintBird(canvas: RadianceCanvas, { x, y, half, lift }: Bird): void {
  for (const side of [-1, 1]) {
    const [elbow, tip] = [x + side * half * 0.45, x + side * half];
    drawTwig(canvas, x, y, elbow, y - half * lift * 0.8, 0.0022, 0.0018, [0.02, 0.02, 0.022]);
    drawTwig(canvas, elbow, y - half * lift * 0.8, tip, y - half * lift * 0.25, 0.0018, 0.0005, [0.02, 0.02, 0.022]);
  }
  drawTwig(canvas, x - half * 0.22, y, x + half * 0.3, y - half * 0.05, 0.0018, 0.0026, [0.018, 0.018, 0.02]);
}

/** Paints a bird that passes while one frame is taken.
 * @returns Makes the light again what it was. */
export function passBird(canvas: RadianceCanvas, bird: Bird): () => void {
  const row = (y: number) => Math.min(canvas.height, Math.max(0, Math.round(y * canvas.height))) * canvas.width * 3;
  const [from, to] = [row(bird.y - 2 * bird.half), row(bird.y + 2 * bird.half)];
  const before = canvas.rgb.slice(from, to);
  paintBird(canvas, bird);
  return () => canvas.rgb.set(before, from);
}
