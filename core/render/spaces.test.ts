import { describe, expect, it } from 'vitest';
import { nodeOf, resultOf } from '../../tests/renderScene.ts';
import { loadPixels, madeFrame, type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import type { FrameId } from '../ids.ts';
import { PLAIN_READING } from '../reading.ts';
import { addFrames, removeFrame } from '../scene/edits/frames.ts';
import { setReading } from '../scene/edits/gather.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { setInverted } from '../scene/edits/older.ts';
import type { Frame } from '../scene/frame.ts';
import { frameOfLayer } from '../scene/item.ts';
import { newScene, type Scene } from '../scene/scene.ts';
import { layersOf } from '../scene/tree.ts';
import { frameKey } from './nodes/frameNode.ts';
import { toSpace } from './nodes/lightNode.ts';

const size = { width: 150, height: 40 };
const spread: PixelSource = (x, y) => [(x * 431 + y * 7) & 0xffff, (x * 977 + y * 311) & 0xffff, (y * 1601) & 0xffff];
const WIDE = { ...PLAIN_READING, space: 'bt2020' } as const;
const wideFrame = (index: number): Frame => ({ ...madeFrame(index, size), reading: WIDE });
const scene = (...frames: Frame[]): Scene => applyEdit(newScene('Spaces'), addFrames({ frames }));

/** Linear sRGB to linear BT.2020 (ITU-R BT.2087-0, M2, from memory). */
const BT2087 = [
  [0.6274, 0.3293, 0.0433],
  [0.0691, 0.9195, 0.0114],
  [0.0164, 0.088, 0.8956],
];

function inBt2020(rgb: readonly number[]): number[] {
  const light = rgb.map((value) => decodeSrgb(value / 65535));
  return BT2087.map((row) => 65535 * encodeSrgb(row.reduce((sum, weight, i) => sum + weight * light[i], 0)));
}

describe('the working space of a scene', () => {
  it('is sRGB while all frames are, and wide as soon as one is', () => {
    const narrow = scene(madeFrame(0, size));
    expect(narrow.workingSpace).toBe('srgb');
    const mixed = applyEdit(narrow, addFrames({ frames: [wideFrame(1)] }));
    expect(mixed.workingSpace).toBe('bt2020');
    expect(applyEdit(mixed, removeFrame({ frameId: wideFrame(1).id })).workingSpace).toBe('srgb');
  });

  it('follows what a file without a profile is taken to be in', () => {
    const frameIds = [madeFrame(0, size).id];
    const taken = applyEdit(scene(madeFrame(0, size)), setReading({ frameIds, reading: { untagged: 'adobe-rgb' } }));
    expect([taken.workingSpace, taken.frames[0].reading.space]).toEqual(['bt2020', 'bt2020']);
    const back = applyEdit(taken, setReading({ frameIds, reading: { untagged: 'srgb' } }));
    expect([back.workingSpace, back.frames[0].reading.space]).toEqual(['srgb', 'srgb']);
  });
});

describe('frames of both spaces in one scene', () => {
  const made = smallScene(size, [spread]);
  const wide = wideFrame(1);
  const mixed = scene(madeFrame(0, size), wide);
  const { loader, context } = made;
  const frameNode = (at: FrameId) => nodeOf(mixed, { what: 'frame', at });
  const whole = (node: Parameters<typeof planeOfNode>[0]) =>
    [0, 1, 2].map((plane) => planeOfNode(node, plane, 0, size, context));

  it('an sRGB frame is brought into the wide space', () => {
    const planes = whole(frameNode(made.frameIds[0]));
    let worst = 0;
    for (let i = 0; i < planes[0].length; i++) {
      const wanted = inBt2020(spread(i % size.width, Math.floor(i / size.width)));
      // The recommendation's numbers have four places: their last is worth some steps, most in the shadows.
      for (const [channel, plane] of planes.entries())
        worst = Math.max(worst, Math.abs(decodeSrgb(plane[i] / 65535) - decodeSrgb(wanted[channel] / 65535)));
    }
    expect(worst).toBeLessThan(1.5e-4);
  });

  it('comes back within a step of 65,535, but for rounding in the shadows', () => {
    const there = toSpace(frameNode(made.frameIds[0]), 'bt2020', 'srgb');
    const planes = whole(there);
    let worst = 0;
    for (let i = 0; i < planes[0].length; i++) {
      const own = spread(i % size.width, Math.floor(i / size.width));
      for (const [channel, plane] of planes.entries())
        worst = Math.max(worst, Math.abs(decodeSrgb(plane[i] / 65535) - decodeSrgb(own[channel] / 65535)) * 65535);
    }
    expect(worst).toBeLessThan(3);
  });

  it('a wide frame is left as it was read', () => {
    const sha = { ...wide.file };
    const loaded: Frame = { ...wide, file: sha };
    loadPixels(loader, loaded, spread);
    expect(frameNode(wide.id).keyAt({ level: 0, tx: 0, ty: 0 }, context)).toEqual(frameKey(sha.sha256, WIDE));
    expect(whole(frameNode(wide.id))[0][5]).toBe(spread(5, 0)[0]);
  });

  it('white stays white, and layers are mixed in the wide space', () => {
    const shown = applyEdit(mixed, setInverted({ layerId: layersOf(mixed)[0].id, inverted: true }));
    const upper = whole(resultOf(shown));
    const at = frameOfLayer(layersOf(shown)[0]) as FrameId;
    expect(upper).toEqual(whole(nodeOf(shown, { what: 'frame', at })));
  });

  it('takes no memory for what is drawn only once', () => {
    const before = made.table.slab.usedSlots;
    whole(toSpace(frameNode(wide.id), 'bt2020', 'display-p3'));
    expect(made.table.slab.usedSlots).toBe(before);
  });
});
