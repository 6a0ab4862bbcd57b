import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Size } from '#core/raster/size.ts';
import { RadianceCanvas } from '../../demo/radiance/canvas.ts';
import { DEMO_SETS } from '../../demo/sets.ts';

const OUT = 'demo/out/bench';
/** How far light reaches beyond a picture at each side, as a share of its width. */
const MARGIN = 0.05;

/** The light of a demo scene for pictures of a size, reaching beyond them; drawn once and kept. */
export function lightFor(name: string, { width, height }: Size): RadianceCanvas {
  const margin = 3 * Math.round((MARGIN * width) / 3);
  const path = join(OUT, `light-${name}-${width}.raw`);
  const canvas = new RadianceCanvas(width + 2 * margin, height + (4 * margin) / 3);
  if (!existsSync(path)) {
    const set = DEMO_SETS.find((each) => each.name === name);
    if (!set) throw new Error(`There is no set ${name}`);
    const drawn = set.radiance(canvas.width, 1, () => undefined, 0);
    mkdirSync(OUT, { recursive: true });
    writeFileSync(path, new Uint8Array(drawn.rgb.buffer));
  }
  const bytes = readFileSync(path);
  canvas.rgb.set(new Float32Array(bytes.buffer, bytes.byteOffset, canvas.rgb.length));
  return canvas;
}
