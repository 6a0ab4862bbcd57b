import type { WorkingSpace } from '../color/workingSpace.ts';
import { finishTable, hasShape, shapeTable } from '../masks/greyCurve.ts';
import { rangeWindow } from '../masks/rangeWindow.ts';
import { toneTable } from '../masks/toneCurve.ts';
import type { RecipeId } from '../scene/ids.ts';
import type { DifferencePart, Mask, Measure, PaintedPart, Part, ReferencePart, TonePart } from '../scene/mask.ts';
import type { Seat } from '../scene/maskGraph.ts';
import type { Refinements } from '../scene/refinements.ts';
import { type Layer, PLAIN_READING, type Scene } from '../scene/scene.ts';
import type { Source } from '../scene/source.ts';
import { isFill, type Stroke, type Touch } from '../scene/stroke.ts';
import { ColourNode } from './colourNode.ts';
import { CoreFillNode } from './coreFillNode.ts';
import { DifferenceNode } from './differenceNode.ts';
import { EdgeFitNode } from './edgeFitNode.ts';
import { FrameNode } from './frameNode.ts';
import { GradientNode } from './gradientNode.ts';
import { GrowNode } from './growNode.ts';
import { LabNode } from './labNode.ts';
import { exposed } from './lightNode.ts';
import { type JoinedPart, MaskNode } from './maskNode.ts';
import { measureOf } from './measureNode.ts';
import { OklabNode } from './oklabNode.ts';
import { type Chains, PaintedNode, type PaintedTouch } from './paintedNode.ts';
import { PaintedPlaneNode } from './paintedPlaneNode.ts';
import { OutlineNode, RadialNode } from './shapeNodes.ts';
import { SoftenNode } from './softenNode.ts';
import type { TileNode } from './studio.ts';
import { TableNode } from './tableNode.ts';

/** Where a mask is used. */
interface NamedSeat extends Seat {
  /** Different for every mask: names its chains of strokes from one plan to the next, and tells who refers. */
  name: string;
}

/** What masks need of the rest of the plan. */
export interface MaskSurroundings {
  readonly scene: Scene;
  frame(id: Layer['frame']): TileNode;
  /** The pixels that a source names. */
  source(source: Source, seat: Seat): TileNode;
  /** The mask that a reference leads to from the mask called `from`; undefined for nothing. */
  referred(to: ReferencePart['to'], seat: Seat, from: string): TileNode | undefined;
  /** A mask as it was; likewise. */
  frozen(id: RecipeId, seat: Seat, from: string): TileNode | undefined;
  /** Chains of strokes by name, from the plan before. */
  chains(name: string): Chains;
}

/** Nothing. */
const NOTHING = new MaskNode([], false);

/** Standard deviation of the blur that a softening stroke pulls towards, and of the mean that an evening one does, as shares of its
 * diameter. */
const SOFTEN_SHARE = 1 / 14;
const EVEN_SHARE = 1 / 3;

/** Compiles masks. Tones that several parts read are read once. */
export class MaskBuilder {
  readonly #around: MaskSurroundings;
  readonly #space: WorkingSpace;
  readonly #measures = new Map<string, TileNode>();
  readonly #oklabs = new Map<TileNode, OklabNode>();
  readonly #labs = new Map<TileNode, LabNode>();
  readonly #sources = new Map<TileNode, number>();

  constructor(around: MaskSurroundings) {
    this.#around = around;
    this.#space = around.scene.workingSpace;
  }

  mask(mask: Mask, seat: NamedSeat): TileNode {
    const { refine } = mask;
    const joined = this.#joined(mask.parts, seat);
    // A mask that is only turned round, as most are that are refined at all, is so before it is rounded.
    if (refine.inverted && isPlain({ ...refine, inverted: false })) return new MaskNode(joined, true);
    return this.#refined(new MaskNode(joined, false), refine, seat);
  }

  #joined(parts: readonly Part[], seat: NamedSeat): JoinedPart[] {
    const joined: JoinedPart[] = [];
    for (const part of parts) if (part.enabled) joined.push(this.#part(part, [...joined], seat));
    return joined;
  }

  #part(part: Part, before: readonly JoinedPart[], seat: NamedSeat): JoinedPart {
    const { join, refine } = part;
    if (part.kind !== 'painted') return { join, node: this.#refined(this.#plain(part, seat), refine, seat) };
    const painted = this.#painted(part, before, seat);
    if (isPlain(refine)) return { join, node: painted };
    const node = this.#refined(new PaintedPlaneNode(painted, 'value'), refine, seat);
    if (refine.inverted) return { join, node };
    // Where painting hides it still decides, as far as it was moved and weakened with what it covers.
    const moved = {
      ...refine,
      levels: { black: 0, white: 1, gamma: 1 },
      curve: [],
      coreFill: { ...refine.coreFill, amount: 0 },
    };
    return { join, node, hold: this.#refined(new PaintedPlaneNode(painted, 'hold'), moved, seat) };
  }

  /** A part before it is refined. */
  #plain(part: Exclude<Part, PaintedPart>, seat: NamedSeat): TileNode {
    switch (part.kind) {
      case 'tone':
        return this.#tone(part, seat);
      case 'colour':
        return new ColourNode(part, this.#oklab(this.#around.source(part.source, seat)));
      case 'gradient':
        return new GradientNode(part);
      case 'radial':
        return new RadialNode(part);
      case 'outline':
        return this.#outline(part.corners, part.feather);
      case 'difference':
        return this.#difference(part);
      case 'picture': {
        const picture = new FrameNode(part.file.sha256, { ...PLAIN_READING, scaleTo: part.scaleTo }, part.file.name);
        return measureOf(picture, 'luminance', 'srgb', () => this.#oklab(picture));
      }
      case 'reference':
        return this.#around.referred(part.to, seat, seat.name) ?? NOTHING;
    }
  }

  #tone(part: TonePart, seat: Seat): TileNode {
    const { side, from, to, fromShoulder, toShoulder, narrowing, curve = [] } = part;
    const drawn = side === 'curve' ? JSON.stringify(curve) : '';
    const name = `tone:${[side, from, to, fromShoulder, toShoulder, narrowing]}${drawn}`;
    return new TableNode(this.measure(part.source, part.measure, seat), name, () => toneTable(part));
  }

  /** What is read of a source, one plane. */
  measure(source: Source, measure: Measure, seat: Seat): TileNode {
    const pixels = this.#around.source(source, seat);
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
    const sharp = new OutlineNode([...corners]);
    return feather > 0 ? new SoftenNode(sharp, feather / 2) : sharp;
  }

  #difference({ first, second, stops, from, shoulder }: DifferencePart): TileNode {
    const { frames } = this.#around.scene;
    const [a, b] = [first, second].map((id) => frames.find((frame) => frame.id === id));
    if (!a || !b) return NOTHING;
    const apart = stops ?? (b.shot.ev ?? 0) - (a.shot.ev ?? 0);
    const [dark, bright] = apart >= 0 ? [a, b] : [b, a];
    const darkened = exposed(this.#around.frame(bright.id), -Math.abs(apart));
    const off = new DifferenceNode(this.#around.frame(dark.id), darkened, Math.abs(apart));
    const range = { from: Math.min(1, from + shoulder), to: 1, fromShoulder: shoulder, toShoulder: 0 };
    return new TableNode(off, `differ:${from}:${shoulder}`, () =>
      Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * rangeWindow(range, code / 65535))),
    );
  }

  #painted(part: PaintedPart, before: readonly JoinedPart[], seat: NamedSeat): PaintedNode {
    const touches: PaintedTouch[] = [];
    for (const touch of part.strokes) touches.push(this.#touch(touch, part, touches, before, seat));
    return new PaintedNode(touches, this.#around.chains(`${seat.name}:${part.id}`));
  }

  #touch(
    touch: Touch,
    part: PaintedPart,
    earlier: readonly PaintedTouch[],
    before: readonly JoinedPart[],
    seat: NamedSeat,
  ): PaintedTouch {
    const stencil = touch.stencil ? (this.#around.frozen(touch.stencil, seat, seat.name) ?? NOTHING) : undefined;
    if (isFill(touch)) {
      return { touch, stencil, area: touch.outline ? this.#outline(touch.outline, touch.feather) : undefined };
    }
    const near = this.#near(touch.keepTo);
    if (touch.effect === 'tone') return { touch, stencil, near };
    const painted = new PaintedNode([...earlier], this.#around.chains(`${seat.name}:${part.id}:${touch.id}`));
    // What is added to the mask is softened as the mask stands there; what is taken from it, by itself.
    const parts: JoinedPart[] = part.join === 'add' ? [...before, { join: 'add', node: painted }] : [];
    const stands = parts.length > 0 ? new MaskNode(parts, false) : new PaintedPlaneNode(painted, 'value');
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
  #refined(node: TileNode, refine: Refinements, seat: Seat): TileNode {
    const { levels, curve, softness, edgeFit, grow, coreFill, inverted, strength } = refine;
    let refined = node;
    if (hasShape(refine))
      refined = new TableNode(refined, `shape:${JSON.stringify([levels, curve])}`, () => shapeTable(refine));
    if (softness > 0) refined = new SoftenNode(refined, softness);
    if (edgeFit.radius > 0) refined = new EdgeFitNode(refined, this.measure(edgeFit.guide, 'luminance', seat), edgeFit);
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
