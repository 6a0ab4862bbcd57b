import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { randomScene } from '../../tests/randomScene.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { edit, setUp } from '../../tests/renderScene.ts';
import { ENCODING, encodedRunOf } from '../color/encodedSteps.ts';
import { compileSteps, type PointStep } from '../color/pointSteps.ts';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import { type BaseRadius, PLAIN_TOOLS } from '../color/surroundings.ts';
import { adjustmentKind } from '../develop/list.ts';
import { ItemId } from '../ids.ts';
import { ALONE } from '../kernels/encodedSteps.ts';
import { tabledLight } from '../kernels/logTable.ts';
import type { RgbFloats } from '../kernels/planes.ts';
import { plainPart } from '../parts/partBase.ts';
import { setItem } from '../scene/edits/items.ts';
import { addPart } from '../scene/edits/masks.ts';
import { addAdjustment, setAdjustment } from '../scene/edits/stack.ts';
import type { Scene } from '../scene/scene.ts';
import { compilePlan } from './plan/plan.ts';

const { made, whole } = setUp();

/** One step of each kind that can be laid while it is made, and of those that it lies on or below. */
const STEPS = {
  levels: { all: { black: 0.02, white: 0.9, power: 1.2 }, red: { black: 0, white: 1, power: 0.9 } },
  ends: { darks: { stops: 1.2, reach: -3 }, brights: { stops: -0.7, reach: -2 } },
  colour: { saturation: 0.3 },
  localContrast: { fine: { amount: 0.5, radius: 6 }, broad: { amount: -0.4, radius: 60 } },
  softGlow: { strength: 0.5, radius: 12 },
  highPass: { strength: 0.7, radius: 3 },
  exposure: { stops: 0.4 },
  edges: { stops: -1 },
  dodgeBurn: { stops: 2 },
  curve: {
    all: [
      { x: 0, y: 0.03 },
      { x: 0.4, y: 0.5 },
      { x: 1, y: 1 },
    ],
  },
} as const;

/** A random scene with a row of steps above it, in random order, masked, some of them faint, in a mode, or hidden. */
function finished(seed: string): Scene {
  const random = alea(seed);
  let scene = randomStack(randomScene(made.scene, seed, { layers: 3, parts: 3 }), seed);
  const names = (Object.keys(STEPS) as (keyof typeof STEPS)[]).sort(() => random() - 0.5);
  for (const kind of names) {
    const id = ItemId.parse(kind);
    const above = scene.finish.at(-1)?.id ?? ({ blend: true } as const);
    scene = edit(scene, addAdjustment({ id, kind, above }), setAdjustment({ id, change: STEPS[kind] as never }));
    const opacity = random() < 0.4 ? 0.6 : 1;
    const mode = random() < 0.2 ? 'multiply' : 'normal';
    scene = edit(scene, setItem({ id, change: { opacity, mode, visible: random() > 0.1 } }));
    const gradient = {
      ...{ kind: 'gradient' as const, ...plainPart('gradient', `g-${kind}`), join: 'intersect' as const },
      ...{ start: { x: 300 * random(), y: 210 * random() }, end: { x: 300 * random(), y: 210 * random() } },
      ...{ profile: 'smooth' as const, middle: 0.5 },
    };
    if (random() < 0.7)
      scene = edit(scene, addPart({ owner: id, of: kind === 'dodgeBurn' ? 'guard' : 'mask', part: gradient }));
  }
  return scene;
}

describe('what is laid while it is made', () => {
  it.each(['a', 'b', 'e', 'f'])('is to the bit what is made first and laid then: %s', (seed) => {
    const scene = finished(`overlaid ${seed}`);
    const planesOf = (selected?: ItemId, interactive = true) => {
      made.context.table.dropDerived();
      made.context.interactive = interactive;
      const result = compilePlan(scene, undefined, selected)?.node({ what: 'result' });
      if (!result) throw new RangeError('The scene has no result');
      const planes = [0, 1, 2].map((plane) => whole(result, plane, 0));
      made.context.transient.drop();
      made.context.interactive = true;
      return planes;
    };
    const plain = planesOf();
    const isSame = (planes: readonly ArrayLike<number>[]) =>
      planes.every((plane, which) => plain[which].every((value, i) => value === plane[i]));
    expect(isSame(planesOf(undefined, false))).toBe(true);
    for (const { id } of scene.finish) expect(isSame(planesOf(id)), id).toBe(true);
  });
});

describe('steps over encoded values', () => {
  const random = alea('encoded');
  const plane = () => Float32Array.from({ length: 4096 }, () => 70_000 * random() ** 3 - (random() < 0.05 ? 500 : 0));
  const codes = () => Uint16Array.from({ length: 4096 }, () => 65536 * random());
  const around = () => ({
    tones: codes(),
    bases: new Map<BaseRadius, Uint16Array>([
      ['picture', codes()],
      [6, codes()],
      [60, codes()],
    ]),
  });
  const stepsOf = (kind: keyof typeof STEPS): readonly PointStep[] => {
    const { rest, steps } = adjustmentKind(kind) ?? {};
    return steps?.({ ...(rest as object), ...STEPS[kind] } as never, 'srgb') ?? [];
  };

  it.each(['levels', 'curve', 'ends', 'localContrast'] as const)('make what they make of light: %s', (kind) => {
    const kindOf = adjustmentKind(kind);
    const settings = { ...(kindOf?.rest as object), ...STEPS[kind] };
    const steps = kindOf?.steps(settings as never, 'srgb') ?? [];
    const run = encodedRunOf(steps);
    if (!run) throw new RangeError('It takes light');
    const values: RgbFloats = [plane(), plane(), plane()];
    const seen = around();
    const out: RgbFloats = [plane(), plane(), plane()];
    run(values, values, seen, ALONE, out, PLAIN_TOOLS);
    const lightOf = (each: Float32Array) => each.map((value) => decodeSrgb(value / 65535));
    const light: RgbFloats = [lightOf(values[0]), lightOf(values[1]), lightOf(values[2])];
    compileSteps(steps, 'srgb')(light, seen, PLAIN_TOOLS);
    let worst = 0;
    for (const channel of [0, 1, 2] as const)
      for (let i = 0; i < 4096; i++) {
        const expected = 65535 * encodeSrgb(light[channel][i]);
        worst = Math.max(worst, Math.abs(out[channel][i] - expected) / Math.max(65535, expected));
      }
    expect(worst).toBeLessThan(4e-5);
  });

  it('are none where a step takes light, alone or among others', () => {
    for (const kind of ['colour', 'exposure'] as const) expect(encodedRunOf(stepsOf(kind))).toBeUndefined();
    expect(encodedRunOf([...stepsOf('levels'), ...stepsOf('ends')])).toBeUndefined();
    expect(encodedRunOf([])).toBeUndefined();
  });

  it('encode as the curve of sRGB does (IEC 61966-2-1)', () => {
    for (const light of [0, 0.001, 0.0031308, 0.02, 0.18, 0.5, 1, 4])
      expect(Math.abs(tabledLight(ENCODING, light) - 65535 * encodeSrgb(light))).toBeLessThan(0.2);
  });
});
