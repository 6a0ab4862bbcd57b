import { ADJUSTMENTS, type AdjustmentName } from '#core/develop/list.ts';
import type { SettingRow } from '#core/refinements/settingRow.ts';
import { changeOf, numberOf } from '../../ui/settingRows.ts';

/** What a frame shows at some size, and how more or less of it is shown: a disc on the scale of sizes. */
export interface SizeMark {
  key: string;
  adjustment: AdjustmentName;
  /** What there is more or less of. */
  label: string;
  amount: SettingRow;
  /** How large it is, where that can be chosen. */
  radius?: SettingRow;
  /** Where it has no size to choose: before the scale of pixels, or beyond. */
  aside?: 'first' | 'second' | 'last';
  /** A greater number leaves less of it. */
  takesAway: boolean;
}

const rowOf = (name: AdjustmentName, path: string): SettingRow => {
  const row = ADJUSTMENTS[name].rows.find((each) => each.path.join('.') === path);
  if (!row) throw new Error(`no row ${path} of ${name}`);
  return row;
};

export const SIZE_MARKS: readonly SizeMark[] = [
  {
    ...{ key: 'grain', adjustment: 'noise', label: 'Noise of brightness', amount: rowOf('noise', 'brightness') },
    ...{ aside: 'first', takesAway: true },
  },
  {
    ...{ key: 'specks', adjustment: 'noise', label: 'Noise of colour', amount: rowOf('noise', 'colour') },
    ...{ aside: 'second', takesAway: true },
  },
  {
    ...{ key: 'edges', adjustment: 'sharpening', label: 'Edges', amount: rowOf('sharpening', 'amount') },
    ...{ radius: rowOf('sharpening', 'radius'), takesAway: false },
  },
  {
    ...{ key: 'fine', adjustment: 'localContrast', label: 'Fine detail' },
    ...{
      amount: rowOf('localContrast', 'fine.amount'),
      radius: rowOf('localContrast', 'fine.radius'),
      takesAway: false,
    },
  },
  {
    ...{ key: 'broad', adjustment: 'localContrast', label: 'Broad detail' },
    ...{ amount: rowOf('localContrast', 'broad.amount'), radius: rowOf('localContrast', 'broad.radius') },
    ...{ takesAway: false },
  },
  {
    ...{ key: 'veil', adjustment: 'haze', label: 'Veil', amount: rowOf('haze', 'amount') },
    ...{ aside: 'last', takesAway: true },
  },
];

/** How much more or less of it there is: -1 to 1, the ends of its row. */
export function shareOf({ amount, takesAway }: SizeMark, settings: object): number {
  const value = numberOf(settings, amount);
  const share = value < 0 ? -value / amount.min : value / amount.max;
  return takesAway && share !== 0 ? -share : share;
}

/** Settings with so much more or less of it, and of another size.
 * @param share - -1 to 1; less than its row allows counts as the end of the row.
 * @param size - In pixels of the frame. */
export function markedAt(mark: SizeMark, settings: object, share: number, size: number | undefined): object {
  const { amount, radius, takesAway } = mark;
  const turned = takesAway ? -share : share;
  const wanted = turned < 0 ? -turned * amount.min : turned * amount.max;
  const sized = radius && size !== undefined ? changeOf(settings, radius, onStep(radius, size)) : {};
  return { ...sized, ...changeOf({ ...settings, ...sized }, amount, onStep(amount, wanted)) };
}

const onStep = ({ min, max, step }: SettingRow, value: number): number =>
  Number(Math.min(max, Math.max(min, Math.round(value / step) * step)).toFixed(4));
