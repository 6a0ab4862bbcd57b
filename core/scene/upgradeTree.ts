import { type GroupId, LayerId } from '../ids.ts';
import type { EditRecord } from './edit.ts';
import type { Frame, VerdictReason } from './frame.ts';
import { PLAIN_GEOMETRY } from './geometry.ts';
import { type Group, type Item, type Layer, newLayer } from './item.ts';
import type { Scene } from './scene.ts';
import { groupAround } from './tree.ts';

/** Version 4 had a list of layers, each of a frame, groups beside it, and a crop of its own. */
interface FlatLayer extends Pick<Layer, 'mask' | 'guard' | 'stencil' | 'stencilOn' | 'opacity' | 'visible'> {
  id: LayerId;
  frame: Frame['id'];
  group: GroupId | null;
}
interface FlatGroup extends Pick<Group, 'id' | 'mask' | 'opacity'> {
  name: string;
}
interface FlatScene extends Omit<Scene, 'stack' | 'geometry'> {
  stack?: FlatLayer[];
  groups?: FlatGroup[];
  crop?: Scene['geometry']['crop'];
}

/** Names of values that became others: what a mask looks at, and what it reads there. */
const RENAMED: Record<string, Record<string, string>> = {
  source: { sofar: 'below' },
  guide: { sofar: 'below' },
  measure: { vivid: 'chroma' },
};

/** Sentences that verdicts went by, each with the names of its figures. */
const SENTENCES: readonly [RegExp, VerdictReason['code'], ...('count' | 'of' | 'share' | 'px')[]][] = [
  [/^nothing in it/, 'nothing-found'],
  [/^only (\d+) of (\d+) places agree/, 'few-of-compared', 'count', 'of'],
  [/^(\d+) of (\d+) places agree/, 'places-agree', 'count', 'of'],
  [/^only (\d+) places agree/, 'few-places', 'count'],
  [/^(\d+) % of the places agree/, 'low-agreement', 'share'],
  [/^another part/, 'rival-motion'],
  [/^corners may be off by ([\d.]+)/, 'corners-uncertain', 'px'],
  [/^only a part/, 'part-compared'],
  [/^large parts/, 'parts-disagree'],
  [/^places are off by ([\d.]+)/, 'places-off', 'px'],
  [/^halves of the places disagree by ([\d.]+)/, 'halves-disagree', 'px'],
];

/** A sentence as its code and figures; null for one that nobody knows. */
function reasonOf(sentence: string): VerdictReason | null {
  for (const [pattern, code, ...names] of SENTENCES) {
    const found = pattern.exec(sentence);
    if (!found) continue;
    const figures = names.map((name, i) => [name, Number(found[i + 1]) / (name === 'share' ? 100 : 1)]);
    const isChained = sentence.endsWith('by way of a frame between');
    return { code, ...Object.fromEntries(figures), ...(isChained ? { isChained } : {}) };
  }
  return null;
}

/** Plain data with sources and measures by their names of version 5, and references by the item that they follow. */
export function withNewNames(value: unknown, name = ''): unknown {
  if (Array.isArray(value)) return value.map((each) => withNewNames(each, name));
  if (typeof value === 'string') return name === 'reason' ? reasonOf(value) : (RENAMED[name]?.[value] ?? value);
  if (value === null || typeof value !== 'object' || ArrayBuffer.isView(value)) return value;
  if (name === 'to' && 'layer' in value) return { item: value.layer };
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, withNewNames(each, key)]));
}

/** A layer of the base showed all the same. */
const layerOf = ({ frame, group, ...layer }: FlatLayer, base: Scene['base']): Layer => ({
  ...newLayer(layer.id, frame),
  ...layer,
  yieldsToBase: frame !== base,
});

const groupOf = ({ name, ...group }: FlatGroup, items: Item[]): Group => ({
  item: 'group',
  items,
  isolated: false,
  adjustments: [],
  guard: null,
  mode: 'normal',
  visible: true,
  label: name,
  ...group,
});

/** Layers of one group that lie next to each other become a group; one that lies apart from its group leaves it. */
function treeOf(stack: readonly FlatLayer[], groups: readonly FlatGroup[], base: Scene['base']): Item[] {
  const items: Item[] = [];
  const made = new Map<GroupId, Group>();
  for (const flat of stack) {
    const layer = layerOf(flat, base);
    const known = groups.find(({ id }) => id === flat.group);
    const open = known && made.get(known.id);
    if (open && items.at(-1) === open) open.items.push(layer);
    else if (!known || open) items.push(layer);
    else {
      const group = groupOf(known, [layer]);
      made.set(known.id, group);
      items.push(group);
    }
  }
  return items;
}

/** A document of version 4 as one of version 5. */
export function toVersion5(data: object): object {
  const { stack, groups, crop, ...scene } = withNewNames(data) as FlatScene;
  return {
    ...scene,
    version: 5,
    blendSpace: 'encoded',
    stack: treeOf(stack ?? [], groups ?? [], scene.base ?? null),
    retouch: [],
    finish: [],
    geometry: { ...PLAIN_GEOMETRY, crop: crop ?? null },
    names: {},
  };
}

/** What edits of version 4 named: masks by the layer, and groups by a layer in them. */
interface FlatParams {
  layerId?: string;
  of?: string;
  to?: FlatParams | number | null;
  id?: string;
  change?: { name?: string };
  opacity?: number;
  visible?: boolean;
}

const placeOf = ({ layerId = '', of = 'mask', ...rest }: FlatParams, scene: Scene) => {
  const isGroup = of === 'group';
  const owner = isGroup ? groupAround(scene, LayerId.parse(layerId))?.id : layerId;
  return { ...rest, owner, of: isGroup ? 'mask' : of };
};

/** An edit of version 4 as one of version 5.
 * @param scene - Before the edit. */
export function toEditOfVersion5(edit: EditRecord, scene: Scene): EditRecord {
  const params = withNewNames(edit.params) as FlatParams;
  const { layerId, of, to, ...rest } = params;
  switch (edit.kind) {
    case 'layer.setOpacity':
    case 'layer.setVisible':
      return { kind: 'item.set', params: { id: layerId, change: rest } };
    case 'layer.move':
      return { kind: 'item.move', params: { id: layerId, to } };
    case 'group.set': {
      const { name, ...change } = params.change ?? {};
      return {
        kind: 'item.set',
        params: { id: params.id, change: name === undefined ? change : { ...change, label: name } },
      };
    }
    case 'mask.removeGuard':
      return { kind: edit.kind, params: { owner: layerId } };
    case 'mask.copyPart':
      return {
        kind: edit.kind,
        params: { ...placeOf(params, scene), to: to && typeof to === 'object' ? placeOf(to, scene) : null },
      };
  }
  return { kind: edit.kind, params: OF_MASKS.has(edit.kind) ? placeOf(params, scene) : params };
}

/** Edits that said whose mask they change by a layer. */
const OF_MASKS: ReadonlySet<string> = new Set([
  'mask.addPart',
  'mask.setPart',
  'mask.setRefinement',
  'mask.removePart',
  'mask.movePart',
  'mask.setJoin',
  'mask.setPartEnabled',
  'mask.addStroke',
  'mask.clearStrokes',
  'mask.repaintThrough',
  'mask.freezeReference',
]);
