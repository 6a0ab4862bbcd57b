import { beforeAll, describe, expect, it } from 'vitest';
import { type OpenCv, startOpenCv } from '../../tests/openCv.ts';
import { bentPlace, type Lens, middleOf, straightPlace } from './lens.ts';

const size = { width: 640, height: 427 };
const LENSES: readonly Lens[] = [
  { bend: [-0.08, 0.02, -0.004], red: 0, blue: 0 },
  { bend: [0.05, -0.01, 0.003], red: 0, blue: 0 },
  { bend: [-0.15, -0.05, -0.02], red: 0, blue: 0 },
];

describe('a lens', () => {
  let cv: OpenCv;
  beforeAll(async () => {
    ({ cv } = await startOpenCv());
  });

  it('bends as OpenCV undoes it (initUndistortRectifyMap, radial part)', () => {
    for (const lens of LENSES) {
      const { x, y, radius } = middleOf(size);
      const camera = cv.matFromArray(3, 3, cv.CV_64F, [radius, 0, x, 0, radius, y, 0, 0, 1]);
      const [k1, k2, k3] = lens.bend;
      const bend = cv.matFromArray(1, 5, cv.CV_64F, [k1, k2, 0, 0, k3]);
      const [none, across, down] = [cv.Mat.eye(3, 3, cv.CV_64F), new cv.Mat(), new cv.Mat()];
      cv.initUndistortRectifyMap(
        camera,
        bend,
        none,
        camera,
        new cv.Size(size.width, size.height),
        cv.CV_32FC1,
        across,
        down,
      );
      for (let row = 0; row < size.height; row += 19)
        for (let column = 0; column < size.width; column += 23) {
          const at = bentPlace(lens, size, { x: column, y: row });
          const i = row * size.width + column;
          expect(Math.abs(at.x - across.data32F[i])).toBeLessThan(1e-3);
          expect(Math.abs(at.y - down.data32F[i])).toBeLessThan(1e-3);
        }
      for (const mat of [camera, bend, none, across, down]) mat.delete();
    }
  });

  it('is undone from any place', () => {
    for (const lens of LENSES)
      for (const at of [{ x: 0, y: 0 }, { x: 639, y: 12 }, { x: 320.5, y: 213.2 }, { x: 77, y: 400 }, middleOf(size)]) {
        const back = straightPlace(lens, size, bentPlace(lens, size, at));
        expect(back.x).toBeCloseTo(at.x, 6);
        expect(back.y).toBeCloseTo(at.y, 6);
      }
  });
});
