import { describe, expect, it } from 'vitest';
import { laidPlainly, type PlainPlace } from '../../tests/plainModes.ts';
import { randomScene } from '../../tests/randomScene.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { nodeOf, size, sources } from '../../tests/renderScene.ts';
import { smallScene } from '../../tests/smallScene.ts';
import { GroupId, ItemId } from '../ids.ts';
import type { ModeName } from '../modes/list.ts';
import { allTiles } from '../raster/region.ts';
import type { RenderRequest } from '../render/plan/request.ts';
import { planeWriter, type TileWriter, writerOf } from '../render/plan/writing.ts';
import type { Group, Item } from '../scene/item.ts';
import { maskOfParts, openMask } from '../scene/mask.ts';
import type { Scene } from '../scene/scene.ts';
import { LAYER_MODES, type PlannedItem, planLayers } from './layers.ts';

const made = smallScene(size, sources);
const context = { ...made.context, interactive: false };
const PIXELS = size.width * size.height;
const region = { x: 0, y: 0, ...size };

function samplesOf(scene: Scene, of: RenderRequest, covers?: RenderRequest): Uint16Array {
  const image = new SharedArrayBuffer(PIXELS * (covers ? 8 : 6));
  const form = { space: 'srgb', kind: 'codes', image } as const;
  write(writerOf(nodeOf(scene, of), covers && nodeOf(scene, covers), 'srgb', form));
  return new Uint16Array(image);
}
function write(writer: TileWriter): void {
  for (const { tx, ty } of allTiles(size, 0)) {
    writer({ level: 0, tx, ty }, region, context);
    context.transient.drop();
  }
  context.transient.end();
}

const MODE_OF = Object.fromEntries(Object.entries(LAYER_MODES).map(([mode, name]) => [name, mode as ModeName]));

/** Lays layers over each other as the formulas of W3C Compositing say, in doubles, at some pixels. */
class Flattened {
  readonly #scene: Scene;
  readonly #pictures = new Map<PlannedItem, Uint16Array>();
  constructor(scene: Scene) {
    this.#scene = scene;
  }

  at(pixel: number, items: readonly PlannedItem[], below: PlainPlace): PlainPlace {
    let place = below;
    for (const item of items) {
      if (!item.visible || item.opacity === 0) continue;
      if (item.item === 'group' && !item.isolated) {
        place = this.at(pixel, item.layers, place);
        continue;
      }
      const { colour, alpha } = item.item === 'group' ? this.at(pixel, item.layers, NOTHING) : this.#layer(pixel, item);
      place = laidPlainly(MODE_OF[item.mode], place, colour, alpha * item.opacity, false);
    }
    return place;
  }

  #layer(pixel: number, item: PlannedItem & { item: 'layer' }): PlainPlace {
    const known = this.#pictures.get(item) ?? samplesOf(this.#scene, item.of, item.covers);
    this.#pictures.set(item, known);
    const channels = item.covers ? 4 : 3;
    const [r, g, b, a = 65535] = [...known.subarray(pixel * channels, (pixel + 1) * channels)];
    return { colour: [r / 65535, g / 65535, b / 65535], alpha: a / 65535 };
  }
}
const NOTHING: PlainPlace = { colour: [0, 0, 0], alpha: 0 };

/** How far what layers make is from the picture, in levels of 255, at places all over it. */
function farthest(scene: Scene): number {
  const picture = samplesOf(scene, { what: 'result' });
  const flattened = new Flattened(scene);
  const { layers } = planLayers(scene);
  let most = 0;
  for (let pixel = 0; pixel < PIXELS; pixel += 97) {
    const { colour } = flattened.at(pixel, layers, NOTHING);
    for (const channel of [0, 1, 2])
      most = Math.max(most, Math.abs(colour[channel] * 65535 - picture[pixel * 3 + channel]) / 257);
  }
  return most;
}

const grouped = (items: Item[], change: Partial<Group> = {}): Group => ({
  ...{ item: 'group', id: GroupId.parse('group'), items, isolated: false, adjustments: [], mask: openMask() },
  ...{ guard: null, opacity: 1, mode: 'normal', visible: true, label: '' },
  ...change,
});
/** Layers of frames alone. */
const layered = randomScene(made.scene, 'layers', { layers: 4, parts: 2 });
const plain = { ...layered, stack: layered.stack.filter((item) => item.item === 'layer') };
const codes = (scene: Scene) => planLayers(scene).notes.map(({ code }) => code);

describe('layers for other programs', () => {
  it('make the picture again: random stacks of all kinds', () => {
    for (let seed = 0; seed < 12; seed++) {
      const scene = randomStack(randomScene(made.scene, `layers ${seed}`, { layers: 4, parts: 2 }), `layers ${seed}`);
      expect(farthest(scene), `seed ${seed}`).toBeLessThanOrEqual(1);
    }
  });

  it('are frames with their masks, opacities and modes where all can be said', () => {
    const [first, ...rest] = plain.stack;
    const scene = { ...plain, stack: [{ ...first, mode: 'screen' as const, opacity: 0.5 }, ...rest] };
    const { layers } = planLayers(scene);
    expect(layers).toHaveLength(1 + scene.stack.length);
    expect(layers[1]).toMatchObject({ of: { what: 'content' }, opacity: 0.5, mode: 'svg:screen' });
    expect(farthest(scene)).toBeLessThanOrEqual(1);
  });

  it('keep groups that can be said, and say which became a picture', () => {
    const open = { ...plain, stack: [grouped(plain.stack)] };
    expect(planLayers(open).layers[1]).toMatchObject({ item: 'group', isolated: false });
    const alone = {
      ...plain,
      stack: [
        grouped(
          plain.stack.map((item) => ({ ...item, mode: 'normal' as const })),
          { isolated: true, opacity: 0.6, mode: 'multiply' },
        ),
      ],
    };
    expect(planLayers(alone).layers[1]).toMatchObject({ item: 'group', isolated: true, mode: 'svg:multiply' });
    const masked = { ...plain, stack: [grouped(plain.stack, { mask: maskOfParts([]), opacity: 0.5 })] };
    expect(codes(masked)).toContain('so-far');
    for (const scene of [open, alone, masked]) expect(farthest(scene)).toBeLessThanOrEqual(1);
  });

  it('render what no layer says: modes, adjustments, copies of the picture, light, finishing steps', () => {
    const [first, ...rest] = plain.stack;
    const mode = { ...plain, stack: [{ ...first, mode: 'linear-light' as const }, ...rest] };
    expect(codes(mode)).toContain('mode');
    const light = { ...plain, blendSpace: 'linear' as const };
    expect(codes(light)).toEqual(['light']);
    const step = {
      ...{ item: 'adjustment' as const, id: ItemId.parse('step'), kind: 'exposure', settings: { stops: 0.5 } },
      ...{ mask: openMask(), guard: null, opacity: 1, mode: 'normal' as const, visible: true, label: '' },
      ...{ stencil: null, stencilOn: false },
    };
    const finished = { ...plain, finish: [step] };
    expect(codes(finished)).toEqual(['finish']);
    const inside = { ...plain, stack: [...plain.stack, { ...step, id: ItemId.parse('all-below') }] };
    expect(codes(inside)).toEqual(['change', 'above-white']);
    for (const scene of [mode, light, finished, inside]) expect(farthest(scene)).toBeLessThanOrEqual(1);
  });

  it('leave hidden ones hidden', () => {
    const [first, ...rest] = plain.stack;
    const scene = { ...plain, stack: [{ ...first, visible: false }, ...rest] };
    expect(planLayers(scene).layers[1].visible).toBe(false);
    expect(farthest(scene)).toBeLessThanOrEqual(1);
  });

  it('of a scene without frames are none', () => {
    expect(planLayers({ ...plain, base: null }).layers).toEqual([]);
  });
});

describe('writing', () => {
  it('writes planes, and parts of pictures, as tiles have them', () => {
    const [{ id }] = plain.stack;
    const whole = new SharedArrayBuffer(PIXELS * 2);
    write(planeWriter(nodeOf(plain, { what: 'covers', at: id }), { image: whole }));
    const covered = samplesOf(plain, { what: 'content', at: id }, { what: 'covers', at: id });
    const mask = new Uint16Array(whole);
    let off = 0;
    for (let i = 0; i < PIXELS; i++) if (covered[4 * i + 3] !== mask[i]) off++;
    expect(off).toBe(0);
  });

  it('writes light beyond white, and the codes of it within', () => {
    const bright = {
      ...plain,
      stack: [] as Item[],
      frames: plain.frames.map((frame) => ({ ...frame, develop: { exposure: { stops: 3 } } })),
    } as Scene;
    const image = new SharedArrayBuffer(PIXELS * 12);
    write(writerOf(nodeOf(bright, { what: 'result' }), undefined, 'srgb', { space: 'srgb', kind: 'light', image }));
    const light = new Float32Array(image);
    const pixels = samplesOf(bright, { what: 'result' });
    expect(Math.max(...light.subarray(0, 3000))).toBeGreaterThan(1);
    for (let i = 0; i < light.length; i += 331) if (light[i] >= 1) expect(pixels[i]).toBe(65535);
  });
});
