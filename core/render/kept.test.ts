import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { resultOf, size, sources } from '../../tests/renderScene.ts';
import { planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { StrokeId } from '../ids.ts';
import { levelSize } from '../raster/size.ts';
import { openScene } from '../scene/readScene.ts';

/** A scene as a program of its time wrote it, and what that made of it: pictures never change. */
interface KeptScene {
  document: { groups?: unknown[] };
  /** Points of its strokes, four numbers each. */
  strokes: Record<string, number[]>;
  /** SHA-256 of the red, green and blue planes in a row, the first 32 digits: at full size, and at half. */
  digests: string[];
  /** The same since placed frames are read with whole-numbered weights: some pixels are one level off what they were. */
  digestsSince?: string[];
  /** Of each plane at full size every 1543rd sample from the 212th on, 40 of them. */
  samples: number[];
}

const folder = new URL('../../tests/fixtures/scenes/', import.meta.url);
const names = readdirSync(folder).sort();

function renderedOf({ document, strokes }: KeptScene): Pick<KeptScene, 'digests' | 'samples'> {
  const made = smallScene(size, sources);
  for (const [id, points] of Object.entries(strokes))
    made.context.strokes.append(StrokeId.parse(id), Float32Array.from(points));
  const { scene, repairs } = openScene(document);
  expect([...repairs]).toEqual([]);
  const result = resultOf(scene);
  const planes = [0, 1].map((level) =>
    [0, 1, 2].map((plane) => planeOfNode(result, plane, level, levelSize(size, level), made.context)),
  );
  return {
    digests: planes.map((level) => {
      const hash = createHash('sha256');
      for (const plane of level) hash.update(plane);
      return hash.digest('hex').slice(0, 32);
    }),
    samples: planes[0].flatMap((plane) => Array.from({ length: 40 }, (_, i) => plane[(i * 1543 + 211) % plane.length])),
  };
}

describe('a scene of an earlier version renders as it did then', () => {
  it.each(names)('%s', (name) => {
    const kept = JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as KeptScene;
    const now = renderedOf(kept);
    // Pictures within groups were once rounded before they were laid; now they stay in floats.
    const isRounded = kept.document.groups !== undefined && kept.document.groups.length > 0;
    if (!isRounded) expect(now.digests).toEqual(kept.digestsSince ?? kept.digests);
    const allowed = isRounded || kept.digestsSince ? 1 : 0;
    for (const [i, sample] of now.samples.entries())
      expect(Math.abs(sample - kept.samples[i])).toBeLessThanOrEqual(allowed);
  });
});
