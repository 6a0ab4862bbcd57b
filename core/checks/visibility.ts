/** Least step of lightness that is seen where the eye is keenest, in encoded tone, 0..1: one of a hundred steps of CIE 1976 L*, which
 * encoded tones follow within three. */
const LEAST_STEP = 0.01;

/** How fast what is seen least grows with the contrast around it: the exponent of Legge and Foley 1980, "Contrast masking in human
 * vision" (Journal of the Optical Society of America 70; from memory). */
const MASKING = 0.62;

/** Pixels of a picture at 100 % within a degree of sight: a screen of 100 pixels an inch at arm's length (common practice, no source). */
const PIXELS_PER_DEGREE = 45;

/** Longest side of a picture that is looked at as a whole, in pixels of the screen (common practice, no source). */
const WHOLE_ON_SCREEN = 1600;

/** Sensitivity to a frequency in cycles a degree, as a share of the keenest (Mannos and Sakrison 1974, "The effects of a visual fidelity
 * criterion on the encoding of images", IEEE Transactions on Information Theory 20; its curve peaks at 0.98; from memory). */
export function sensitivity(cycles: number): number {
  return (2.6 * (0.0192 + 0.114 * cycles) * Math.exp(-((0.114 * cycles) ** 1.1))) / 0.98;
}

/** How much more than the least step a change has to be to be seen, if it takes place within some pixels: a change over a length is half a
 * wave of twice that. The picture is looked at anywhere between as a whole and at 100 %, wherever the change is seen best.
 * @param longest - Side of the picture in pixels. */
export function stepSeenWithin(px: number, longest: number): number {
  const whole = Math.min(1, WHOLE_ON_SCREEN / longest);
  const zooms = Array.from({ length: 9 }, (_, i) => whole ** (i / 8));
  const best = Math.max(...zooms.map((zoom) => sensitivity(PIXELS_PER_DEGREE / (2 * px * zoom))));
  return LEAST_STEP / best;
}

/** The step that is seen where there is contrast anyway.
 * @param least - Seen on even ground.
 * @param around - Contrast around, in the same measure. */
export const maskedStep = (least: number, around: number): number =>
  around <= least ? least : least * (around / least) ** MASKING;
