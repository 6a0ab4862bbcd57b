import alea from 'alea';
import { beforeAll, describe, expect, it } from 'vitest';
import { type OpenCv, startOpenCv } from '../../tests/openCv.ts';
import { nodeOf } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { fitGuided } from '../kernels/guidedFilter.ts';
import { developFrames } from '../scene/edits/developing.ts';
import { applyEdit } from '../scene/edits/index.ts';

let cv: OpenCv;
beforeAll(async () => {
  ({ cv } = await startOpenCv());
});

const size = { width: 220, height: 160 };
const count = size.width * size.height;
/** Means of windows by OpenCV's `blur`, in floats. */
function meansOf(plane: ArrayLike<number>, radius: number): Float32Array {
  const from = cv.matFromArray(size.height, size.width, cv.CV_32F, Array.from(plane));
  const to = new cv.Mat();
  cv.blur(from, to, new cv.Size(2 * radius + 1, 2 * radius + 1), new cv.Point(-1, -1), cv.BORDER_REFLECT);
  const out = Float32Array.from(to.data32F as Float32Array);
  for (const mat of [from, to]) mat.delete();
  return out;
}
const each = (of: (i: number) => number) => Float32Array.from({ length: count }, (_, i) => of(i));
/** Largest difference away from the edges, at which windows are cut off. */
function apart(a: ArrayLike<number>, b: ArrayLike<number>, margin: number): number {
  let worst = 0;
  for (let y = margin; y < size.height - margin; y++)
    for (let x = margin; x < size.width - margin; x++) {
      const i = y * size.width + x;
      worst = Math.max(worst, Math.abs(a[i] - b[i]));
    }
  return worst;
}

describe('filters, put together of windows that OpenCV averages', () => {
  it('the guided filter (He, Sun and Tang 2010, eq. 5, 6 and 8)', () => {
    const random = alea('guide');
    const guide = each((i) => (i % size.width > 110 ? 0.7 : 0.2) + 0.1 * random());
    const mask = each((i) => (i % size.width > 104 ? 0.9 : 0.1) + 0.05 * random());
    const [radius, epsilon] = [6, 0.01];
    const [meanGuide, meanMask] = [meansOf(guide, radius), meansOf(mask, radius)];
    const product = meansOf(
      each((i) => guide[i] * mask[i]),
      radius,
    );
    const square = meansOf(
      each((i) => guide[i] ** 2),
      radius,
    );
    const slope = each((i) => (product[i] - meanGuide[i] * meanMask[i]) / (square[i] - meanGuide[i] ** 2 + epsilon));
    const [slopes, offsets] = [
      meansOf(slope, radius),
      meansOf(
        each((i) => meanMask[i] - slope[i] * meanGuide[i]),
        radius,
      ),
    ];
    const room = () => new Float32Array(count);
    const own = { guide, mask: mask.slice(), slope: room(), offset: room() };
    fitGuided({ ...own, spare: [room(), room(), room()], ...size }, radius, epsilon);
    expect(apart(own.slope, slopes, 2 * radius + 1)).toBeLessThan(1e-3);
    expect(apart(own.offset, offsets, 2 * radius + 1)).toBeLessThan(1e-3);
  });

  it('noise of brightness taken out (Lee 1980, its lines averaged as in the guided filter)', () => {
    const random = alea('noise');
    const source: PixelSource = (x, y) => {
      const tone = (x > 90 ? 0.6 : 0.25) + 0.05 * Math.sin(y / 3);
      const noise = () => Math.round(65535 * (tone + 0.04 * (random() + random() - 1)));
      return [noise(), noise(), noise()];
    };
    const made = smallScene(size, [source]);
    const [id] = made.frameIds;
    const planes = (scene: typeof made.scene) => {
      const node = nodeOf(scene, { what: 'result' });
      return [0, 1, 2].map((plane) => planeOfNode(node, plane, 0, size, made.context));
    };
    const noise = { brightness: 1, colour: 0, measured: { brightness: 0.02, colour: 0.02 } };
    const before = planes(made.scene);
    const after = planes(applyEdit(made.scene, developFrames({ frameIds: [id], change: { noise } })));
    const radius = 3;
    const [r, g, b] = before;
    const brightness = each((i) => ((r[i] + 2 * g[i] + b[i] + 2) >> 2) / 65535);
    const mean = meansOf(brightness, radius);
    const square = meansOf(
      each((i) => brightness[i] ** 2),
      radius,
    );
    // What is thought to be noise: 1.4 times the variance that was measured.
    const kept = each((i) => {
      const variance = Math.max(1e-12, square[i] - mean[i] ** 2);
      return Math.max(0, variance - 1.4 * 0.02 ** 2) / variance;
    });
    const slopes = meansOf(kept, radius);
    const offsets = meansOf(
      each((i) => (1 - kept[i]) * mean[i]),
      radius,
    );
    for (const channel of [0, 1, 2]) {
      const wanted = each((i) => before[channel][i] + 65535 * (slopes[i] * brightness[i] + offsets[i] - brightness[i]));
      expect(apart(after[channel], wanted, 10)).toBeLessThan(3);
    }
  });
});
