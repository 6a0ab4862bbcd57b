/** Ratios that pictures are cut to, width against height. */
export const RATIOS = [
  { label: '3:2', value: 3 / 2 },
  { label: '2:3', value: 2 / 3 },
  { label: '4:3', value: 4 / 3 },
  { label: '5:4', value: 5 / 4 },
  { label: '4:5', value: 4 / 5 },
  { label: '1:1', value: 1 },
  { label: '16:9', value: 16 / 9 },
] as const;

/** How far whole pixels may be off a ratio, in pixels of the longer side. */
const OFF = 2;

interface Sides {
  width: number;
  height: number;
}

const isOf = ({ width, height }: Sides, ratio: number): boolean =>
  Math.abs(width - ratio * height) <= OFF * Math.max(1, ratio);
const knownOf = (part: Sides) => RATIOS.find(({ value }) => isOf(part, value));

/** A picture's ratio by its usual name, or by figures. */
export const sayRatio = (part: Sides): string => knownOf(part)?.label ?? `${(part.width / part.height).toFixed(2)}:1`;

/** The ratio that a crop keeps when its frame is dragged; null: any. What was chosen holds as long as the crop has it, also after a quarter turn; it
 * may have lost it by undoing, or by another scene.
 * @param chosen - Undefined when nothing was chosen yet: then a usual ratio that it was cropped to is kept. */
export function ratioKept(part: Sides, isCropped: boolean, chosen: number | null | undefined): number | null {
  if (chosen === undefined) return isCropped ? (knownOf(part)?.value ?? null) : null;
  if (chosen === null || isOf(part, chosen)) return chosen;
  return isOf(part, 1 / chosen) ? 1 / chosen : null;
}

/** A ratio as somebody types it: 2.35, 2.35:1, 7:5 or 7x5; undefined for what is none. */
export function ratioOf(text: string): number | undefined {
  const [, first, second = '1'] = /^\s*(\d+(?:[.,]\d+)?)\s*(?:[:x×/]\s*(\d+(?:[.,]\d+)?))?\s*$/.exec(text) ?? [];
  if (first === undefined) return undefined;
  const ratio = Number(first.replace(',', '.')) / Number(second.replace(',', '.'));
  return ratio >= 0.05 && ratio <= 20 ? ratio : undefined;
}
