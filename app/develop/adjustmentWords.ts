import type { AdjustmentName, FinishingName } from '#core/develop/list.ts';
import type { RowWords } from '../ui/settingRows.ts';

/** Adjustments of a frame, in the groups in which they are shown and copied, and the words of their rows. */
export const GROUPS: readonly {
  name: string;
  /** Seldom used: shown when opened. */
  folded?: boolean;
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
        name: 'ends',
        words: {
          'darks.stops': { label: 'Darks', title: 'Stops by which the darkest tones are opened; local contrast stays' },
          'darks.reach': { label: 'up to', title: 'Stops below white from which on nothing changes' },
          'brights.stops': {
            label: 'Brights',
            title: 'Stops by which the brightest tones are moved; below 0 holds them',
          },
          'brights.reach': { label: 'down to', title: 'Stops below white up to which nothing changes' },
        },
      },
      {
        name: 'contrast',
        words: {
          slope: { label: 'Slope', title: 'Distances in stops from the pivot, times this' },
          middle: { label: 'Pivot', title: 'Stops below white that stay as they are' },
        },
      },
    ],
  },
  {
    name: 'Surface',
    adjustments: [
      {
        name: 'noise',
        words: {
          brightness: {
            label: 'Noise off',
            title: 'Takes noise of brightness out, as far as it is measured in the frame',
          },
          colour: { label: 'of colour', title: 'Takes noise of colour out, likewise' },
        },
      },
      { name: 'haze', words: { amount: { label: 'Haze off', title: 'Takes veiling light away; below 0 lays it' } } },
      {
        name: 'localContrast',
        words: {
          'fine.amount': { label: 'Fine detail', title: 'Contrast of small things against their surroundings' },
          'fine.radius': { label: 'of', title: 'How large fine detail is, in pixels of the frame' },
          'broad.amount': { label: 'Broad detail', title: 'Contrast of large shapes, as of clouds' },
          'broad.radius': { label: 'of', title: 'How large broad detail is, in pixels of the frame' },
        },
      },
      {
        name: 'sharpening',
        words: {
          amount: { label: 'Sharpen', title: 'Makes edges of things steeper' },
          radius: { label: 'of', title: 'How fine the edges are, in pixels of the frame' },
          flat: {
            label: 'but flat',
            title: 'Contrast up to which a place is left alone, so that noise is not sharpened',
          },
        },
      },
    ],
  },
  {
    name: 'Lens',
    folded: true,
    adjustments: [
      {
        name: 'lens',
        words: {
          k1: {
            label: 'Straighten',
            title: 'Below 0 for lines that bulge outwards, above 0 for lines that are drawn in (k1)',
          },
          k2: { label: 'farther out', title: 'The same where it grows towards the corners (k2)' },
          k3: { label: 'in corners', title: 'The same in the very corners (k3)' },
          'corners.stops': { label: 'Lift corners', title: 'Stops of light that the corners are lifted by' },
          'corners.late': { label: 'how late', title: '0 %: from the middle on; 100 %: only towards the corners' },
        },
      },
      {
        name: 'fringes',
        words: {
          red: { label: 'Red apart', title: 'How much larger than green red was drawn, about the middle of the frame' },
          blue: {
            label: 'Blue apart',
            title: 'How much larger than green blue was drawn, about the middle of the frame',
          },
          'purple.amount': { label: 'Purple lines', title: 'Takes the colour from purple lines at hard edges' },
          'purple.centre': { label: 'hue', title: 'Middle of the hues that are purple lines' },
          'purple.width': { label: 'reach', title: 'How far these hues reach each way' },
          'green.amount': { label: 'Green lines', title: 'Takes the colour from green lines at hard edges' },
          'green.centre': { label: 'hue', title: 'Middle of the hues that are green lines' },
          'green.width': { label: 'reach', title: 'How far these hues reach each way' },
          reach: { label: 'from edges', title: 'How far from an edge lines lie, in pixels of the frame' },
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
  {
    name: 'Levels and curve',
    folded: true,
    adjustments: [
      { name: 'levels', words: {} },
      { name: 'curve', words: {} },
    ],
  },
  {
    name: 'Tints',
    folded: true,
    adjustments: [
      {
        name: 'colourBalance',
        words: {
          'darks.hue': { label: 'Darks, hue', title: 'Hue that dark tones are moved to' },
          'darks.chroma': { label: 'amount', title: 'How far dark tones are moved to that hue' },
          'middle.hue': { label: 'Middle, hue', title: 'Hue that middle tones are moved to' },
          'middle.chroma': { label: 'amount', title: 'How far middle tones are moved to that hue' },
          'brights.hue': { label: 'Brights, hue', title: 'Hue that bright tones are moved to' },
          'brights.chroma': { label: 'amount', title: 'How far bright tones are moved to that hue' },
          lower: { label: 'Darks up to', title: 'Lightness where darks go over into the middle' },
          upper: { label: 'Brights from', title: 'Lightness where the middle goes over into brights' },
          softness: { label: 'Softness', title: 'How softly they go over into each other' },
          strength: { label: 'Strength', title: 'Weakens all three' },
        },
      },
    ],
  },
];

/** Groups that change tones, which are left out where exposures differ on purpose. */
const TONES = ['Light', 'Levels and curve'];
export const NOT_LIGHT = GROUPS.map(({ name }) => name).filter((name) => !TONES.includes(name));

/** What adjustments are called where they lie in the stack, in the order in which they are offered, and what they are good for. */
export const STACK_ADJUSTMENTS = {
  exposure: { title: 'Exposure', hint: 'lighter or darker in stops' },
  ends: { title: 'Ends', hint: 'open the darks, hold the brights' },
  contrast: { title: 'Contrast', hint: 'a slope about a pivot' },
  levels: { title: 'Levels', hint: 'black, midtones, white' },
  curve: { title: 'Curve', hint: 'tones by hand' },
  whiteBalance: { title: 'White', hint: 'warmer or cooler' },
  colour: { title: 'Colour', hint: 'saturation' },
  colourBalance: { title: 'Tints', hint: 'of darks, middle and brights' },
  localContrast: { title: 'Detail', hint: 'contrast of small and large things' },
  haze: { title: 'Haze', hint: 'a veil off, or laid' },
  sharpening: { title: 'Sharpness', hint: 'edges steeper' },
  grey: { title: 'To grey', hint: 'a mix of channels' },
  noise: { title: 'Noise', hint: 'smoothed, edges kept' },
} as const satisfies Partial<Record<AdjustmentName, { title: string; hint: string }>>;
export type StackAdjustment = keyof typeof STACK_ADJUSTMENTS;

/** The same of those that finish a picture. */
export const FINISHING_STEPS = {
  dodgeBurn: { title: 'Dodge, burn', hint: 'light painted in and out' },
  edges: { title: 'Vignette', hint: 'edges darkened' },
  lights: { title: 'Lights', hint: 'glow round lamps and the sun' },
  softGlow: { title: 'Soft glow', hint: 'a blurred copy over it' },
  highPass: { title: 'High pass', hint: 'detail, judged at 100 %' },
} as const satisfies Record<FinishingName, { title: string; hint: string }>;

/** Those that only frames have. */
const OF_FRAMES = { lens: { title: 'Lens' }, fringes: { title: 'Fringes' } } as const;

/** What an adjustment is called, on its card and among steps. */
export const titleOfAdjustment = (kind: string): string =>
  ({ ...STACK_ADJUSTMENTS, ...FINISHING_STEPS, ...OF_FRAMES })[kind as StackAdjustment]?.title ?? kind;

const FINISHING_WORDS: Record<FinishingName, RowWords> = {
  dodgeBurn: {
    stops: {
      label: 'Full stroke',
      title: 'Stops that a stroke of full strength, laid to the end, makes lighter or darker',
    },
    saturation: { label: 'Colour', title: '0 %: colour stays as strong; 100 %: as a longer exposure makes it' },
    soft: { label: 'Borders', title: 'How softly the tones go over into the others' },
  },
  edges: {
    stops: { label: 'Light', title: 'Stops at the edges; below 0 darker' },
    size: { label: 'Reach', title: 'Where half of it is reached; 100 %: at the frame' },
    soft: { label: 'Softness', title: 'How softly it comes in' },
    shape: { label: 'Shape', title: '0 %: an ellipse; 100 %: nearly the frame itself' },
    keep: { label: 'Spare brights', title: 'How far bright tones are left alone' },
  },
  lights: { strength: { label: 'All lights', title: 'Of all lights of this step' } },
  softGlow: {
    strength: { label: 'Glow', title: 'How strongly the blurred copy is laid' },
    radius: {
      label: 'Blur',
      title: 'Just so large that shapes are still recognisable: the copy is shown while you drag',
    },
    black: { label: 'Copy, black', title: 'Tones of the copy up to this become black' },
    white: { label: 'Copy, white', title: 'Tones of the copy from this on become white' },
    shadows: { label: 'No shadows', title: 'Lightness in the middle of which the glow sets in; 0 %: everywhere' },
  },
  highPass: {
    strength: { label: 'Effect', title: 'How strongly the detail is laid' },
    radius: { label: 'Of', title: 'How large the detail is: it is shown on grey while you drag' },
    amount: { label: 'Detail', title: 'Contrast of the detail itself' },
  },
};

/** Words of an adjustment's rows. */
export const wordsOfAdjustment = (name: string): RowWords =>
  FINISHING_WORDS[name as FinishingName] ??
  GROUPS.flatMap(({ adjustments }) => adjustments).find((each) => each.name === name)?.words ??
  {};
