import alea from 'alea';
import { beforeAll, describe, expect, it } from 'vitest';
import { type OpenCv, startOpenCv } from '../../tests/openCv.ts';
import { planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import { compilePlan } from '../render/plan/plan.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { placeFrames } from '../scene/edits/placing.ts';
import { fitModel, type Match } from './fit.ts';
import { cornerDistance, mapPoint } from './placement.ts';

let cv: OpenCv;
beforeAll(async () => {
  ({ cv } = await startOpenCv());
});

const size = { width: 300, height: 210 };
const truth: Matrix3 = [1.01, 0.02, -4.5, -0.017, 0.995, 7.25, 3e-5, -2e-5, 1];

describe('homographies beside OpenCV', () => {
  it.each([0, 0.3])('findHomography on points with %s pixels of noise agrees within 0.02 pixels', (noise) => {
    const random = alea('points');
    const matches: Match[] = Array.from({ length: 60 }, () => {
      const from = { x: random() * 299, y: random() * 209 };
      const at = mapPoint(truth, from);
      return {
        from,
        to: { x: at.x + noise * (random() - 0.5), y: at.y + noise * (random() - 0.5) },
        sureness: [1, 0, 1],
      };
    });
    const points = (pick: 'from' | 'to') =>
      cv.matFromArray(
        60,
        1,
        cv.CV_32FC2,
        matches.flatMap((match) => [match[pick].x, match[pick].y]),
      );
    const [from, to] = [points('from'), points('to')];
    const found = cv.findHomography(from, to);
    const theirs = [...found.data64F] as number[];
    for (const mat of [from, to, found]) mat.delete();
    const ours = fitModel('perspective', matches, size, { noise: 0, robust: false });
    expect(cornerDistance(ours as Matrix3, theirs, size)).toBeLessThan(0.02);
    if (noise === 0) expect(cornerDistance(ours as Matrix3, truth, size)).toBeLessThan(1e-6);
  });

  it('warpPerspective gives the same picture within 0.5 % of full scale', () => {
    const wave = (x: number, y: number) =>
      Math.round(30000 + 9000 * Math.sin(x / 3 + y / 9) + 8000 * Math.cos(y / 2.5 - x / 7));
    const made = smallScene(size, [(x, y) => [wave(x, y), 0, 0]]);
    const [id] = made.frameIds;
    const placement = {
      model: 'perspective',
      verdict: null,
      reason: null,
      residualPx: null,
      agreement: null,
      stops: null,
    } as const;
    const scene = applyEdit(
      made.scene,
      placeFrames({ frameIds: [id], placement: { ...placement, matrix: [...truth] } }),
    );
    const node = compilePlan(scene)?.node({ what: 'frame', at: id });
    if (!node) throw new Error('no plan');
    const ours = planeOfNode(node, 0, 0, size, made.context);
    const source = new cv.Mat(size.height, size.width, cv.CV_32FC1);
    source.data32F.set(Float32Array.from(ours, (_, i) => wave(i % size.width, Math.floor(i / size.width))));
    const [target, matrix] = [new cv.Mat(), cv.matFromArray(3, 3, cv.CV_64F, [...truth])];
    cv.warpPerspective(
      source,
      target,
      matrix,
      new cv.Size(size.width, size.height),
      cv.INTER_LANCZOS4,
      cv.BORDER_REPLICATE,
    );
    const theirs = Float32Array.from(target.data32F as Float32Array);
    for (const mat of [source, target, matrix]) mat.delete();
    let worst = 0;
    for (let y = 12; y < size.height - 12; y++)
      for (let x = 12; x < size.width - 12; x++) {
        const at = mapPoint(invert3(truth), { x, y });
        if (at.x < 8 || at.y < 8 || at.x > size.width - 9 || at.y > size.height - 9) continue;
        worst = Math.max(worst, Math.abs(ours[y * size.width + x] - theirs[y * size.width + x]));
      }
    // Theirs reads at the nearest of 32 places between two pixels, ours at the nearest of 1,024.
    expect(worst).toBeLessThan(0.005 * 65535);
  });
});
