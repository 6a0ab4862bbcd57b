import alea from 'alea';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { randomScene } from '../../tests/randomScene.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { edit, nodeOf, paint, resultOf, setUp, size, sources } from '../../tests/renderScene.ts';
import { smallScene } from '../../tests/smallScene.ts';
import { lmsMatrix, oklchOf } from '../color/oklab.ts';
import { decodeSrgb } from '../color/srgb.ts';
import { edgeShare, edgesApart } from '../develop/edgesNode.ts';
import { glowAt } from '../develop/glowNode.ts';
import { toneShare } from '../develop/toneShares.ts';
import { ItemId, LayerId, SpotId } from '../ids.ts';
import { allTiles } from '../raster/region.ts';
import type { EditRecord } from '../scene/edit.ts';
import { placeItem, stepOf } from '../scene/edits/cards.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { setItem } from '../scene/edits/items.ts';
import { addPart } from '../scene/edits/masks.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { addSpots } from '../scene/edits/retouching.ts';
import { addAdjustment, addLayer, duplicateItem, removeItem, setAdjustment } from '../scene/edits/stack.ts';
import { setGeometry } from '../scene/edits/turning.ts';
import { openScene } from '../scene/readScene.ts';
import type { Scene, Step } from '../scene/scene.ts';
import { findItem } from '../scene/tree.ts';
import { writeTile } from './plan/writing.ts';

const { made, whole } = setUp();
const BLEND = { blend: true } as const;
const id = (name: string) => ItemId.parse(name);
const step = (kind: Parameters<typeof addAdjustment>[0]['kind'], settings: object): EditRecord[] => [
  addAdjustment({ id: id(kind), kind, above: BLEND }),
  setAdjustment({ id: id(kind), change: settings as never }),
];
const planesOf = (scene: Scene, level = 0) => [0, 1, 2].map((plane) => whole(resultOf(scene), plane, level));
/** A picture as it is written, whatever it is computed in. */
function writtenOf(node: ReturnType<typeof resultOf>): Uint16Array {
  const { size: own } = node.extent;
  const image = { region: { x: 0, y: 0, ...own }, pixels: new Uint16Array(own.width * own.height * 3) };
  for (const { tx, ty } of allTiles(own, 0)) writeTile(node, tx, ty, image, made.context);
  return image.pixels;
}
/** How many samples differ: telling which takes long. */
const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => Array.from(a).filter((value, i) => value !== b[i]).length;
const before = planesOf(made.scene);
const colourAt = (planes: readonly Uint16Array[], at: number) =>
  planes.map((plane) => plane[at] / 65535) as [number, number, number];
const oklch = (rgb: readonly [number, number, number]) =>
  oklchOf(lmsMatrix('srgb'), rgb.map(decodeSrgb) as [number, number, number]);

describe('steps that finish the picture', () => {
  it('are computed as what lies on top of the stack is, to the bit', () => {
    for (let seed = 0; seed < 6; seed++) {
      const all = randomStack(randomScene(made.scene, `finish ${seed}`, { layers: 5, parts: 3 }), `finish ${seed}`);
      // What finishes a picture is nothing that its masks see.
      const rich: Scene = JSON.parse(JSON.stringify(all).replaceAll('"source":"result"', '"source":"below"'));
      const tail = rich.stack.findLastIndex(({ item }) => item !== 'adjustment') + 1;
      const adjustments = rich.stack.slice(tail) as Step[];
      const more = edit(rich, ...step('exposure', { stops: 0.4 }), ...step('levels', { outBlack: 0.05 })).finish;
      const finish = [...adjustments, ...more];
      const parted = { ...rich, stack: rich.stack.slice(0, tail), finish };
      const joined = { ...rich, stack: [...rich.stack.slice(0, tail), ...finish] };
      expect(apart(writtenOf(resultOf(parted)), writtenOf(resultOf(joined)))).toBe(0);
      const effect = (of: Scene) => whole(nodeOf(of, { what: 'effect', at: id('levels') }));
      expect(apart(effect(parted), effect(joined))).toBe(0);
      // The blend itself knows nothing of them.
      expect(apart(writtenOf(nodeOf(parted, { what: 'blend' })), writtenOf(resultOf({ ...parted, finish: [] })))).toBe(
        0,
      );
    }
  });

  it('are laid on the blend or on each other, moved, doubled and taken away, and are the scene that is read again', () => {
    const scene = edit(made.scene, ...step('exposure', { stops: 1 }));
    const three = edit(
      scene,
      addAdjustment({ id: id('curve'), kind: 'curve', above: id('exposure') }),
      addLayer({ id: LayerId.parse('red'), content: { colour: [1, 0, 0] }, above: id('curve') }),
      duplicateItem({ of: id('exposure'), id: id('twice'), withMask: true }),
    );
    const order = (of: Scene) => of.finish.map((each) => each.id);
    expect(order(three)).toEqual(['exposure', 'twice', 'curve', 'red']);
    expect(order(edit(three, placeItem(stepOf(three, id('red'), -1) as never)))).toEqual([
      'exposure',
      'twice',
      'red',
      'curve',
    ]);
    expect(stepOf(three, id('red'), 1)).toBeUndefined();
    expect(order(edit(three, placeItem({ id: id('red'), group: null, below: id('exposure') })))[0]).toBe('red');
    expect(order(edit(three, removeItem({ id: id('twice') })))).toEqual(['exposure', 'curve', 'red']);
    expect(edit(three, setItem({ id: id('curve'), change: { opacity: 0.5 } })).finish[2].opacity).toBe(0.5);
    expect(openScene(JSON.parse(JSON.stringify(three))).scene).toEqual(three);
    // No frame, nor a picture of its own, finishes another picture.
    const frame = addLayer({ id: LayerId.parse('frame'), content: { frame: made.frameIds[0] }, above: id('curve') });
    expect(applyEdit(three, frame)).toBe(three);
    expect(findItem(three, id('twice'))?.opacity).toBe(1);
  });
});

describe('dodging and burning', () => {
  const mask = (scene: Scene) =>
    findItem(scene, id('dodgeBurn'))?.mask.parts.find(({ kind }) => kind === 'painted')?.id;
  const painted = (change: object, settings: object = {}) => {
    const scene = edit(made.scene, ...step('dodgeBurn', { stops: 2, tones: 'all', saturation: 0.5, ...settings }));
    const stroke = paint(made, [[150, 100]], { size: 120, hardness: 1, strength: 1, target: 1, ...change });
    return edit(scene, addStroke({ owner: id('dodgeBurn'), of: 'mask', part: mask(scene), stroke, through: null }));
  };
  const middle = 100 * size.width + 150;

  it('changes nothing before anything is painted, and nothing where nothing is', () => {
    const scene = edit(made.scene, ...step('dodgeBurn', { stops: 2 }));
    expect(planesOf(scene)).toEqual(before);
    const after = planesOf(painted({}));
    expect(after.map((plane) => plane[0])).toEqual(before.map((plane) => plane[0]));
  });

  it('makes lightness what an exposure longer by so many stops makes it, and keeps hue within half a degree', () => {
    for (const [target, stops] of [
      [1, 2],
      [0.75, 1],
      [0.25, -1],
    ] as const) {
      const after = planesOf(painted({ target }));
      const [was, is] = [oklch(colourAt(before, middle)), oklch(colourAt(after, middle))];
      expect(is.l / was.l).toBeCloseTo(2 ** (stops / 3), 3);
      expect(Math.abs(is.h - was.h)).toBeLessThan(0.5);
      expect(is.c / was.c).toBeCloseTo(2 ** ((0.5 * stops) / 3), 2);
    }
  });

  it('leaves tones alone that it is not meant for', () => {
    const { l } = oklch(colourAt(before, middle));
    for (const tones of ['darks', 'middle', 'brights'] as const) {
      const share = toneShare(tones, 0.25, l);
      const is = oklch(colourAt(planesOf(painted({ target: 0.75 }, { tones })), middle));
      expect(is.l / l).toBeCloseTo(2 ** (share / 3), 2);
    }
    for (const at of [0, 0.3, 0.45, 0.6, 0.75, 1])
      expect(
        ['darks', 'middle', 'brights'].reduce((sum, tones) => sum + toneShare(tones as 'darks', 0.2, at), 0),
      ).toBeCloseTo(1, 9);
  });

  it('shows its map as grey around middle grey, softens it as a whole, and limits it by a guard', () => {
    const scene = painted({});
    const map = whole(nodeOf(scene, { what: 'mask', at: id('dodgeBurn') }));
    expect([map[0], map[middle]]).toEqual([32768, 65535]);
    const guard = {
      kind: 'gradient' as const,
      start: { x: 0, y: 0 },
      end: { x: 1, y: 0 },
      profile: 'linear' as const,
      middle: 0.5,
    };
    const part = {
      ...guard,
      id: 'gradient',
      join: 'add',
      enabled: true,
      name: '',
      refine: map && findItem(scene, id('dodgeBurn'))?.mask.refine,
    };
    const limited = edit(scene, addPart({ owner: id('dodgeBurn'), of: 'guard', part: part as never }));
    expect(planesOf(limited)[0][middle]).toBe(before[0][middle]);
  });
});

describe('edges', () => {
  const settings = {
    stops: -1,
    shape: 0,
    middle: { x: 0.5, y: 0.5 },
    size: 1,
    soft: 0.5,
    keep: 0,
    follows: 'crop' as const,
  };

  it('are darker by so many stops where they say', () => {
    const after = planesOf(edit(made.scene, ...step('edges', settings)));
    for (const [x, y] of [
      [150, 105],
      [2, 2],
      [297, 105],
      [240, 105],
    ]) {
      const at = y * size.width + x;
      const share = edgeShare(settings)(((x + 0.5 - 150) * 2) / 300, ((y + 0.5 - 105) * 2) / 210);
      const [was, is] = [oklch(colourAt(before, at)), oklch(colourAt(after, at))];
      expect(3 * Math.log2(is.l / was.l)).toBeCloseTo(-share, 1);
    }
    expect(edgeShare(settings)(0, 0)).toBe(0);
    expect(edgeShare(settings)(1, 0)).toBeCloseTo(0.5, 9);
    expect(edgeShare(settings)(1, 1.1)).toBeGreaterThan(0.9);
  });

  it('are read on lines between places so close that lines are no farther off than 1 / 2048, from the softest to the hardest', () => {
    const chance = alea('edges');
    const [width, height] = [4500, 3000];
    let far = 0;
    for (let round = 0; round < 300; round++) {
      const shape = { shape: chance(), size: 0.3 + 1.2 * chance(), soft: chance(), middle: { x: 0.5, y: 0.5 } };
      const level = 2 ** Math.floor(4 * chance());
      const apart = edgesApart(shape, height / 2 / level);
      if (apart > 4) far++;
      else continue;
      const at = (x: number, y: number) => edgeShare(shape)((x * level * 2) / width, (y * level * 2) / height);
      for (let trial = 0; trial < 200; trial++) {
        const [x, y] = [(chance() * width) / 2 / level, (chance() * height) / 2 / level];
        const corners = [at(x, y), at(x + apart, y), at(x, y + apart), at(x + apart, y + apart)];
        const middle = at(x + apart / 2, y + apart / 2);
        expect(Math.abs(middle - corners.reduce((sum, share) => sum + share / 4, 0))).toBeLessThan(1 / 2048);
      }
    }
    expect(far).toBeGreaterThan(20);
  });

  it('follow the crop, or stay with the scene', () => {
    const geometry = { ...made.scene.geometry, crop: { x: 0, y: 0, width: 100, height: 100 } };
    const cropped = { ...edit(made.scene, ...step('edges', settings)), geometry };
    const corner = 98 * size.width + 98;
    const follows = planesOf(cropped)[1][corner];
    const stays = planesOf(edit(cropped, setAdjustment({ id: id('edges'), change: { follows: 'scene' } })))[1][corner];
    expect(follows).toBeLessThan(0.8 * before[1][corner]);
    expect(stays).toBeGreaterThan(0.95 * before[1][corner]);
  });
});

describe('glow round lights', () => {
  const light = { x: 90.5, y: 60.5, radius: 60, strength: 0.5, colour: [1, 0.8, 0.4] };

  it('is laid in screen, by the formula of the standard, or added', () => {
    for (const mode of ['screen', 'plus-lighter'] as const) {
      const after = planesOf(edit(made.scene, ...step('lights', { lights: [light], strength: 1, mode })));
      for (const [x, y] of [
        [90, 60],
        [110, 70],
        [60, 60],
        [200, 60],
      ]) {
        const at = y * size.width + x;
        const glow = 0.5 * glowAt(Math.hypot(x + 0.5 - light.x, y + 0.5 - light.y) / light.radius);
        for (const channel of [0, 1, 2]) {
          const [b, s] = [before[channel][at] / 65535, glow * light.colour[channel]];
          // W3C Compositing and Blending Level 1, screen: B(cb, cs) = 1 - (1 - cb)(1 - cs).
          const wanted = mode === 'screen' ? 1 - (1 - b) * (1 - s) : Math.min(1, b + s);
          expect(after[channel][at]).toBeCloseTo(65535 * wanted, -0.5);
        }
      }
    }
  });

  it('costs nothing where it does not reach', () => {
    const scene = edit(made.scene, ...step('lights', { lights: [light] }));
    const far = { level: 0, tx: 2, ty: 1 };
    const bare = edit(made.scene, ...step('lights', { lights: [{ ...light, strength: 0.2 }] }));
    const keyAt = (of: Scene) => [...resultOf(of).keyAt(far, made.context)];
    expect(keyAt(scene)).toEqual(keyAt(bare));
  });
});

describe('a soft glow and a high pass', () => {
  /** Blurred by a general library, encoded values as they are. */
  async function blurred(sigma: number): Promise<Float64Array[]> {
    const pixels = Uint16Array.from(
      { length: size.width * size.height * 3 },
      (_, i) => before[i % 3][Math.floor(i / 3)],
    );
    const raw = { raw: { ...size, channels: 3 as const } };
    const { data } = await sharp(pixels, raw)
      .toColourspace('rgb16')
      .blur({ sigma, precision: 'float', minAmplitude: 0.005 })
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const all = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    return [0, 1, 2].map((plane) =>
      Float64Array.from({ length: size.width * size.height }, (_, i) => all[3 * i + plane]),
    );
  }
  const inner = function* (): Generator<number> {
    for (let y = 40; y < size.height - 40; y += 7)
      for (let x = 40; x < size.width - 40; x += 7) yield y * size.width + x;
  };

  it('are what a general library makes of blur, screen and overlay', async () => {
    const copy = await blurred(6);
    const glow = planesOf(
      edit(made.scene, ...step('softGlow', { strength: 1, radius: 6, mode: 'screen', shadows: 0 })),
    );
    const pass = planesOf(
      edit(made.scene, ...step('highPass', { strength: 1, radius: 6, amount: 1, mode: 'linear-light' })),
    );
    let worst = 0;
    for (const at of inner()) {
      const grey = (planes: readonly ArrayLike<number>[]) => (planes[0][at] + 2 * planes[1][at] + planes[2][at]) / 4;
      const detail = grey(before) - grey(copy);
      for (const channel of [0, 1, 2]) {
        const [b, s] = [before[channel][at] / 65535, copy[channel][at] / 65535];
        worst = Math.max(worst, Math.abs(glow[channel][at] / 65535 - (1 - (1 - b) * (1 - s))));
        // Linear light: below plus twice what lies above less white.
        const sharpened = Math.min(65535, Math.max(0, before[channel][at] + 2 * detail));
        worst = Math.max(worst, Math.abs(pass[channel][at] - sharpened) / 65535);
      }
    }
    // Windows of boxes against a Gaussian.
    expect(worst).toBeLessThan(0.006);
  });

  it('keeps out of the shadows, and shows what it lays', () => {
    const scene = edit(made.scene, ...step('softGlow', { strength: 1, radius: 10, mode: 'screen', shadows: 1 }));
    const dark = planesOf(scene)[1];
    const open = planesOf(edit(scene, setAdjustment({ id: id('softGlow'), change: { shadows: 0 } })))[1];
    expect(dark[10] - before[1][10]).toBeLessThan((open[10] - before[1][10]) / 3);
    const copy = writtenOf(nodeOf(scene, { what: 'inner', at: id('softGlow') }));
    const spread = (pixels: ArrayLike<number>, from: number, by: number) => Math.abs(pixels[from] - pixels[from + by]);
    expect(spread(copy, 3 * 9000, 9)).toBeLessThan(spread(before[0], 9000, 3) / 2);
    const even = edit(made.scene, ...step('highPass', { strength: 1, radius: 4 }));
    const detail = writtenOf(nodeOf(even, { what: 'inner', at: id('highPass') }));
    const mean = detail.reduce((sum, value) => sum + value, 0) / detail.length;
    expect(Math.abs(mean - 32768)).toBeLessThan(300);
  });
});

describe('levels and a curve', () => {
  const straight = [
    { x: 0, y: 0.1 },
    { x: 1, y: 0.8 },
  ];
  it.each([
    ['levels', { all: { black: 0.1, white: 0.55, power: 1 } }, 1 / 0.45, -0.1 / 0.45],
    ['curve', { all: straight }, 0.7, 0.1],
  ] as const)('%s are what a general library makes of a line', async (kind, settings, slope, offset) => {
    const pixels = Uint16Array.from(
      { length: size.width * size.height * 3 },
      (_, i) => before[i % 3][Math.floor(i / 3)],
    );
    const { data } = await sharp(pixels, { raw: { ...size, channels: 3 } })
      .toColourspace('rgb16')
      .linear(slope, offset * 65535)
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const wanted = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    const after = planesOf(edit(made.scene, ...step(kind, settings)));
    let worst = 0;
    for (let at = 0; at < size.width * size.height; at += 7)
      for (const channel of [0, 1, 2])
        worst = Math.max(worst, Math.abs(after[channel][at] - wanted[3 * at + channel]) / 65535);
    expect(worst).toBeLessThan(1 / 1024);
  });
});

describe('all of it together', () => {
  it('is the same while it is drawn and at export, and at any order of tiles', () => {
    const light = { x: 90, y: 60, radius: 80, strength: 0.6, colour: [1, 0.9, 0.7] };
    const spot = { path: [{ x: 150, y: 90 }], radius: 12, soft: 0.4, how: 'heal', by: { x: 40, y: 5 }, flip: 'across' };
    const rest = { id: SpotId.parse('spot'), frame: null, stops: 0, opacity: 0.9, visible: true };
    const scene = edit(
      randomStack(randomScene(made.scene, 'all', { layers: 4, parts: 2 }), 'all'),
      ...step('sharpening', { amount: 0.6 }),
      ...step('highPass', { strength: 0.6, radius: 3 }),
      ...step('softGlow', { strength: 0.5, radius: 25 }),
      ...step('localContrast', { broad: { amount: 0.4, radius: 60 } }),
      ...step('noise', { brightness: 0.7 }),
      ...step('haze', { amount: 0.3 }),
      ...step('edges', { stops: -0.8 }),
      ...step('lights', { lights: [light] }),
      addSpots({ spots: [{ ...spot, ...rest } as never] }),
      setGeometry({ change: { straighten: 3, perspective: { vertical: 0.1, horizontal: 0 } } }),
    );
    const drawn = writtenOf(nodeOf(scene, { what: 'result', turned: 'finished' }));
    const node = nodeOf(scene, { what: 'result', turned: 'finished' });
    const { size: own } = node.extent;
    const { context, loader } = smallScene(size, sources);
    expect(loader).toBeDefined();
    const alone = { ...context, interactive: false };
    const image = { region: { x: 0, y: 0, ...own }, pixels: new Uint16Array(own.width * own.height * 3) };
    for (const { tx, ty } of [...allTiles(own, 0)].reverse()) writeTile(node, tx, ty, image, alone);
    alone.transient.end();
    expect(apart(drawn, image.pixels)).toBe(0);
  });
});

describe('what clips', () => {
  it('is what a plain count finds, channel by channel', () => {
    const levels = { all: { black: 0.12, white: 0.3, power: 1 } };
    const scene = edit(made.scene, ...step('levels', levels));
    const after = planesOf(scene);
    for (const [end, code, full] of [
      ['white', 65535, 65535],
      ['black', 0, 0],
    ] as const)
      for (const channel of [0, 1, 2]) {
        const shown = whole(nodeOf(scene, { what: 'clipped', end, at: id('levels') }), channel);
        const counted = shown.reduce((sum, value) => sum + (value === full ? 1 : 0), 0);
        expect(counted).toBe(after[channel].reduce((sum, value) => sum + (value === code ? 1 : 0), 0));
        expect(counted).toBeGreaterThan(0);
      }
  });
});
