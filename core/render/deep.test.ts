import { describe, expect, it } from 'vitest';
import { openResources } from '../../engine/kernelModule.ts';
import { edit, nodeOf, paint } from '../../tests/renderScene.ts';
import { planeOfNode, smallScene, testKernels } from '../../tests/smallScene.ts';
import { ItemId, StencilId } from '../ids.ts';
import { newTonePart } from '../parts/tone.ts';
import { addPart } from '../scene/edits/masks.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { addAdjustment, setAdjustment } from '../scene/edits/stack.ts';
import { maskOfParts } from '../scene/mask.ts';
import type { Scene } from '../scene/scene.ts';
import { createRenderContext } from './tiles/createRenderContext.ts';

/** Adjustments that look around themselves, each at a width that is read at the level that is drawn. */
const AROUND = [
  ['ends', { darks: { stops: 0.3, reach: -3 }, brights: { stops: -0.2, reach: -2.5 } }],
  ['haze', { amount: 0.1, veil: { red: 0.8, green: 0.8, blue: 0.85 } }],
  ['localContrast', { fine: { amount: 0.2, radius: 8 }, broad: { amount: 0.1, radius: 90 } }],
  ['noise', { brightness: 0.5, colour: 0.5 }],
  ['sharpening', { amount: 0.3, radius: 1 }],
  ['softGlow', { strength: 0.1, radius: 30 }],
  ['highPass', { strength: 0.1, radius: 3 }],
] as const;

/** A wide picture: what is looked for around a place lies levels below what is drawn, and is no tile of it. */
const size = { width: 4200, height: 260 };
const ramp = (x: number, y: number) => {
  const tone = 6000 + 10 * x + 20 * y + ((x * 7919 + y * 104729) % 900);
  return [tone, Math.round(0.9 * tone), Math.round(0.7 * tone + 900)] as const;
};
const through = { of: StencilId.parse('tones'), seenFrom: null, mask: maskOfParts([newTonePart('below')]) };

/** A picture with a stack of adjustments, each of which looks at those below it; masked, for tones of its mask and of a stencil as well. */
function deepScene(kinds: readonly (typeof AROUND)[number][], cards: number, isMasked: boolean, thread: number) {
  const small = smallScene(size, [ramp]);
  const resources = openResources({ memory: small.memory, kernels: testKernels, arena: thread });
  const made = { ...small, context: createRenderContext(resources) };
  let scene: Scene = made.scene;
  for (let i = 0; i < cards; i++) {
    const id = ItemId.parse(`card-${i}`);
    const [kind, change] = kinds[i % kinds.length];
    const stroke = paint(made, [
      [40 + i, 60],
      [600 - i, 220],
    ]);
    scene = edit(
      scene,
      addAdjustment({ id, kind, above: i === 0 ? null : ItemId.parse(`card-${i - 1}`) }),
      setAdjustment({ id, change: structuredClone(change) as never }),
    );
    if (!isMasked) continue;
    scene = edit(scene, addPart({ owner: id, part: newTonePart('below') }), addStroke({ owner: id, stroke, through }));
  }
  return { made, scene };
}

describe('a deep stack', () => {
  // Those of one kind are as deep as plans go. Every other thread takes what is looked at from its end.
  const stacks = [
    ['of all kinds', AROUND, 14, false],
    ['of all kinds, masked', AROUND, 14, true],
    ['of ends', AROUND.slice(0, 1), 70, false],
    ['of haze', AROUND.slice(1, 2), 70, false],
  ] as const;

  it.each(stacks)('%s is made in what memory a thread has', (_, kinds, cards, isMasked) => {
    const ways = [
      { thread: 0, interactive: false },
      { thread: 1, interactive: true },
      { thread: 1, interactive: false },
    ];
    const planes = ways.map(({ thread, interactive }) => {
      const { made, scene } = deepScene(kinds, cards, isMasked, thread);
      const node = nodeOf(scene, { what: 'result' });
      return planeOfNode(node, 1, 0, { width: 256, height: 128 }, { ...made.context, interactive });
    });
    const [first, ...others] = planes.map((plane) => plane.join());
    for (const other of others) expect(other === first).toBe(true);
    const [least, most] = [Math.min, Math.max].map((of) => planes[0].reduce((a, b) => of(a, b)));
    expect(most - least).toBeGreaterThan(1000);
  });
});
