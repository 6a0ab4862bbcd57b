import type { AdjustmentName } from '#core/develop/list.ts';
import type { RowWords } from '../../ui/settingRows.ts';

/** Adjustments of a frame, in the groups in which they are shown and copied, and the words of their rows. */
export const GROUPS: readonly {
  name: string;
  adjustments: readonly { name: AdjustmentName; words: RowWords }[];
}[] = [
  {
    name: 'Light',
    adjustments: [
      {
        name: 'exposure',
        words: {
          stops: { label: 'Exposure', title: 'As if exposed longer or shorter; what lies above white is kept' },
        },
      },
      {
        name: 'contrast',
        words: {
          slope: { label: 'Slope', title: 'Distances in stops from the pivot, times this' },
          middle: { label: 'Pivot', title: 'Stops below white that stay as they are' },
        },
      },
      {
        name: 'levels',
        words: {
          'all.black': { label: 'Black', title: 'Tones up to this become black' },
          'all.power': { label: 'Midtones', title: 'Lightens or darkens the tones in between' },
          'all.white': { label: 'White', title: 'Tones from this on become white' },
        },
      },
    ],
  },
  {
    name: 'White balance',
    adjustments: [
      {
        name: 'whiteBalance',
        words: {
          kelvin: {
            label: 'Taken at',
            title: 'Temperature of the light it was taken in: higher makes the picture warmer',
          },
          tint: { label: 'Tint', title: 'Towards green in that light: higher makes the picture more magenta' },
        },
      },
    ],
  },
  {
    name: 'Colour',
    adjustments: [
      {
        name: 'colour',
        words: {
          saturation: { label: 'Saturation', title: 'Strength of all colours' },
          spare: { label: 'Spare vivid', title: 'How far colours that are vivid already are left alone' },
        },
      },
      { name: 'grey', words: { strength: { label: 'To grey', title: 'A mix of the channels without colour' } } },
    ],
  },
];

/** The adjustments of all groups but those of light: what is copied where exposures differ on purpose. */
export const NOT_LIGHT = GROUPS.filter(({ name }) => name !== 'Light').map(({ name }) => name);
