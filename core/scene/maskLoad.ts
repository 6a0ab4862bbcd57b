import type { LayerId } from '../ids.ts';
import type { Part } from '../parts/list.ts';
import { activeRefinements } from '../refinements/list.ts';
import type { Mask } from './mask.ts';
import { belowKey, MaskGraph } from './maskGraph.ts';
import type { Scene } from './scene.ts';
import { StrongComponents } from './strongComponents.ts';
import { asOneStack, everyItem, leavesOf, ownAdjustments } from './tree.ts';

/** What it takes to compute a tile of a scene's picture. */
export interface MaskLoad {
  /** Steps that build on one another, each of which waits for the one before. */
  depth: number;
  /** All steps: parts of masks, and layers of pictures that masks look at. */
  steps: number;
}

/** Most steps that may build on one another: each waits on the program's stack. A megabyte holds some 4,000, and the half that
 * workers of browsers have more than 700. */
export const MOST_DEPTH = 500;
/** Most steps of a tile; so many take seconds. */
export const MOST_STEPS = 200_000;

/** The parts, each of which may read a tone and look it up, joined and refined. */
const depthOf = ({ parts, refine }: Mask): number =>
  4 +
  activeRefinements(refine).length +
  Math.max(0, ...parts.map((part) => activeRefinements(part.refine).length + (isPaintedThrough(part) ? 8 : 0)));

/** Strokes hold planes of their own while what they were painted through is made. */
const isPaintedThrough = (part: Part): boolean =>
  part.kind === 'painted' && part.strokes.some(({ stencil }) => stencil !== null);

/** What masks of a scene ask of whoever computes them. */
export function maskLoad(document: Scene): MaskLoad {
  const { scene } = asOneStack(document);
  const outer = loadOf(scene, false);
  if (outer.insides.size === 0) return outer;
  const inner = loadOf(scene, true);
  return { depth: outer.depth + inner.depth, steps: outer.steps + outer.insides.size * inner.steps };
}

/** @param isInner - Within the finished picture without a layer. */
function loadOf(scene: Scene, isInner: boolean): MaskLoad & { insides: ReadonlySet<LayerId> } {
  const graph = new MaskGraph(scene, isInner);
  const groups = new StrongComponents((key) => graph.expand(key));
  const depths = new Map<string, number>();
  let [depth, steps] = [0, leavesOf(scene.stack).length];
  for (const root of graph.roots())
    for (const group of groups.from(root)) {
      const own = group.reduce((sum, key) => sum + weightOf(graph, key), 0);
      const below = group.flatMap((key) => graph.expand(key)).map((key) => depths.get(key) ?? 0);
      const reached = below.reduce((most, each) => Math.max(most, each), 0) + own;
      for (const key of group) depths.set(key, reached);
      depth = Math.max(depth, reached);
      // A ring is computed anew from each of its masks.
      steps += group.length * group.reduce((sum, key) => sum + (graph.maskOf(key)?.mask.parts.length ?? 0) + 1, 0);
    }
  for (const count of graph.pictures) steps += count;
  return { depth: depth + 1 + pictureDepth(scene), steps, insides: graph.insides };
}

/** What is made of what lies below it takes so many steps: the picture below, the change, and both mixed. */
const STEPS_OF_ITEM = 3;

/** Steps of the stack's own picture that build on one another. */
function pictureDepth({ stack }: Scene): number {
  const items = [...everyItem(stack)];
  const own = Math.max(0, ...items.map((item) => ownAdjustments(item).length));
  const all = items.reduce((sum, item) => sum + ownAdjustments(item).length, 0);
  const onBelow = items.filter(
    (item) => item.item !== 'layer' || 'below' in item.content || item.toneWindow !== null,
  ).length;
  return STEPS_OF_ITEM * (onBelow - all + own);
}

function weightOf(graph: MaskGraph, key: string): number {
  const mask = graph.maskOf(key)?.mask;
  if (mask) return depthOf(mask);
  // A picture builds on the masks of its layers, not on the pictures below; the lowest stands for it.
  return key === belowKey(0) ? 1 : 0;
}
