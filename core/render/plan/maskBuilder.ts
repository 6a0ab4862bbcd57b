import type { WorkingSpace } from '../../color/workingSpace.ts';
import { finishTable, hasShape, shapeTable } from '../../masks/greyCurve.ts';
import { rangeWindow } from '../../masks/rangeWindow.ts';
import { toneTable } from '../../masks/toneCurve.ts';
import { PLAIN_READING } from '../../scene/frame.ts';
import type { FrameId, RecipeId } from '../../scene/ids.ts';
import type { DifferencePart, Mask, Measure, PaintedPart, Part, ReferencePart, TonePart } from '../../scene/mask.ts';
import type { MaskContext } from '../../scene/maskGraph.ts';
import type { Refinements } from '../../scene/refinements.ts';
import type { Scene } from '../../scene/scene.ts';
import type { Source } from '../../scene/source.ts';
import { isFill, type Stroke, type Touch } from '../../scene/stroke.ts';
import { ColourNode } from '../nodes/colourNode.ts';
import { CoreFillNode } from '../nodes/coreFillNode.ts';
import { DifferenceNode } from '../nodes/differenceNode.ts';
import { EdgeFitNode } from '../nodes/edgeFitNode.ts';
import { FrameNode } from '../nodes/frameNode.ts';
import { GradientNode } from '../nodes/gradientNode.ts';
import { GrowNode } from '../nodes/growNode.ts';
import { LabNode } from '../nodes/labNode.ts';
import { withExposure } from '../nodes/lightNode.ts';
import { type JoinedPart, MaskNode } from '../nodes/maskNode.ts';
import { measureOf } from '../nodes/measureNode.ts';
import { OklabNode } from '../nodes/oklabNode.ts';
import { type Chains, PaintedNode, type PaintedTouch } from '../nodes/paintedNode.ts';
import { PaintedPlaneNode } from '../nodes/paintedPlaneNode.ts';
import { OutlineNode, RadialNode } from '../nodes/shapeNodes.ts';
import { SoftenNode } from '../nodes/softenNode.ts';
import { TableNode } from '../nodes/tableNode.ts';
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
  frame(id: FrameId): TileNode;
  /** The pixels that a source names. */
  source(source: Source, context: MaskContext): TileNode;
  /** The mask that a reference leads to from the mask called `from`; undefined for nothing. */
  resolveReference(to: ReferencePart['to'], context: MaskContext, from: string): TileNode | undefined;
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
  readonly #around: MaskSurroundings;
  readonly #space: WorkingSpace;
  readonly #nothing: TileNode;
  readonly #measures = new Map<string, TileNode>();
  readonly #oklabs = new Map<TileNode, OklabNode>();
  readonly #labs = new Map<TileNode, LabNode>();
  readonly #sources = new Map<TileNode, number>();

  constructor(around: MaskSurroundings) {
    this.#around = around;
    this.#space = around.scene.workingSpace;
    this.#nothing = new MaskNode([], false, around.extent);
  }

  mask(mask: Mask, context: NamedMaskContext): TileNode {
    const { refine } = mask;
    const joined = this.#join(mask.parts, context);
    // A mask that is only turned round, as most are that are refined at all, is so before it is rounded.
    if (refine.inverted && isPlain({ ...refine, inverted: false }))
      return new MaskNode(joined, true, this.#around.extent);
    return this.#refine(new MaskNode(joined, false, this.#around.extent), refine, context);
  }

  #join(parts: readonly Part[], context: NamedMaskContext): JoinedPart[] {
    const joined: JoinedPart[] = [];
    for (const part of parts) if (part.enabled) joined.push(this.#part(part, [...joined], context));
    return joined;
  }

  #part(part: Part, before: readonly JoinedPart[], context: NamedMaskContext): JoinedPart {
    const { join, refine } = part;
    if (part.kind !== 'painted') return { join, node: this.#refine(this.#plain(part, context), refine, context) };
    const painted = this.#paint(part, before, context);
    if (isPlain(refine)) return { join, node: painted };
    const node = this.#refine(new PaintedPlaneNode(painted, 'value'), refine, context);
    if (refine.inverted) return { join, node };
    // Where painting hides it still decides, as far as it was moved and weakened with what it covers.
    const moved = {
      ...refine,
      levels: { black: 0, white: 1, gamma: 1 },
      curve: [],
      coreFill: { ...refine.coreFill, amount: 0 },
    };
    return { join, node, alpha: this.#refine(new PaintedPlaneNode(painted, 'alpha'), moved, context) };
  }

  /** A part before it is refined. */
  #plain(part: Exclude<Part, PaintedPart>, context: NamedMaskContext): TileNode {
    switch (part.kind) {
      case 'tone':
        return this.#tone(part, context);
      case 'colour':
        return new ColourNode(part, this.#oklab(this.#around.source(part.source, context)));
      case 'gradient':
        return new GradientNode(part, this.#around.extent);
      case 'radial':
        return new RadialNode(part, this.#around.extent);
      case 'outline':
        return this.#outline(part.corners, part.feather);
      case 'difference':
        return this.#difference(part);
      case 'picture': {
        const { file, scaleTo } = part;
        const picture = new FrameNode(file.sha256, { ...PLAIN_READING, scaleTo }, file.name, this.#around.extent);
        return measureOf(picture, 'luminance', 'srgb', () => this.#oklab(picture));
      }
      case 'reference':
        return this.#around.resolveReference(part.to, context, context.name) ?? this.#nothing;
    }
  }

  #tone(part: TonePart, context: MaskContext): TileNode {
    const { side, from, to, fromShoulder, toShoulder, narrowing, curve = [] } = part;
    const drawn = side === 'curve' ? JSON.stringify(curve) : '';
    const name = `tone:${[side, from, to, fromShoulder, toShoulder, narrowing]}${drawn}`;
    return new TableNode(this.measure(part.source, part.measure, context), name, () => toneTable(part));
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

  #outline(corners: readonly number[], feather: number): TileNode {
    const sharp = new OutlineNode([...corners], this.#around.extent);
    return feather > 0 ? new SoftenNode(sharp, feather / 2) : sharp;
  }

  #difference({ first, second, stops, from, shoulder }: DifferencePart): TileNode {
    const { frames } = this.#around.scene;
    const [a, b] = [first, second].map((id) => frames.find((frame) => frame.id === id));
    if (!a || !b) return this.#nothing;
    const apart = stops ?? (b.shot.ev ?? 0) - (a.shot.ev ?? 0);
    const [dark, bright] = apart >= 0 ? [a, b] : [b, a];
    const darkened = withExposure(this.#around.frame(bright.id), -Math.abs(apart));
    const off = new DifferenceNode(this.#around.frame(dark.id), darkened, Math.abs(apart));
    const range = { from: Math.min(1, from + shoulder), to: 1, fromShoulder: shoulder, toShoulder: 0 };
    return new TableNode(off, `differ:${from}:${shoulder}`, () =>
      Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * rangeWindow(range, code / 65535))),
    );
  }

  #paint(part: PaintedPart, before: readonly JoinedPart[], context: NamedMaskContext): PaintedNode {
    const touches: PaintedTouch[] = [];
    for (const touch of part.strokes) touches.push(this.#touch(touch, part, touches, before, context));
    return new PaintedNode(touches, this.#around.chains(`${context.name}:${part.id}`), this.#around.extent);
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
      return { touch, stencil, area: touch.outline ? this.#outline(touch.outline, touch.feather) : undefined };
    }
    const near = this.#near(touch.keepTo);
    if (touch.effect === 'tone') return { touch, stencil, near };
    const painted = new PaintedNode(
      [...earlier],
      this.#around.chains(`${context.name}:${part.id}:${touch.id}`),
      this.#around.extent,
    );
    // What is added to the mask is softened as the mask stands there; what is taken from it, by itself.
    const parts: JoinedPart[] = part.join === 'add' ? [...before, { join: 'add', node: painted }] : [];
    const stands =
      parts.length > 0 ? new MaskNode(parts, false, this.#around.extent) : new PaintedPlaneNode(painted, 'value');
    const share = touch.effect === 'soften' ? SOFTEN_SHARE : EVEN_SHARE;
    return { touch, stencil, near, towards: new SoftenNode(stands, Math.min(400, Math.max(0.5, touch.size * share))) };
  }

  /** The colours that a stroke stays on; nothing when their frame is gone. */
  #near(keepTo: Stroke['keepTo']): LabNode | undefined {
    const { scene } = this.#around;
    if (!keepTo || !scene.frames.some(({ id }) => id === keepTo.frame)) return undefined;
    const pixels = this.#around.frame(keepTo.frame);
    return remember(this.#labs, pixels, () => new LabNode(pixels, this.#space));
  }

  /** Coverage with what is done to it, in the order that `Refinements` tells. */
  #refine(node: TileNode, refine: Refinements, context: MaskContext): TileNode {
    const { levels, curve, softness, edgeFit, grow, coreFill, inverted, strength } = refine;
    let refined = node;
    if (hasShape(refine))
      refined = new TableNode(refined, `shape:${JSON.stringify([levels, curve])}`, () => shapeTable(refine));
    if (softness > 0) refined = new SoftenNode(refined, softness);
    if (edgeFit.radius > 0)
      refined = new EdgeFitNode(refined, this.measure(edgeFit.guide, 'luminance', context), edgeFit);
    if (grow !== 0) refined = new GrowNode(refined, grow);
    if (coreFill.amount > 0) refined = new CoreFillNode(refined, coreFill);
    if (inverted || strength < 1)
      refined = new TableNode(refined, `finish:${inverted}:${strength}`, () => finishTable(refine));
    return refined;
  }
}

const isPlain = (refine: Refinements): boolean =>
  !hasShape(refine) &&
  refine.softness === 0 &&
  refine.edgeFit.radius === 0 &&
  refine.grow === 0 &&
  refine.coreFill.amount === 0 &&
  !refine.inverted &&
  refine.strength === 1;

/** What a map knows by a key, made when it does not. */
export function remember<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}
