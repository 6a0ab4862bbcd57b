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

/** A picture's ratio by its usual name, or by figures. */
export function sayRatio({ width, height }: { width: number; height: number }): string {
  const known = RATIOS.find(({ value }) => Math.abs(width - value * height) <= OFF * Math.max(1, value));
  return known ? known.label : `${(width / height).toFixed(2)}:1`;
}

/** A ratio as somebody types it: 2.35, 2.35:1, 7:5 or 7x5; undefined for what is none. */
export function ratioOf(text: string): number | undefined {
  const [, first, second = '1'] = /^\s*(\d+(?:[.,]\d+)?)\s*(?:[:x×/]\s*(\d+(?:[.,]\d+)?))?\s*$/.exec(text) ?? [];
  if (first === undefined) return undefined;
  const ratio = Number(first.replace(',', '.')) / Number(second.replace(',', '.'));
  return ratio >= 0.05 && ratio <= 20 ? ratio : undefined;
}
