import type { Visit } from '#core/checks/visits.ts';
import { adjustmentKind } from '#core/develop/list.ts';
import { type FrameId, type ItemId, LayerId, StrokeId } from '#core/ids.ts';
import { type Fill, plainStroke, type Stroke } from '#core/masks/stroke.ts';
import type { EditRecord } from '#core/scene/edit.ts';
import { developFrames } from '#core/scene/edits/developing.ts';
import { setItem } from '#core/scene/edits/items.ts';
import { setRefinement } from '#core/scene/edits/masks.ts';
import { addStroke } from '#core/scene/edits/painting.ts';
import { addLayer } from '#core/scene/edits/stack.ts';
import type { Mask } from '#core/scene/mask.ts';
import { maskAt } from '#core/scene/places.ts';
import type { Scene } from '#core/scene/scene.ts';
import { activeLeaves, findItem, holdersOf, layersOfFrame } from '#core/scene/tree.ts';
import { frameLabel } from '../../../frameLabel.ts';

/** A way to mend a place: ordinary edits, taken as one step. */
export interface Remedy {
  name: string;
  label: string;
  why: string;
  edits: readonly EditRecord[];
  /** Points of a stroke among them. */
  points?: { stroke: Stroke; points: Float32Array };
}

/** Corners of an outline that stands for a disc. */
const CORNERS = 24;
/** A place is mended this much beyond what was found. */
const BEYOND = 1.6;

const freshStroke = () => StrokeId.parse(crypto.randomUUID());

const reachOfVisit = ({ radius, reach }: Visit): number => Math.max(12, Math.min(radius * BEYOND, radius + 6 * reach));

/** A soft disc of coverage at a place. */
function discAt(visit: Visit, target: number, strength: number): Fill {
  const r = reachOfVisit(visit);
  const corner = (i: number) => [
    visit.x + r * Math.cos((2 * Math.PI * i) / CORNERS),
    visit.y + r * Math.sin((2 * Math.PI * i) / CORNERS),
  ];
  const outline = Array.from({ length: CORNERS }, (_, i) => corner(i)).flat();
  return { id: freshStroke(), target, strength, stencil: null, fill: true, outline, feather: Math.min(400, r / 2) };
}

/** Covers a place with a frame: its layer is revealed, or made, and those above it are hidden there. */
function showThere(scene: Scene, frame: FrameId, visit: Visit, strength: number): EditRecord[] {
  const leaves = activeLeaves(scene).map(({ item }) => item);
  const own = layersOfFrame(scene, frame).findLast(({ visible, mode }) => visible && mode === 'normal');
  const isBase = scene.base === frame;
  const from = own ? leaves.findIndex(({ id }) => id === own.id) + 1 : 0;
  const above = leaves
    .slice(from)
    .filter((item) => item.item === 'layer' && item.visible && 'frame' in item.content && item.mode === 'normal');
  const hide =
    isBase || own
      ? above.map(({ id }) => addStroke({ owner: id, of: 'mask', stroke: discAt(visit, 0, strength) }))
      : [];
  if (isBase) return hide;
  if (own) return [addStroke({ owner: own.id, of: 'mask', stroke: discAt(visit, 1, strength) }), ...hide];
  const id = LayerId.parse(crypto.randomUUID());
  return [
    addLayer({ id, content: { frame }, above: leaves.at(-1)?.id ?? null }),
    addStroke({ owner: id, of: 'mask', stroke: discAt(visit, 1, strength) }),
  ];
}

function softened(item: ItemId, visit: Visit, effect: 'soften' | 'even'): Pick<Remedy, 'edits' | 'points'> {
  const stroke: Stroke = {
    ...plainStroke(freshStroke()),
    effect,
    size: 2 * reachOfVisit(visit),
    hardness: 0.4,
    strength: 0.8,
  };
  const points = Float32Array.of(visit.x, visit.y, 1, 0);
  return { edits: [addStroke({ owner: item, of: 'mask', stroke })], points: { stroke, points } };
}

/** How a mask is fitted to the edges of the base where it lies beside them. */
const FIT = { guide: 'base', radius: 12, contrast: 0.02 } as const;

/** The mask as it would be fitted to edges, laid over the place: taken away where it would not be, then revealed where it would. */
function fittedThere(scene: Scene, owner: ItemId, visit: Visit): EditRecord[] {
  const mask = maskAt(scene, { owner, of: 'mask' });
  if (!mask) return [];
  const fitted = { ...mask, refine: { ...mask.refine, edgeFit: FIT } };
  const rest = { ...fitted, refine: { ...fitted.refine, inverted: !mask.refine.inverted } };
  const lay = (target: number, of: Mask) =>
    addStroke({ owner, of: 'mask', stroke: discAt(visit, target, 1), through: { of: null, seenFrom: null, mask: of } });
  return [lay(0, rest), lay(1, fitted)];
}

/** Opacity after a remedy that lowers a card. */
const lowered = (opacity: number): number => Math.round(opacity * 0.75 * 100) / 100;

type Make = (visit: Visit, scene: Scene) => (Remedy | undefined)[];

const soften = (visit: Visit): Remedy | undefined =>
  visit.item && {
    name: 'soften',
    label: 'Soften the mask there',
    why: 'a border that is softer than what shows hides itself',
    ...softened(visit.item, visit, 'soften'),
  };
function fitToEdges(visit: Visit, scene: Scene): Remedy | undefined {
  const edits = visit.item ? fittedThere(scene, visit.item, visit) : [];
  if (edits.length === 0) return undefined;
  return {
    name: 'fit',
    label: 'Fit the mask to edges there',
    why: 'its border lies beside the edge of the picture',
    edits,
  };
}

/** Reveals or hides the card there, whichever takes the band away. */
function paint(visit: Visit): Remedy | undefined {
  const { item, facts } = visit;
  if (!item) return undefined;
  const reveals = facts.height > 0 === facts.over < 0;
  return {
    name: 'paint',
    label: reveals ? 'Paint this frame in there' : 'Take this frame away there',
    why: reveals ? 'its mask stops short of the edge' : 'its mask runs over the edge',
    edits: [addStroke({ owner: item, of: 'mask', stroke: discAt(visit, reveals ? 1 : 0, 0.5) })],
  };
}

function lower(visit: Visit, scene: Scene): Remedy | undefined {
  const id = visit.item ?? (visit.frame && layersOfFrame(scene, visit.frame).findLast(({ visible }) => visible)?.id);
  const item = id && findItem(scene, id);
  if (!item) return undefined;
  return {
    name: 'lower',
    label: 'Lower the layer',
    why: `${Math.round(100 * lowered(item.opacity))} % of it instead of ${Math.round(100 * item.opacity)} %`,
    edits: [setItem({ id: item.id, change: { opacity: lowered(item.opacity) } })],
  };
}

function show(frame: FrameId | undefined, why: string): Make {
  return (visit, scene) => {
    if (!frame) return [];
    const edits = showThere(scene, frame, visit, 1);
    return edits.length === 0
      ? []
      : [{ name: `show ${frame}`, label: `${frameLabel(scene, frame)} there`, why, edits }];
  };
}

/** The frame that shows is brought nearer to what it is laid on. */
function match(visit: Visit, scene: Scene): Remedy | undefined {
  const frame = visit.frame && scene.frames.find(({ id }) => id === visit.frame);
  if (!frame) return undefined;
  const by = -Math.min(1, Math.round((visit.facts.stops / 2) * 10) / 10);
  const before = (frame.develop.exposure as { stops: number } | undefined)?.stops ?? 0;
  return {
    name: 'match',
    label: 'Match these two',
    why: `${frameLabel(scene, frame.id)} is developed ${(-by).toFixed(1)} stops darker`,
    edits: [developFrames({ frameIds: [frame.id], change: { exposure: { stops: before + by } } })],
  };
}

const fill = (visit: Visit): Remedy | undefined =>
  visit.item && {
    name: 'fill',
    label: 'Fill the inside',
    why: 'the mask then follows the detail at its edge alone',
    edits: [
      setRefinement({
        owner: visit.item,
        of: 'mask',
        part: null,
        change: { coreFill: { amount: 1, reach: 40, from: 0.25, keepsOrder: true } },
      }),
    ],
  };

const MAKES: Record<Visit['check'], Make> = {
  rims: (visit, scene) => [paint(visit), fitToEdges(visit, scene), soften(visit)],
  seams: (visit) => [
    soften(visit),
    visit.item && {
      name: 'even',
      label: 'Even the mask out there',
      why: 'the mean of what is around',
      ...softened(visit.item, visit, 'even'),
    },
  ],
  flat: (visit, scene) => [
    fill(visit),
    soften(visit),
    ...show(visit.frame, 'one frame alone keeps its depth')(visit, scene),
  ],
  light: (visit, scene) => [match(visit, scene), lower(visit, scene)],
  ghosts: (visit, scene) =>
    [visit.frame, visit.other].flatMap((frame) => show(frame, 'one frame alone has no double')(visit, scene)),
  noise: (visit, scene) => show(visit.other, 'it has more light here')(visit, scene),
  limits: (visit, scene) => show(visit.other, 'it holds detail here')(visit, scene),
  colours: (visit, scene) => [soften(visit), lower(visit, scene)],
  bare: (visit) =>
    visit.item
      ? [
          {
            name: 'hide',
            label: 'Hide the layer there',
            why: 'its mask then ends where the frame does',
            edits: [addStroke({ owner: visit.item, of: 'mask', stroke: discAt(visit, 0, 1) })],
          },
        ]
      : [],
};

/** Ways to mend a place, the likeliest first. */
export function remediesOf(visit: Visit, scene: Scene): Remedy[] {
  const item = visit.item && findItem(scene, visit.item);
  const isGone = visit.item && !item;
  if (isGone || (item && holdersOf(scene, item.id).some(({ visible }) => !visible))) return [];
  const isMap = item?.item === 'adjustment' && adjustmentKind(item.kind)?.mapFrom !== undefined;
  // What is painted on a map is light, and no border to be softened.
  if (isMap) return [lower(visit, scene)].flatMap((remedy) => remedy ?? []);
  return MAKES[visit.check](visit, scene).flatMap((remedy) => remedy ?? []);
}
