import type { PartKind } from '#core/parts/list.ts';
import type { RowWords } from '../../ui/settingRows.ts';

/** Refinements, in the order and the groups in which they are shown. */
export const REFINEMENT_GROUPS: readonly { name: string; folded?: boolean; explained?: boolean; words: RowWords }[] = [
  {
    name: 'Edge',
    words: {
      softness: { label: 'Softness', title: 'Blurs the mask' },
      grow: { label: 'Grow', title: 'Widens what is covered; negative values shrink it' },
      'edgeFit.radius': { label: 'Edge fit', title: 'Draws the mask to edges of a picture, within this distance' },
      'edgeFit.contrast': { label: 'Contrast', title: 'Contrast from which on an edge counts' },
    },
  },
  {
    name: 'Inside',
    explained: true,
    words: {
      'coreFill.amount': {
        label: 'Core fill',
        title: 'Fills the inside of covered areas and leaves their edges as they are',
      },
      'coreFill.reach': {
        label: 'Fill reach',
        title: 'How far around a place is looked to tell whether it lies inside',
      },
      'coreFill.from': { label: 'Inside from', title: 'Coverage around a place from which on it counts as inside' },
    },
  },
  { name: 'Whole', words: { strength: { label: 'Strength', title: 'Weakens the mask as a whole' } } },
  {
    name: 'Levels and curve',
    folded: true,
    words: {
      'levels.black': { label: 'Black', title: 'Greys up to this become black' },
      'levels.gamma': { label: 'Midtones', title: 'Lightens or darkens the greys in between' },
      'levels.white': { label: 'White', title: 'Greys from this on become white' },
    },
  },
];

/** Words of the rows of parts. */
export const PART_WORDS: Record<PartKind, RowWords> = {
  tone: { narrowing: { label: 'Narrowing', title: 'Multiplies the mask by itself, so that it keeps to the far end' } },
  colour: {
    'hue.centre': { label: 'Hue', title: 'The hue in the middle of the range' },
    'hue.width': { label: 'Width', title: 'How far to both sides hues are covered in full' },
    'hue.shoulder': { label: 'Shoulder', title: 'Over how many hues further coverage fades' },
  },
  gradient: { middle: { label: 'Midpoint', title: 'Where between its ends half is covered' } },
  radial: {
    feather: { label: 'Feather', title: 'How much of the way from the rim to the centre it fades over' },
    turn: { label: 'Rotation', title: 'Rotates the ellipse' },
  },
  outline: { feather: { label: 'Feather', title: 'Softens the rim of the area' } },
  difference: {
    from: { label: 'From', title: 'Difference from which on a place is covered' },
    shoulder: { label: 'Shoulder', title: 'How much more it takes until a place is covered in full' },
    around: {
      label: 'Surroundings',
      title: 'How far around a light is looked to tell that it came on: more than its size',
    },
    stops: { label: 'Brighter by', title: 'How much brighter the second frame is than the first' },
  },
  painted: {},
  picture: {},
  reference: {},
};
