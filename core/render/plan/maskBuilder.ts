import type { WorkingSpace } from '../../color/workingSpace.ts';
import type { FrameId, RecipeId } from '../../ids.ts';
import type { Measure } from '../../masks/measure.ts';
import type { Source } from '../../masks/source.ts';
import { isFill, type Stroke, type Touch } from '../../masks/stroke.ts';
import type { PartTools } from '../../parts/definePart.ts';
import { kindOf, type Part } from '../../parts/list.ts';
import { outlineNode } from '../../parts/outline.ts';
import type { PaintedPart } from '../../parts/painted.ts';
import type { ReferenceTarget } from '../../parts/referenceTarget.ts';
import type { RefineTools } from '../../refinements/defineRefinement.ts';
import { activeRefinements, refined } from '../../refinements/list.ts';
import type { Mask } from '../../scene/mask.ts';
import type { MaskContext } from '../../scene/maskGraph.ts';
import type { Scene } from '../../scene/scene.ts';
import { LabNode } from '../nodes/labNode.ts';
import { type JoinedPart, MaskNode } from '../nodes/maskNode.ts';
import { measureOf } from '../nodes/measureNode.ts';
import { OklabNode } from '../nodes/oklabNode.ts';
import { type Chains, PaintedNode, type PaintedTouch } from '../nodes/paintedNode.ts';
import { PaintedPlaneNode } from '../nodes/paintedPlaneNode.ts';
import { SoftenNode } from '../nodes/softenNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';

/** Where a mask is used. */
interface NamedMaskContext extends MaskContext {
  /** Different for every mask: names its chains of strokes from one plan to the next, and tells who refers. */
  name: string;
}

/** What masks need of the rest of the plan. */
export interface MaskSurroundings {
  readonly scene: Scene;
  /** Of the scene. */
  readonly extent: Extent;
  taken(id: FrameId): TileNode;
  /** The pixels that a source names. */
  source(source: Source, context: MaskContext): TileNode;
  /** The mask that a reference leads to from the mask called `from`; undefined for nothing. */
  resolveReference(to: ReferenceTarget, context: MaskContext, from: string): TileNode | undefined;
  /** A mask as it was; likewise. */
  frozen(id: RecipeId, context: MaskContext, from: string): TileNode | undefined;
  /** Chains of strokes by name, from the plan before. */
  chains(name: string): Chains;
}

/** Standard deviation of the blur that a softening stroke pulls towards, and of the mean that an evening one does, as shares of its
 * diameter. */
const SOFTEN_SHARE = 1 / 14;
const EVEN_SHARE = 1 / 3;

/** Compiles masks. Tones that several parts read are read once. */
export class MaskBuilder {
  readonly #surroundings: MaskSurroundings;
  /** Whether the mask at hand looks at anything but itself. */
  #looksOut = false;
  readonly #space: WorkingSpace;
  readonly #nothing: TileNode;
  readonly #measures = new Map<string, TileNode>();
  readonly #oklabs = new Map<TileNode, OklabNode>();
  readonly #labs = new Map<TileNode, LabNode>();
  readonly #sources = new Map<TileNode, number>();

  constructor(around: MaskSurroundings) {
    this.#surroundings = around;
    this.#space = around.scene.workingSpace;
    this.#nothing = new MaskNode([], false, around.extent);
  }

  /** A mask, and whether nothing but itself and the size of the scene tells what it is. */
  mask(mask: Mask, context: NamedMaskContext): { node: TileNode; isAlone: boolean } {
    const before = this.#looksOut;
    this.#looksOut = false;
    const node = this.#refined(mask, context);
    const isAlone = !this.#looksOut;
    // What this one looks at may need masks in its turn.
    this.#looksOut ||= before;
    return { node, isAlone };
  }

  #refined({ parts, refine }: Mask, context: NamedMaskContext): TileNode {
    const joined = this.#join(parts, context);
    // A mask that is only turned round, as most are that are refined at all, is so before it is rounded.
    if (refine.inverted && activeRefinements({ ...refine, inverted: false }).length === 0)
      return new MaskNode(joined, true, this.#surroundings.extent);
    return refined(new MaskNode(joined, false, this.#surroundings.extent), refine, this.#toolsAt(context));
  }

  /** The rest of the plan, for a mask that looks at it. */
  get #around(): MaskSurroundings {
    this.#looksOut = true;
    return this.#surroundings;
  }

  #join(parts: readonly Part[], context: NamedMaskContext): JoinedPart[] {
    const joined: JoinedPart[] = [];
    for (const part of parts)
      if (part.enabled && !kindOf(part).isBlank?.(part)) joined.push(this.#part(part, [...joined], context));
    return joined;
  }

  #part(part: Part, before: readonly JoinedPart[], context: NamedMaskContext): JoinedPart {
    const { join, refine } = part;
    const tools = this.#toolsAt(context);
    if (part.kind !== 'painted') return { join, node: refined(kindOf(part).build(part, tools), refine, tools) };
    const painted = this.#paint(part, before, context);
    if (activeRefinements(refine).length === 0) return { join, node: painted };
    const node = refined(new PaintedPlaneNode(painted, 'value'), refine, tools);
    if (refine.inverted) return { join, node };
    // Where painting hides it still decides, as far as it was moved and weakened with what it covers.
    const alpha = refined(new PaintedPlaneNode(painted, 'alpha'), refine, tools, ({ actsOnAlpha }) => actsOnAlpha);
    return { join, node, alpha };
  }

  /** What parts and refinements ask for, as seen from where a mask is used. */
  #toolsAt(context: NamedMaskContext): PartTools & RefineTools {
    return {
      extent: this.#surroundings.extent,
      space: this.#space,
      nothing: this.#nothing,
      measure: (source, measure) => this.measure(source, measure, context),
      brightest: (picture) => measureOf(picture, 'brightest', this.#space, () => this.#oklab(picture)),
      tones: (source) => this.measure(source, 'luminance', context),
      oklab: (source) => this.#oklab(this.#around.source(source, context)),
      frame: (id) => {
        const { scene } = this.#around;
        const frame = scene.frames.find((each) => each.id === id);
        return frame && { node: this.#around.taken(id), ev: frame.shot.ev };
      },
      reference: (to) => this.#around.resolveReference(to, context, context.name),
    };
  }

  /** What is read of a source, one plane. */
  measure(source: Source, measure: Measure, context: MaskContext): TileNode {
    const pixels = this.#around.source(source, context);
    const number = this.#sources.get(pixels) ?? this.#sources.size;
    this.#sources.set(pixels, number);
    return remember(this.#measures, `${number}:${measure}`, () =>
      measureOf(pixels, measure, this.#space, () => this.#oklab(pixels)),
    );
  }

  #oklab(pixels: TileNode): OklabNode {
    return remember(this.#oklabs, pixels, () => new OklabNode(pixels, this.#space));
  }

  #paint(part: PaintedPart, before: readonly JoinedPart[], context: NamedMaskContext): PaintedNode {
    const touches: PaintedTouch[] = [];
    for (const touch of part.strokes) touches.push(this.#touch(touch, part, touches, before, context));
    return new PaintedNode(touches, this.#surroundings.chains(`${context.name}:${part.id}`), this.#surroundings.extent);
  }

  #touch(
    touch: Touch,
    part: PaintedPart,
    earlier: readonly PaintedTouch[],
    before: readonly JoinedPart[],
    context: NamedMaskContext,
  ): PaintedTouch {
    const stencil = touch.stencil
      ? (this.#around.frozen(touch.stencil, context, context.name) ?? this.#nothing)
      : undefined;
    if (isFill(touch)) {
      return {
        touch,
        stencil,
        area: touch.outline ? outlineNode(touch.outline, touch.feather, this.#surroundings.extent) : undefined,
      };
    }
    const near = this.#near(touch.keepTo);
    if (touch.effect === 'tone') return { touch, stencil, near };
    const painted = new PaintedNode(
      [...earlier],
      this.#surroundings.chains(`${context.name}:${part.id}:${touch.id}`),
      this.#surroundings.extent,
    );
    // What is added to the mask is softened as the mask stands there; what is taken from it, by itself.
    const parts: JoinedPart[] = part.join === 'add' ? [...before, { join: 'add', node: painted }] : [];
    const stands =
      parts.length > 0 ? new MaskNode(parts, false, this.#surroundings.extent) : new PaintedPlaneNode(painted, 'value');
    const share = touch.effect === 'soften' ? SOFTEN_SHARE : EVEN_SHARE;
    return { touch, stencil, near, towards: new SoftenNode(stands, Math.min(400, Math.max(0.5, touch.size * share))) };
  }

  /** The colours that a stroke stays on; nothing when their frame is gone. */
  #near(keepTo: Stroke['keepTo']): LabNode | undefined {
    if (!keepTo) return undefined;
    const { scene } = this.#around;
    if (!scene.frames.some(({ id }) => id === keepTo.frame)) return undefined;
    const pixels = this.#around.taken(keepTo.frame);
    return remember(this.#labs, pixels, () => new LabNode(pixels, this.#space));
  }
}

/** What a map knows by a key, made when it does not. */
export function remember<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}
