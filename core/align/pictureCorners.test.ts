import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cornersIn, turned } from '../scene/placedPicture.ts';
import { type Corners, cornersOfMatrix, matrixOfCorners, numbersOfPicture, withNumbers } from './pictureCorners.ts';
import { mapPoint } from './placement.ts';

const SCENE = { width: 2400, height: 1600 };
const SIZE = { width: 900, height: 700 };
const near = (a: number, b: number, by = 1e-3) => expect(Math.abs(a - b)).toBeLessThan(by);

describe('numbers of a laid picture', () => {
  it('are told from the middle of the scene: none for one that lies there as large as it is', () => {
    const [left, top] = [(2400 - 900) / 2, (1600 - 700) / 2];
    const at = (u: number, v: number) => ({ x: left + u * 900, y: top + v * 700 });
    const corners: Corners = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
    const { x, y, turnDegrees, scale } = numbersOfPicture({ ...SIZE, corners }, SCENE) ?? {};
    for (const number of [x, y, turnDegrees]) near(number as number, 0);
    near(scale as number, 1);
  });

  it('say how large one is that fits in, and how it is turned', () => {
    const corners = turned(cornersIn(SCENE, SIZE, 'within'), 12) as Corners;
    const { x, y, turnDegrees, scale } = numbersOfPicture({ ...SIZE, corners }, SCENE) ?? {};
    near(x as number, 0);
    near(y as number, 0);
    near(turnDegrees as number, 12);
    near(scale as number, 1600 / 700, 1e-5);
  });

  it('are what they were set to, and leave all else that was done to its corners', () => {
    const slight = fc.double({ min: -120, max: 120, noNaN: true });
    fc.assert(
      fc.property(fc.array(slight, { minLength: 8, maxLength: 8 }), slight, slight, (by, x, degrees) => {
        const plain = cornersIn(SCENE, SIZE, 'within') as Corners;
        const corners = plain.map((at, i) => ({ x: at.x + by[2 * i], y: at.y + by[2 * i + 1] })) as Corners;
        const picture = { ...SIZE, corners };
        const before = numbersOfPicture(picture, SCENE);
        if (!before) return;
        const after = { ...SIZE, corners: withNumbers(picture, SCENE, { x, turnDegrees: degrees / 4, scale: 1.5 }) };
        const now = numbersOfPicture(after, SCENE);
        near(now?.x ?? Number.NaN, x);
        near(now?.y ?? Number.NaN, before.y);
        near(now?.turnDegrees ?? Number.NaN, degrees / 4);
        near(now?.scale ?? Number.NaN, 1.5, 1e-5);
        // Set back it is where it was.
        const back = withNumbers(after, SCENE, before);
        for (const [i, at] of back.entries()) {
          near(at.x, corners[i].x, 0.01);
          near(at.y, corners[i].y, 0.01);
        }
      }),
    );
  });

  it('know none where corners are no quadrilateral, and leave those as they are', () => {
    const corners: Corners = [
      { x: 0, y: 0 },
      { x: 10, y: 0 },
      { x: 0, y: 10 },
      { x: 10, y: 10 },
    ];
    expect(numbersOfPicture({ ...SIZE, corners }, SCENE)).toBeUndefined();
    expect(withNumbers({ ...SIZE, corners }, SCENE, { x: 4 })).toBe(corners);
  });

  it('count a picture and its scene from the same corner', () => {
    const corners = cornersIn(SCENE, SIZE, 'covering') as Corners;
    const matrix = matrixOfCorners({ ...SIZE, corners });
    if (!matrix) throw new Error('no quadrilateral');
    for (const [i, at] of cornersOfMatrix(matrix, SIZE).entries()) {
      near(at.x, corners[i].x, 0.01);
      near(at.y, corners[i].y, 0.01);
    }
    // The middle of the first pixel lies half a pixel of its own from the corner.
    const scale = 2400 / 900;
    near(mapPoint(matrix, { x: 0, y: 0 }).x, corners[0].x - 0.5 + scale / 2, 0.01);
  });
});
