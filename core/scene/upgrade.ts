import { WHOLE_RANGE } from '../masks/range.ts';
import type { GradientPart } from '../parts/gradient.ts';
import { newPaintedPart } from '../parts/painted.ts';
import { plainPart } from '../parts/partBase.ts';
import type { TonePart } from '../parts/tone.ts';
import { AT_REST } from '../refinements/list.ts';
import type { EditRecord } from './edit.ts';
import { applyEdit } from './edits/index.ts';
import { type Evidence, separateEvidence } from './evidence.ts';
import type { Placement } from './frame.ts';
import type { Recipe } from './mask.ts';
import type { Scene } from './scene.ts';
import { toEditOfVersion5 } from './upgradeTree.ts';

/** What documents were like before version 4, as far as it is looked at here. */
interface OldTone extends Omit<TonePart, 'id' | 'name' | 'refine' | 'measure'> {}
interface OldStroke {
  stencil: { tone: OldTone } | string | null;
}
type OldPart =
  | OldTone
  | { kind: 'painted'; join: TonePart['join']; enabled: boolean; strokes: OldStroke[] }
  | Omit<GradientPart, 'id' | 'name' | 'refine'>;
interface OldLayer {
  mask: { parts: OldPart[]; softness: number; inverted: boolean };
  stencil: { tone: OldTone } | null;
}

const toneOf = (old: OldTone): TonePart => ({ ...plainPart('tone'), ...WHOLE_RANGE, measure: 'luminance', ...old });

const recipeOf = (tone: OldTone): Recipe => ({
  of: null,
  seenFrom: null,
  mask: { parts: [toneOf(tone)], refine: AT_REST },
});

/** Where edits began: the version of the document then, the scene as it is opened now, and what searches had found. */
export interface EditsOrigin {
  version: number;
  scene: Scene;
  evidence: Evidence;
}

/** Edits of any version as edits of this. */
export function editsOfThisVersion(
  edits: readonly EditRecord[],
  { version, scene, evidence }: EditsOrigin,
): EditRecord[] {
  if (version > 4) return [...edits];
  let now = scene;
  return editsOfVersion4(edits, evidence).map((edit) => {
    const upgraded = toEditOfVersion5(edit, now);
    try {
      now = applyEdit(now, upgraded);
    } catch {
      // Whoever applies it for good finds out.
    }
    return upgraded;
  });
}

/** Frames once held what searches found of them; an edit that goes back to it now says what it goes back to. */
function editsOfVersion4(edits: readonly EditRecord[], evidence: Evidence): EditRecord[] {
  const found = new Map([...evidence].map(([frameId, each]) => [frameId as string, each.found]));
  return edits.map((edit) => {
    const params = edit.params as OldPlacing;
    if (edit.kind === 'frames.add' && params.frames) return { ...edit, params: separateEvidence(params).data };
    if (edit.kind === 'frames.takePlacements' && params.found) {
      for (const { frameId, placement } of params.found) found.set(frameId, placement);
      return { ...edit, params: { found: params.found.map(({ frameId, placement }) => ({ frameId, placement })) } };
    }
    if (edit.kind !== 'frames.restoreFound' || !params.frameIds) return editOfVersion4(edit);
    const back = params.frameIds.flatMap((frameId) => {
      const placement = found.get(frameId);
      return placement ? [{ frameId, placement }] : [];
    });
    return { ...edit, params: { found: back } };
  });
}

/** Parameters of edits that placed frames. */
interface OldPlacing {
  frames?: unknown;
  found?: { frameId: string; placement: Placement }[];
  frameIds?: string[];
}

/** An edit of any version as one of version 4: strokes held what they were painted through, and gradients were plain. */
function editOfVersion4(edit: EditRecord): EditRecord {
  const params = edit.params as { stroke?: OldStroke; gradient?: object } | null;
  const stencil = params?.stroke?.stencil;
  if (stencil && typeof stencil === 'object') {
    const stroke = { ...params?.stroke, stencil: null };
    return { ...edit, params: { ...params, stroke, through: recipeOf(stencil.tone) } };
  }
  if (!params?.gradient) return edit;
  return { ...edit, params: { ...params, gradient: { ...plainPart('gradient'), ...params.gradient } } };
}

/** A document of version 3 as one of version 4: masks of a tone, a gradient and a painted part become masks of many parts, and
 * what strokes were painted through is kept once for all of them. */
export function toVersion4(data: object): object {
  const recipes: Record<string, Recipe> = {};
  const byText = new Map<string, string>();
  const keep = (recipe: Recipe): string => {
    const text = JSON.stringify(recipe);
    const id = byText.get(text) ?? `recipe-${byText.size + 1}`;
    byText.set(text, id);
    recipes[id] = recipe;
    return id;
  };
  const strokeOf = (stroke: OldStroke) => ({
    ...stroke,
    stencil:
      stroke.stencil && typeof stroke.stencil === 'object' ? keep(recipeOf(stroke.stencil.tone)) : stroke.stencil,
  });
  const partOf = (part: OldPart) => {
    if (part.kind === 'tone') return toneOf(part);
    if (part.kind === 'gradient') return { ...plainPart('gradient'), ...part };
    return { ...newPaintedPart(), ...part, strokes: part.strokes.map(strokeOf) };
  };
  const layerOf = (layer: OldLayer, index: number) => {
    const { parts, softness, inverted } = layer.mask;
    const stencil = layer.stencil && {
      id: `stencil-${index + 1}`,
      name: '',
      mask: { parts: [toneOf(layer.stencil.tone)], refine: AT_REST },
    };
    return {
      ...layer,
      mask: { parts: parts.map(partOf), refine: { ...AT_REST, softness, inverted } },
      guard: null,
      stencil,
      group: null,
    };
  };
  const { stack } = data as { stack?: OldLayer[] };
  return { ...data, version: 4, stack: stack?.map(layerOf), groups: [], stencils: [], recipes };
}
