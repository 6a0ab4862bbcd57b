import alea from 'alea';
import { ItemId, SpotId } from '#core/ids.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { setItem } from '#core/scene/edits/items.ts';
import { addSpots } from '#core/scene/edits/retouching.ts';
import { addAdjustment } from '#core/scene/edits/stack.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { RetouchSpot } from '#core/scene/retouch.ts';
import type { Scene } from '#core/scene/scene.ts';
import { randomDevelop } from './randomDevelop.ts';
import { randomStack } from './randomStack.ts';
import { edit } from './renderScene.ts';

/** But for a vignette, which follows the crop. */
const STEPS = ['levels', 'ends', 'localContrast', 'softGlow', 'highPass', 'lights', 'dodgeBurn', 'colour'] as const;

/** A scene of frames of 300 x 210 pixels: a stack of all kinds, or none, on frames that are developed or not, with spots or without, some or no steps above it, some of them hidden. */
export function randomFinished(bare: Scene, seed: string): { scene: Scene; steps: ItemId[] } {
  const random = alea(seed);
  let scene = randomStack(bare, seed);
  if (random() < 0.3) scene = { ...scene, stack: [] };
  const develop = (i: number) =>
    Object.fromEntries(Object.entries(randomDevelop(`${seed} ${i}`)).filter(() => random() < 0.4));
  if (random() < 0.6)
    scene = {
      ...scene,
      frames: scene.frames.map((frame, i) => ({ ...frame, develop: develop(i) as Frame['develop'] })),
    };
  const spots = Array.from({ length: Math.floor(3 * random()) }, (_, i): RetouchSpot => {
    const at = { x: 300 * random(), y: 210 * random() };
    const path = random() < 0.5 ? [at] : [at, { x: at.x + 20, y: at.y + 12 }];
    return {
      ...{ id: SpotId.parse(`spot-${i}`), path, radius: 5 + 10 * random(), soft: random(), by: { x: 30, y: -14 } },
      ...{ how: random() < 0.5 ? 'heal' : 'clone', flip: 'none', frame: null, stops: 0, opacity: 1 },
      visible: random() < 0.8,
    };
  });
  if (spots.length > 0) scene = edit(scene, addSpots({ spots }));
  const steps: ItemId[] = [];
  for (let count = Math.floor(3 * random()); count > 0; count--) {
    const kind = STEPS[Math.floor(random() * STEPS.length)];
    const id = ItemId.parse(`step-${steps.length}`);
    const end = { x: 300 * random(), y: 210 * random() };
    const part = {
      ...{ kind: 'gradient' as const, ...plainPart('gradient'), start: { x: 0, y: 0 }, end },
      ...{ profile: 'smooth' as const, middle: 0.5 },
    };
    scene = edit(scene, addAdjustment({ id, kind, above: steps.at(-1) ?? { blend: true }, part }));
    if (random() < 0.3) scene = edit(scene, setItem({ id, change: { visible: false } }));
    steps.push(id);
  }
  return { scene, steps };
}
