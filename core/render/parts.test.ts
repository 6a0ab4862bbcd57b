import { describe, expect, it } from 'vitest';
import { box, colour, radial, setUpMasks } from '../../tests/maskParts.ts';
import { edit, maskOf, nodeOf, paint, resultOf, setUp, size, sources } from '../../tests/renderScene.ts';
import { loadPixels, madeFrame } from '../../tests/smallScene.ts';
import { lmsMatrix, oklchOf } from '../color/oklab.ts';
import { decodeSrgb } from '../color/srgb.ts';
import { FrameId, GroupId, type LayerId, PartId, StencilId } from '../ids.ts';
import { hueWindow, rangeWindow } from '../masks/rangeWindow.ts';
import { toneCoverage } from '../masks/toneCurve.ts';
import type { Part } from '../parts/list.ts';
import { plainPart } from '../parts/partBase.ts';
import { newTonePart } from '../parts/tone.ts';
import { groupWithBelow, setItem, ungroup } from '../scene/edits/items.ts';
import { addPart, layPart, movePart, removeGuard, removePart, setPart, setRefinement } from '../scene/edits/masks.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { freezeReference } from '../scene/edits/references.ts';
import { dropStencil, saveStencil } from '../scene/edits/stencils.ts';
import { maskOfParts } from '../scene/mask.ts';
import { picturesOf } from '../scene/places.ts';
import { layersOf } from '../scene/tree.ts';
import { lightnessOf } from './nodes/measureNode.ts';

const { made, dark, bright, whole, add, maskIn, places, at } = setUpMasks();
const id = (text: string) => PartId.parse(text);
/** The base's encoded colour at a place. */
const base = ({ x, y }: { x: number; y: number }) => sources[1](x, y).map((value) => value / 65535);

describe('a tone part', () => {
  it.each(['brightest', 'red', 'green', 'blue'] as const)('measures by the %s channel', (measure) => {
    const plane = maskIn(add(made.scene, dark, { ...newTonePart('base'), measure }));
    const read = (rgb: number[]) =>
      measure === 'brightest' ? Math.max(...rgb) : rgb[['red', 'green', 'blue'].indexOf(measure)];
    for (const place of places) expect(at(plane, place)).toBeCloseTo(read(base(place)), 4);
  });

  // CIE 15:2004, section 8.2.1.1: L* of 18.4 % luminance is 50 (worked example of handbooks: mid grey), from memory.
  it('measures by lightness L* of CIE 1976', () => {
    expect(lightnessOf(0.184187)).toBeCloseTo(0.5, 4);
    const plane = maskIn(add(made.scene, dark, { ...newTonePart('base'), measure: 'lightness', narrowing: 1 }));
    for (const place of places) {
      const [r, g, b] = base(place).map(decodeSrgb);
      const lightness = lightnessOf(0.2126 * r + 0.7152 * g + 0.0722 * b);
      expect(at(plane, place)).toBeCloseTo(toneCoverage(newToneAt(1), lightness), 2);
    }
  });
  const newToneAt = (narrowing: number) => ({ ...newTonePart('base'), narrowing });

  it('covers as its free curve says, and follows it', () => {
    for (const curve of [curveOf(0, 1, 0), curveOf(0.9, 0.2, 0.7)]) {
      const part = { ...newTonePart('base'), measure: 'brightest', side: 'curve', curve } as const;
      const plane = maskIn(add(made.scene, dark, part));
      for (const place of places) expect(at(plane, place)).toBeCloseTo(toneCoverage(part, Math.max(...base(place))), 3);
    }
  });
  const curveOf = (...heights: number[]) => heights.map((y, i) => ({ x: i / (heights.length - 1), y }));

  it('reads the finished picture without its own layer, however layers depend on each other', () => {
    const both = [dark, bright].reduce(
      (scene, layerId) => add(scene, layerId, { ...newTonePart('result'), side: layerId === dark ? 'light' : 'dark' }),
      made.scene,
    );
    const seen = whole(nodeOf(both, { what: 'source', source: 'result', at: dark }));
    const alone = edit(both, setItem({ id: dark, change: { visible: false } }));
    // Without the dark layer the bright one looks at what is below it: the base.
    const sofar = { ...newTonePart('below'), side: 'dark' as const };
    const expected = edit(
      alone,
      removePart({ owner: bright, part: id('tone') }),
      addPart({ owner: bright, part: sofar }),
    );
    expect(seen).toEqual(whole(resultOf(expected)));
  });
});

describe('a colour part', () => {
  it('covers by hue, chroma and lightness in closed form', () => {
    const plane = maskIn(add(made.scene, dark, colour));
    const matrix = lmsMatrix('srgb');
    for (const place of places) {
      const { l, c, h } = oklchOf(matrix, base(place).map(decodeSrgb) as [number, number, number]);
      const expected =
        rangeWindow(colour.lightness, l) * rangeWindow(colour.chroma, c / 0.4) * hueWindow(colour.hue, h);
      expect(at(plane, place)).toBeCloseTo(expected, 2);
    }
  });

  it('tells vivid from pale as a measure', () => {
    const scene = add(made.scene, dark, { ...newTonePart('base'), measure: 'chroma' });
    const plane = maskIn(scene);
    const matrix = lmsMatrix('srgb');
    for (const place of places)
      expect(at(plane, place)).toBeCloseTo(
        oklchOf(matrix, base(place).map(decodeSrgb) as [number, number, number]).c / 0.4,
        3,
      );
  });
});

describe('shapes', () => {
  it('an ellipse covers in closed form, turned, and at coarser levels alike', () => {
    const scene = add(made.scene, dark, radial);
    const plane = maskIn(scene);
    const angle = Math.PI / 6;
    const cover = (x: number, y: number) => {
      const [dx, dy] = [x - 150, y - 100];
      const across = (dx * Math.cos(angle) + dy * Math.sin(angle)) / 120;
      const down = (dy * Math.cos(angle) - dx * Math.sin(angle)) / 60;
      const t = Math.min(1, Math.max(0, (1 - Math.hypot(across, down)) / 0.5));
      return t * t * (3 - 2 * t);
    };
    for (const place of places) expect(at(plane, place)).toBeCloseTo(cover(place.x + 0.5, place.y + 0.5), 3);
    const coarse = whole(maskOf(scene, dark), 0, 1);
    expect(coarse[50 * 150 + 75] / 65535).toBeCloseTo(cover(151, 101), 2);
  });

  it('an outline covers its inside, softly where it is feathered', () => {
    const plane = maskIn(add(made.scene, dark, box));
    expect([at(plane, { x: 40, y: 40 }), at(plane, { x: 199, y: 159 }), at(plane, { x: 200, y: 100 })]).toEqual([
      1, 1, 0,
    ]);
    const soft = maskIn(add(made.scene, dark, { ...box, feather: 20 } as Part));
    expect(at(soft, { x: 40, y: 100 })).toBeCloseTo(0.5, 1);
    expect(at(soft, { x: 120, y: 100 })).toBeGreaterThan(0.99);
  });
});

describe('a difference', () => {
  it('is nothing where two frames are one view at two exposures, and full where something came on', () => {
    const own = setUp();
    const lamp = madeFrame(7, size);
    // The base's view in linear light, a stop brighter, but for a lamp.
    loadPixels(own.made.loader, { ...lamp, shot: { ...lamp.shot, ev: 2 } }, (x, y) => {
      const lit = Math.hypot(x - 60, y - 60) < 12;
      return sources[0](x, y).map((value) => (lit ? 60000 : value)) as unknown as [number, number, number];
    });
    const frames = [
      ...own.made.scene.frames,
      { ...lamp, shot: { ...lamp.shot, ev: own.made.scene.frames[0].shot.ev } },
    ];
    const scene = add({ ...own.made.scene, frames }, own.dark, {
      kind: 'difference',
      ...plainPart('difference'),
      first: own.made.frameIds[0],
      second: lamp.id,
      stops: null,
      mode: 'any',
      around: 60,
      from: 0.05,
      shoulder: 0.1,
    });
    const plane = own.whole(maskOf(scene, own.dark));
    expect(at(plane, { x: 60, y: 60 })).toBe(1);
    expect(at(plane, { x: 100, y: 120 })).toBe(0);
  });

  it('of frames that are gone is nothing', () => {
    const gone = FrameId.parse('gone');
    const part: Part = {
      kind: 'difference',
      ...plainPart('difference'),
      first: gone,
      second: gone,
      stops: 0,
      mode: 'any',
      around: 60,
      from: 0,
      shoulder: 0.1,
    };
    expect(maskIn(add(made.scene, dark, part)).every((value) => value === 0)).toBe(true);
  });
});

describe('a picture', () => {
  it('covers by its greys', () => {
    const own = setUp();
    const frame = madeFrame(9, size);
    const grey = (x: number): [number, number, number] => [x * 200, x * 200, x * 200];
    loadPixels(own.made.loader, frame, grey);
    const part: Part = { kind: 'picture', ...plainPart('picture'), file: frame.file, scaleTo: null };
    const scene = add(own.made.scene, own.dark, part);
    const plane = own.whole(maskOf(scene, own.dark));
    for (const { x, y } of places) expect(plane[y * size.width + x]).toBe(x * 200);
    expect(picturesOf(scene)).toEqual([part]);
  });
});

describe('a reference', () => {
  const to = (item: LayerId): Part => ({ kind: 'reference', ...plainPart('reference'), to: { item } });

  it('follows the other mask, until it is kept as it is', () => {
    const scene = add(add(made.scene, dark, radial), bright, to(dark));
    expect(maskIn(scene, bright)).toEqual(maskIn(scene, dark));
    const moved = edit(scene, setPart({ owner: dark, part: id('radial'), change: { turn: 80 } }));
    expect(maskIn(moved, bright)).toEqual(maskIn(moved, dark));
    const kept = edit(scene, freezeReference({ owner: bright, part: id('reference'), name: 'dark' }));
    const later = edit(kept, setPart({ owner: dark, part: id('radial'), change: { turn: 80 } }));
    expect(maskIn(later, bright)).toEqual(maskIn(scene, bright));
  });

  it('sees sources from where the other mask is', () => {
    const scene = add(add(made.scene, dark, newTonePart('layer')), bright, to(dark));
    expect(maskIn(scene, bright)).toEqual(maskIn(scene, dark));
    const kept = edit(scene, freezeReference({ owner: bright, part: id('reference'), name: 'dark' }));
    expect(maskIn(kept, bright)).toEqual(maskIn(scene, dark));
  });

  it('that leads back to itself covers nothing, instead of never ending', () => {
    const scene = add(add(add(made.scene, dark, to(bright)), bright, to(dark)), bright, radial);
    expect(maskIn(scene, dark)).toEqual(maskIn(add(made.scene, dark, radial)));
    expect(maskIn(add(made.scene, dark, to(dark))).every((value) => value === 0)).toBe(true);
  });

  it('follows a saved stencil, and is nothing once that is dropped', () => {
    const stencil = { id: StencilId.parse('s'), name: 'Disc', mask: maskOfParts([radial]) };
    const part: Part = { kind: 'reference', ...plainPart('reference'), to: { stencil: stencil.id } };
    const scene = add(edit(made.scene, saveStencil({ stencil })), dark, part);
    expect(maskIn(scene)).toEqual(maskIn(add(made.scene, dark, radial)));
    expect(maskIn(edit(scene, dropStencil({ id: stencil.id }))).every((value) => value === 0)).toBe(true);
  });
});

describe('joins, guards and groups', () => {
  // CSS Masking Module Level 1, section 7.8: Porter and Duff's source over, source out, source in and xor.
  it('exclude where both are', () => {
    const scene = add(add(made.scene, dark, radial), dark, { ...box, join: 'exclude' });
    const [r, b] = [radial, box].map((part) => maskIn(add(made.scene, dark, part)));
    const both = maskIn(scene);
    for (const place of places) {
      const [m, p] = [at(r, place), at(b, place)];
      expect(at(both, place)).toBeCloseTo(m * (1 - p) + p * (1 - m), 4);
    }
  });

  it('a guard limits the mask without touching it, and can be taken off', () => {
    const masked = add(made.scene, dark, radial);
    const guarded = edit(masked, addPart({ owner: dark, of: 'guard', part: box }));
    expect(maskIn(guarded)).toEqual(maskIn(masked));
    const shown = whole(nodeOf(guarded, { what: 'effect', at: dark }));
    const [m, g] = [maskIn(masked), maskIn(add(made.scene, dark, box))];
    for (const place of places) expect(at(shown, place)).toBeCloseTo(at(m, place) * at(g, place), 4);
    expect(whole(resultOf(edit(guarded, removeGuard({ owner: dark }))))).toEqual(whole(resultOf(masked)));
  });

  it('a group shows its layers through its mask, as one', () => {
    const [lower, upper] = layersOf(made.scene).map((layer) => layer.id);
    const open = [lower, upper].reduce(
      (scene, layerId) => add(scene, layerId, layerId === lower ? radial : box),
      made.scene,
    );
    const group = GroupId.parse('g');
    const grouped = edit(open, groupWithBelow({ layerId: upper, id: group }));
    expect(whole(resultOf(grouped))).toEqual(whole(resultOf(open)));
    const tones = edit(
      grouped,
      layPart({ owner: group, part: newTonePart('base') }),
      setItem({ id: group, change: { opacity: 0.8 } }),
    );
    const [bottom, all, shown] = [resultOf(made.scene), resultOf(open), resultOf(tones)].map((node) => whole(node));
    const mask = whole(nodeOf(tones, { what: 'mask', at: group }));
    for (const place of places) {
      const share = at(mask, place) * 0.8;
      expect(at(shown, place)).toBeCloseTo(at(bottom, place) + (at(all, place) - at(bottom, place)) * share, 4);
    }
    const apart = edit(tones, ungroup({ layerId: upper }));
    expect(apart.stack.map((item) => item.id)).toEqual([lower, upper]);
  });
});

describe('refinements', () => {
  const scene = add(made.scene, dark, newTonePart('base'));
  const refine = (part: PartId | null, change: object) => edit(scene, setRefinement({ owner: dark, part, change }));

  it('of a part and of the whole come to the same for a mask of one part', () => {
    const changes = [
      { levels: { black: 0.1, white: 0.7, gamma: 1.3 } },
      { softness: 6 },
      { grow: 5 },
      { grow: -3.5 },
      { coreFill: { amount: 0.8, reach: 20, from: 0.25 } },
      { edgeFit: { guide: 'layer', radius: 9, contrast: 0.05 } },
      { strength: 0.4 },
      { inverted: true, strength: 0.7 },
      { softness: 4, grow: 3, inverted: true },
    ];
    for (const change of changes) {
      const [one, all] = [maskIn(refine(id('tone'), change)), maskIn(refine(null, change))];
      let worst = 0;
      for (let i = 0; i < one.length; i++) worst = Math.max(worst, Math.abs(one[i] - all[i]));
      expect(worst, JSON.stringify(change)).toBeLessThanOrEqual(1);
      expect(one).not.toEqual(maskIn(scene));
    }
  });

  it('have no seams between tiles: every tile is as if the area went on', () => {
    const all = maskIn(
      refine(null, {
        edgeFit: { guide: 'base', radius: 20, contrast: 0.1 },
        coreFill: { amount: 1, reach: 40, from: 0.25 },
        grow: 6,
      }),
    );
    const step = (x: number) => {
      let sum = 0;
      for (let y = 20; y < 190; y++) sum += Math.abs(all[y * size.width + x] - all[y * size.width + x - 1]);
      return sum;
    };
    const usual = [100, 110, 150, 160].map(step).reduce((a, b) => a + b) / 4;
    expect(step(128)).toBeLessThan(2 * usual + 2000);
  });

  it('keep what painting hides when the painted part is softened', () => {
    const hidden = edit(
      scene,
      addStroke({ owner: dark, stroke: paint(made, [[150, 100]], { target: 0, size: 120, hardness: 1 }) }),
    );
    const painted = edit(hidden, movePart({ owner: dark, part: id('tone'), to: 0 }));
    const soft = edit(painted, setRefinement({ owner: dark, part: id('painted'), change: { softness: 3 } }));
    expect(at(maskIn(painted), { x: 150, y: 100 })).toBe(0);
    expect(at(maskIn(soft), { x: 150, y: 100 })).toBeLessThan(0.01);
    const far = { x: 20, y: 20 };
    expect(at(maskIn(soft), far)).toBeCloseTo(at(maskIn(scene), far), 4);
  });
});
