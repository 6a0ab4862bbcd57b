import { IDENTITY3, invert3, type Matrix3 } from '#core/raster/matrix3.ts';
import type { Size } from '#core/raster/size.ts';
import type { OpenCv } from '../../tests/openCv.ts';

/** Tones of 8 bits, as the library's pipelines take them. */
function greyOf(cv: OpenCv, pixels: Uint16Array, { width, height }: Size): OpenCv {
  const grey = new Uint8Array(width * height);
  for (let i = 0; i < grey.length; i++) grey[i] = (pixels[3 * i] + 2 * pixels[3 * i + 1] + pixels[3 * i + 2]) / 4 / 257;
  const mat = new cv.Mat(height, width, cv.CV_8UC1);
  mat.data.set(grey);
  return mat;
}

/** Enhanced correlation coefficient at full size (Evangelidis and Psarakis 2008).
 * @param start - Where it begins, frame to base: without one, at no motion at all.
 * @param blur - Width of the Gaussian that both are smoothed with first.
 * @returns Frame to base; undefined when it does not converge. */
export function alignByEcc(
  cv: OpenCv,
  base: Uint16Array,
  frame: Uint16Array,
  size: Size,
  motion: 'euclidean' | 'homography',
  { start = IDENTITY3, blur = 5 }: { start?: Matrix3; blur?: number } = {},
): Matrix3 | undefined {
  const [a, b] = [greyOf(cv, base, size), greyOf(cv, frame, size)];
  const rows = motion === 'homography' ? 3 : 2;
  const warp = cv.matFromArray(rows, 3, cv.CV_32F, invert3(start).slice(0, 3 * rows));
  const mask = new cv.Mat();
  try {
    const type = motion === 'homography' ? cv.MOTION_HOMOGRAPHY : cv.MOTION_EUCLIDEAN;
    const criteria = new cv.TermCriteria(cv.TermCriteria_COUNT + cv.TermCriteria_EPS, 50, 1e-5);
    cv.findTransformECC(a, b, warp, type, criteria, mask, blur);
    return invert3([...warp.data32F, ...(rows === 2 ? [0, 0, 1] : [])]);
  } catch {
    return undefined;
  } finally {
    for (const mat of [a, b, warp, mask]) mat.delete();
  }
}

/** Features (AKAZE), their matches, and a homography that most agree on.
 * @returns Frame to base; undefined when there is none. */
export function alignByFeatures(cv: OpenCv, base: Uint16Array, frame: Uint16Array, size: Size): Matrix3 | undefined {
  const mats: OpenCv[] = [];
  const keep = <T>(mat: T): T => {
    mats.push(mat);
    return mat;
  };
  try {
    const detector = keep(new cv.AKAZE());
    const features = [frame, base].map((pixels) => {
      const grey = keep(greyOf(cv, pixels, size));
      const points = keep(new cv.KeyPointVector());
      const descriptors = keep(new cv.Mat());
      detector.detectAndCompute(grey, keep(new cv.Mat()), points, descriptors);
      return { points, descriptors };
    });
    const matcher = keep(new cv.BFMatcher(cv.NORM_HAMMING, true));
    const matches = keep(new cv.DMatchVector());
    matcher.match(features[0].descriptors, features[1].descriptors, matches);
    const [from, to]: [number[], number[]] = [[], []];
    for (let i = 0; i < matches.size(); i++) {
      const { queryIdx, trainIdx } = matches.get(i);
      const [p, q] = [features[0].points.get(queryIdx).pt, features[1].points.get(trainIdx).pt];
      from.push(p.x, p.y);
      to.push(q.x, q.y);
    }
    if (from.length < 8) return undefined;
    const points = (values: number[]) => keep(cv.matFromArray(values.length / 2, 1, cv.CV_32FC2, values));
    const found = keep(cv.findHomography(points(from), points(to), cv.RANSAC, 2));
    return found.rows === 3 ? Array.from(found.data64F as Float64Array) : undefined;
  } catch {
    return undefined;
  } finally {
    for (const mat of mats) mat.delete();
  }
}
