import { z } from 'zod';
import { FrameId, GroupId, ItemId, LayerId } from '../ids.ts';
import { Measure } from '../masks/measure.ts';
import { Range, WHOLE_RANGE } from '../masks/range.ts';
import { MODES } from '../modes/list.ts';
import { FileName, Reading } from '../reading.ts';
import { Mask, newMask, Stencil } from './mask.ts';

const Unit = z.number().min(0).max(1);

/** How what lies above meets what lies below. */
export const Mode = z.enum(MODES);
export type Mode = z.infer<typeof Mode>;

/** Colour in the working space, encoded. */
const Colour = z.tuple([Unit, Unit, Unit]);
const ScenePoint = z.strictObject({ x: z.number(), y: z.number() });

const Pixels = z.number().int().positive();

/** A picture of another scene or size, and where its corners lie: clockwise from the upper left, in scene pixels. */
export const PlacedPicture = z.strictObject({
  file: FileName,
  reading: Reading,
  width: Pixels,
  height: Pixels,
  corners: z.tuple([ScenePoint, ScenePoint, ScenePoint, ScenePoint]),
});
export type PlacedPicture = z.infer<typeof PlacedPicture>;

/** What a layer shows: a frame as it is placed, one colour, a run of two colours, a picture of its own, or the picture below it. */
export const Content = z.union([
  z.strictObject({ frame: FrameId }),
  z.strictObject({ colour: Colour }),
  z.strictObject({
    gradient: z.strictObject({ start: ScenePoint, end: ScenePoint, from: Colour, to: Colour }),
  }),
  z.strictObject({ picture: PlacedPicture }),
  z.strictObject({ below: z.literal(true) }),
]);
export type Content = z.infer<typeof Content>;

/** What a window reads of tones. */
export const WindowMeasure = Measure.extract(['luminance', 'lightness', 'red', 'green', 'blue']);
export type WindowMeasure = z.infer<typeof WindowMeasure>;

/** Tones of the layer, and of what lies below it, outside which the layer does not show. */
export const ToneWindow = z.strictObject({ measure: WindowMeasure, layer: Range, below: Range });
export type ToneWindow = z.infer<typeof ToneWindow>;

/** A window that lets everything through. */
export const OPEN_WINDOW: ToneWindow = { measure: 'luminance', layer: WHOLE_RANGE, below: WHOLE_RANGE };

/** What all items have. */
const itemBase = {
  mask: Mask,
  /** A second mask, which limits the first without touching it. */
  guard: Mask.nullable(),
  opacity: Unit,
  mode: Mode,
  visible: z.boolean(),
  /** A name of the user's, empty for what it is. */
  label: z.string().max(80),
};

/** What the brush paints through on an item, and whether it does at the moment. */
const painting = {
  stencil: Stencil.nullable().default(null),
  stencilOn: z.boolean().default(false),
};

/** A change of light or colour, where its mask reveals it: of what lies below, or of the layer or group that it belongs to. */
export const Adjustment = z.strictObject({
  item: z.literal('adjustment'),
  id: ItemId,
  kind: z.string().min(1).max(40),
  settings: z.record(z.string(), z.json()),
  ...itemBase,
  ...painting,
});
export interface Adjustment extends z.infer<typeof Adjustment> {}

/** A picture laid over the stack, showing where its mask reveals it. */
export const Layer = z.strictObject({
  item: z.literal('layer'),
  id: LayerId,
  content: Content,
  /** What is done to its content before it is laid. */
  adjustments: z.array(Adjustment),
  ...itemBase,
  ...painting,
  /** While its frame is the base it waits in its place, with all that it has, and shows nothing. */
  yieldsToBase: z.boolean().default(true),
  toneWindow: ToneWindow.nullable(),
});
export interface Layer extends z.infer<typeof Layer> {}

/** Items that are shown together, through one mask. */
export interface Group {
  item: 'group';
  id: GroupId;
  items: Item[];
  /** Whether its items see nothing of what lies below the group. */
  isolated: boolean;
  adjustments: Adjustment[];
  mask: Mask;
  guard: Mask | null;
  opacity: number;
  mode: Mode;
  visible: boolean;
  label: string;
}
export type Item = Layer | Adjustment | Group;

export const Group: z.ZodType<Group> = z.strictObject({
  item: z.literal('group'),
  id: GroupId,
  get items(): z.ZodArray<z.ZodType<Item>> {
    return z.array(Item);
  },
  isolated: z.boolean(),
  adjustments: z.array(Adjustment),
  ...itemBase,
});

export const Item: z.ZodType<Item> = z.lazy(() => z.union([Layer, Adjustment, Group]));

/** The frame that a layer shows; undefined for other content. */
export const frameOfLayer = ({ content }: Layer): FrameId | undefined =>
  'frame' in content ? content.frame : undefined;

/** A layer that shows nothing until something is painted or laid.
 * @param content - A frame, or what it shows else. */
export function newLayer(id: LayerId, content: FrameId | Content): Layer {
  return {
    item: 'layer',
    id,
    content: typeof content === 'string' ? { frame: content } : content,
    adjustments: [],
    mask: newMask(),
    guard: null,
    opacity: 1,
    mode: 'normal',
    visible: true,
    label: '',
    stencil: null,
    stencilOn: false,
    yieldsToBase: true,
    toneWindow: null,
  };
}
