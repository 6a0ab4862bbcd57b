import { mkdirSync } from 'node:fs';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { average, RadianceCanvas } from '../../demo/radiance/canvas.ts';
import { paintLarches } from '../../demo/radiance/larches.ts';
import { clearSky } from '../../demo/radiance/sky.ts';
import { edit, nodeOf, paint, resultOf } from '../../tests/renderScene.ts';
import { planeOfNode, type SmallScene, smallScene } from '../../tests/smallScene.ts';
import { encodeSrgb } from '../color/srgb.ts';
import { PartId } from '../ids.ts';
import { newTonePart } from '../parts/tone.ts';
import type { Size } from '../raster/size.ts';
import type { Refinements } from '../refinements/list.ts';
import { addPart, removePart, setRefinement } from '../scene/edits/masks.ts';
import { addStroke } from '../scene/edits/painting.ts';
import type { Scene } from '../scene/scene.ts';
import { layersOfFrame } from '../scene/tree.ts';

/** Stops between the frame for the land and the frame for the sky. */
const STOPS = 2;
const FAINTER = 2 ** -STOPS;

/** Linear light of a view, and of the same view as if its sky alone were so many stops fainter: what the blend should look like. */
interface View {
  size: Size;
  light: Float32Array;
  wanted: Float32Array;
  /** Places whose error is a halo. */
  isRim: (x: number, y: number) => boolean;
}

const encoded = (light: number): number => encodeSrgb(Math.min(1, light));

function studioOf({ size, light }: View): { made: SmallScene; bare: Scene } {
  const frame =
    (gain: number) =>
    (x: number, y: number): [number, number, number] => {
      const value = Math.round(65535 * encoded(gain * light[y * size.width + x]));
      return [value, value, value];
    };
  const made = smallScene(size, [frame(FAINTER), frame(1), frame(1)]);
  return {
    made,
    bare: edit(made.scene, removePart({ owner: made.scene.stack[0].id, part: PartId.parse('painted') })),
  };
}

const skyLayer = ({ scene, frameIds }: SmallScene) => layersOfFrame(scene, frameIds[0])[0].id;

/** Mean error of the blend over the rim, as a share of full scale: with its sign in bands along the edge, the worst of them, which is
 * what is seen as a halo, and without. */
function rimError({ size, wanted, isRim }: View, scene: Scene, made: SmallScene): { halo: number; mean: number } {
  const blend = planeOfNode(resultOf(scene), 0, 0, size, made.context);
  const bands = new Map<number, { sum: number; count: number }>();
  let sum = 0;
  let count = 0;
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) {
      if (!isRim(x, y)) continue;
      const error = blend[y * size.width + x] / 65535 - encoded(wanted[y * size.width + x]);
      const band = bands.get(Math.floor(x / 32)) ?? { sum: 0, count: 0 };
      bands.set(Math.floor(x / 32), { sum: band.sum + error, count: band.count + 1 });
      sum += Math.abs(error);
      count++;
    }
  const halo = Math.max(
    ...[...bands.values()].filter((band) => band.count > 50).map((band) => Math.abs(band.sum / band.count)),
  );
  return { halo, mean: sum / count };
}

/** Light tones from where the land ends, levels that fill the sky, fitted to the edge, the inside filled. */
function byTones(bare: Scene, made: SmallScene): Scene {
  const layerId = skyLayer(made);
  const change: Partial<Refinements> = {
    levels: { black: 0, white: 0.55, gamma: 1 },
    edgeFit: { guide: 'base', radius: 3, contrast: 0.02 },
    coreFill: { amount: 1, reach: 24, from: 0.25, keepsOrder: true },
  };
  return edit(
    bare,
    addPart({ owner: layerId, part: { ...newTonePart('base'), from: 0.38, fromShoulder: 0.14 } }),
    setRefinement({ owner: layerId, part: null, change }),
  );
}

/** A soft brush along the skyline, as wide as it takes to reach it, and all above it. */
function byBrush({ size }: View, made: SmallScene, skyline: number): Scene {
  const layerId = skyLayer(made);
  const run = (y: number, change: object) =>
    addStroke({
      owner: layerId,
      stroke: paint(
        made,
        [
          [-300, y],
          [size.width + 300, y],
        ],
        change,
      ),
    });
  return edit(
    made.scene,
    run(skyline - 90, { size: 240, hardness: 0 }),
    run(skyline - 260, { size: 400, hardness: 0.6 }),
  );
}

/** Two blends side by side, for `docs/figures`, when a figure is asked for. */
async function draw(name: string, { size }: View, made: SmallScene, scenes: readonly Scene[]): Promise<void> {
  if (!process.env.LUSKET_FIGURES) return;
  mkdirSync('docs/figures', { recursive: true });
  const bytes = new Uint8Array(size.width * scenes.length * size.height);
  scenes.forEach((scene, index) => {
    const blend = planeOfNode(resultOf(scene), 0, 0, size, made.context);
    for (let y = 0; y < size.height; y++)
      for (let x = 0; x < size.width; x++)
        bytes[y * size.width * scenes.length + index * size.width + x] = blend[y * size.width + x] >> 8;
  });
  await sharp(bytes, { raw: { width: size.width * scenes.length, height: size.height, channels: 1 } })
    .png()
    .toFile(`docs/figures/${name}.png`);
}

/** A jagged edge of textured land before a bright sky, with known coverage: each pixel the mean of 64 points. */
function madeEdge(): View {
  const size = { width: 384, height: 300 };
  const edgeAt = (x: number) => 150 + 22 * Math.abs(((x / 11) % 2) - 1) + 12 * Math.sin(x / 37);
  const light = new Float32Array(size.width * size.height);
  const wanted = light.slice();
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) {
      let land = 0;
      for (let k = 0; k < 64; k++)
        land += y + (Math.floor(k / 8) + 0.5) / 5 - 0.3 > edgeAt(x + ((k % 8) + 0.5) / 5 - 0.3) ? 1 / 64 : 0;
      const texture = Math.sin(x * 1.7 + 3 * Math.sin(y * 0.9)) * Math.cos(y * 1.3 + x * 0.4);
      const sky = 0.75 * (1 + 0.15 * Math.sin(x / 60) + 0.1 * Math.sin(y / 17));
      const ground = land * 0.035 * (1 + 0.5 * texture);
      light[y * size.width + x] = ground + (1 - land) * sky;
      wanted[y * size.width + x] = ground + (1 - land) * sky * FAINTER;
    }
  return { size, light, wanted, isRim: (x, y) => Math.abs(y - edgeAt(x)) < 6 };
}

/** The demo's larches before its clear sky, and how much of each pixel they cover. */
function larches(): View {
  const [width, height, finer] = [1500, 1000, 2];
  const crop = { x: 780, y: 270, width: 640, height: 190 };
  const drawn = (sky: (x: number, y: number) => [number, number, number]) => {
    const canvas = new RadianceCanvas(width * finer, height * finer);
    for (let row = crop.y * finer; row < (crop.y + crop.height) * finer; row++)
      for (let column = crop.x * finer; column < (crop.x + crop.width) * finer; column++)
        canvas.cover(column, row, sky(column / canvas.height, row / canvas.height), 1);
    paintLarches(canvas);
    const { rgb } = average(canvas, finer);
    return Float32Array.from({ length: crop.width * crop.height }, (_, i) => {
      const at = (crop.y + Math.floor(i / crop.width)) * width + crop.x + (i % crop.width);
      return rgb[at * 3 + 1]; // one channel, as grey
    });
  };
  const scaled = (gain: number) => (x: number, y: number) =>
    clearSky(x, y).map((v) => v * gain) as [number, number, number];
  const [light, wanted] = [1, FAINTER].map((gain) => drawn(scaled(gain)));
  // Both hold the same larches: what is left of the difference of the skies is what they do not cover.
  const covered = light.map((value, i) => {
    const [x, y] = [crop.x + (i % crop.width) + 0.5, crop.y + Math.floor(i / crop.width) + 0.5];
    return 1 - (value - wanted[i]) / ((1 - FAINTER) * clearSky(x / height, y / height)[1]);
  });
  return {
    size: { width: crop.width, height: crop.height },
    light,
    wanted,
    isRim: (x, y) => covered[y * crop.width + x] > 0.03 && covered[y * crop.width + x] < 0.97,
  };
}

describe('a blend along an edge', () => {
  it.each([
    ['of known coverage', 'halo-edge', madeEdge, 150],
    ["of Tarn's larches", 'halo-larches', larches, 150],
  ] as const)(
    '%s: tones, edge fit and core fill leave no halo where a soft brush does',
    async (_, name, make, skyline) => {
      const view = make();
      const { made, bare } = studioOf(view);
      const [tones, brush] = [byTones(bare, made), byBrush(view, made, skyline)];
      const [ours, soft] = [tones, brush].map((scene) => rimError(view, scene, made));
      if (process.env.LUSKET_FIGURES) console.log(name, { ours, soft });
      await draw(name, view, made, [brush, tones]);
      expect(ours.halo).toBeLessThan(0.02);
      expect(soft.halo).toBeGreaterThan(0.1);
      expect(ours.mean).toBeLessThan(soft.mean / 4);
    },
  );
});

/** Standard deviation around the mean of the neighbourhood, over an area: how much depth it has. */
function localContrast(plane: Uint16Array, { width }: Size, from: number, to: number): number {
  const reach = 8;
  let sum = 0;
  let count = 0;
  for (let y = from; y < to; y += 2)
    for (let x = 40; x < 340; x += 2) {
      let mean = 0;
      for (let dy = -reach; dy <= reach; dy++)
        for (let dx = -reach; dx <= reach; dx++) mean += plane[(y + dy) * width + x + dx] / (2 * reach + 1) ** 2;
      sum += (plane[y * width + x] - mean) ** 2;
      count++;
    }
  return Math.sqrt(sum / count) / 65535;
}

describe('dark tones lifted and bright ones left', () => {
  // The case of the trade's complaint "flat, muddy areas" (common practice, no source).
  it('are flat through a mask of dark tones, and core fill gives the depth of the frame back', async () => {
    const size = { width: 384, height: 300 };
    const light = new Float32Array(size.width * size.height);
    for (let y = 0; y < size.height; y++)
      for (let x = 0; x < size.width; x++) {
        const rocks = Math.sin(x / 3 + 2 * Math.sin(y / 7)) * Math.cos(y / 4 - x / 11);
        light[y * size.width + x] = y < 90 ? 0.8 + 0.05 * Math.sin(x / 40) : 0.07 * 2 ** (1.4 * rocks);
      }
    const view: View = { size, light, wanted: light, isRim: () => false };
    // The layer is the brighter frame here: two stops above the base.
    const { made } = studioOf(view);
    const bright = layersOfFrame(made.scene, made.frameIds[2])[0].id;
    const darkest = { ...made.scene, base: made.frameIds[0] };
    const scene = edit(
      { ...darkest, stack: made.scene.stack.filter(({ id }) => id === bright) },
      removePart({ owner: bright, part: PartId.parse('painted') }),
      addPart({
        owner: bright,
        part: { ...newTonePart('base'), side: 'dark', narrowing: 3, to: 0.36, toShoulder: 0.08 },
      }),
    );
    const filled = edit(
      scene,
      setRefinement({ owner: bright, part: null, change: { coreFill: { amount: 1, reach: 40, from: 0.25 } } }),
    );
    const contrast = (node: Parameters<typeof planeOfNode>[0]) =>
      localContrast(planeOfNode(node, 0, 0, size, made.context), size, 130, 280);
    const whole = contrast(nodeOf(scene, { what: 'frame', at: made.frameIds[2] }));
    const [flat, deep] = [scene, filled].map((each) => contrast(resultOf(each)) / whole);
    await draw('flatness', view, made, [scene, filled]);
    if (process.env.LUSKET_FIGURES) console.log('flatness', { flat, deep });
    expect(flat).toBeLessThan(0.8);
    expect(deep).toBeGreaterThan(0.9);
    // Above the edge, where the sky is bright, nothing was lifted.
    const sky = [scene, filled].map((each) => planeOfNode(resultOf(each), 0, 0, size, made.context));
    const dark = planeOfNode(nodeOf(scene, { what: 'frame', at: made.frameIds[0] }), 0, 0, size, made.context);
    for (const plane of sky)
      expect(Math.abs(plane[70 * size.width + 190] - dark[70 * size.width + 190])).toBeLessThan(0.1 * 65535);
  });
});
