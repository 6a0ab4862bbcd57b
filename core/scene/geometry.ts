import { z } from 'zod';

/** Far more than any picture is wide. */
const FARTHEST = 1e6;
const Place = z.number().int().min(-FARTHEST).max(FARTHEST);
const Length = z.number().int().positive().max(FARTHEST);

/** A part of the turned picture, in whole pixels, counted from the upper left corner of a canvas of the scene's size, turned by whole quarters
 * only, about the same middle. */
export const Crop = z.strictObject({ x: Place, y: Place, width: Length, height: Length });
export type Crop = z.infer<typeof Crop>;

/** How the finished picture is tilted, straightened, stretched, turned and cut, in this order; all but the last about the middle of the scene. */
export const Geometry = z.strictObject({
  /** How far lines that converge upwards, or sideways, are put upright: the share by which one side becomes longer than the other. */
  perspective: z.strictObject({ vertical: z.number().min(-1).max(1), horizontal: z.number().min(-1).max(1) }),
  /** Degrees, clockwise. */
  straighten: z.number().min(-45).max(45),
  /** Height against width, as a share of what is natural. */
  stretch: z.number().min(-0.5).max(1).default(0),
  /** Quarter turns, clockwise. */
  quarters: z.number().int().min(0).max(3).default(0),
  /** The part that is delivered; null: as much of it as is covered, in its own ratio. */
  crop: Crop.nullable(),
});
export type Geometry = z.infer<typeof Geometry>;

/** Whether a picture is neither tilted, turned nor stretched: it may be cropped. */
export const isUpright = ({ perspective, straighten, stretch, quarters }: Geometry): boolean =>
  perspective.vertical === 0 && perspective.horizontal === 0 && straighten === 0 && stretch === 0 && quarters === 0;

/** The size of the canvas that crops are counted on.
 * @param size - Of the scene. */
export const canvasOf = <S extends { width: number; height: number }>({ width, height }: S, quarters: number) =>
  quarters % 2 === 0 ? { width, height } : { width: height, height: width };

/** Whether a crop can be meant: within the picture while that is upright; turned, it has its middle near it. */
export function cropFits(crop: Crop, size: { width: number; height: number }, geometry: Geometry): boolean {
  if (isUpright(geometry))
    return crop.x >= 0 && crop.y >= 0 && crop.x + crop.width <= size.width && crop.y + crop.height <= size.height;
  const canvas = canvasOf(size, geometry.quarters);
  const [most, x, y] = [2 * Math.max(size.width, size.height), crop.x + crop.width / 2, crop.y + crop.height / 2];
  const isNear = (at: number, length: number) => at > -length / 2 && at < 1.5 * length;
  return crop.width <= most && crop.height <= most && isNear(x, canvas.width) && isNear(y, canvas.height);
}

export const PLAIN_GEOMETRY: Geometry = {
  perspective: { vertical: 0, horizontal: 0 },
  straighten: 0,
  stretch: 0,
  quarters: 0,
  crop: null,
};
