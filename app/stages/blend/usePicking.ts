import { lmsMatrix, oklchOf } from '#core/color/oklab.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import { colourRangesOf, colourRangesWithout, type Oklch, rangeOf, rangeWithout } from '#core/masks/picking.ts';
import { newTonePart } from '#core/parts/tone.ts';
import type { Size } from '#core/raster/size.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import type { DrawnView } from '../../drawing/drawnView.ts';
import { useEngine } from '../../stores/engine.ts';
import { type ScenePoint, useMaskTools } from '../../stores/maskTools.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { useGreySketch } from './useGreySketch.ts';

/** Places of a sketch along a path, and between its points. */
function* placesAlong({ width, height, step }: DrawnView, path: readonly ScenePoint[]): Generator<number> {
  for (const [i, from] of path.entries()) {
    const to = path[i + 1] ?? from;
    const steps = Math.max(1, Math.ceil(Math.hypot(to.x - from.x, to.y - from.y) / step));
    for (let k = 0; k < steps; k++) {
      const x = Math.floor((from.x + ((to.x - from.x) * k) / steps) / step);
      const y = Math.floor((from.y + ((to.y - from.y) * k) / steps) / step);
      if (x >= 0 && y >= 0 && x < width && y < height) yield y * width + x;
    }
  }
}

/** Places along a path that a colour is taken from at most. */
const MOST_TAKEN = 15;

/** Sets the numbers of the open part by what is pointed at: these in, those out. */
export function usePicking(size: () => Size) {
  const tools = useMaskTools();
  const session = useSession();
  const engines = useEngine();
  const notices = useNotices();
  const { drawnSketch } = useGreySketch(size);

  async function pick(path: readonly ScenePoint[]): Promise<void> {
    const { part, place, tool } = tools;
    if (tool === 'colour') return takeColour(path);
    if (!place || (part?.kind !== 'tone' && part?.kind !== 'colour') || (tool !== 'in' && tool !== 'out')) return;
    const again = tools.hasPicked;
    if (part.kind === 'tone') {
      const recipe = maskOfParts([{ ...newTonePart(part.source), measure: part.measure }]);
      const sketch = await drawnSketch({ show: { what: 'recipe', recipe, at: place.owner } });
      const tones = sketch ? [...placesAlong(sketch, path)].map((at) => sketch.rgba[at * 4] / 255) : [];
      if (tones.length === 0) return missed();
      tools.change(tool === 'in' ? rangeOf(tones, again ? part : undefined) : rangeWithout(part, tones));
    } else {
      const sketch = await drawnSketch({ show: { what: 'source', source: part.source, at: place.owner } });
      const colours = sketch ? [...placesAlong(sketch, path)].map((at) => colourAt(sketch, at)) : [];
      if (colours.length === 0) return missed();
      tools.change(
        tool === 'in' ? colourRangesOf(colours, again ? part : undefined) : colourRangesWithout(part, colours),
      );
    }
    tools.hasPicked = true;
  }

  /** Hands over the colour of the picture below the card at hand, in the middle of what was pointed at. */
  async function takeColour(path: readonly ScenePoint[]): Promise<void> {
    const { item, takesColour } = tools;
    if (!item || !takesColour) return;
    const { engine } = await engines.start();
    const { width, height } = size();
    const steps = Math.max(1, Math.ceil(path.length / MOST_TAKEN));
    const found: number[][] = [];
    for (const { x, y } of path.filter((_, i) => i % steps === 0)) {
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const below = { what: 'source', source: 'below', at: item.id } as const;
      const [rgb] = (await engine.probe([below], Math.floor(x), Math.floor(y))) ?? [];
      if (rgb) found.push([...rgb]);
    }
    if (found.length === 0) return missed();
    const middle = (channel: number) =>
      found.map((rgb) => rgb[channel]).sort((a, b) => a - b)[found.length >> 1] / 65535;
    takesColour([middle(0), middle(1), middle(2)], path[path.length >> 1]);
    tools.tool = 'brush';
  }

  /** A colour of a drawn picture. */
  function colourAt({ rgba }: DrawnView, at: number): Oklch {
    const space = engines.running?.engine.canvasOf(session.scene.workingSpace) ?? 'srgb';
    const linear = [0, 1, 2].map((channel) => decodeSrgb(rgba[at * 4 + channel] / 255));
    return oklchOf(lmsMatrix(space), linear as [number, number, number]);
  }

  const missed = () =>
    notices.tell('There was nothing to read there. Click on the picture once its frames are loaded.');

  return { pick };
}
