import type { z } from 'zod';
import type { Source } from '../masks/source.ts';
import type { TileNode } from '../render/tiles/renderContext.ts';
import type { SettingRow } from './settingRow.ts';

/** What refinements need of the rest of the plan. */
export interface RefineTools {
  /** The tones of a picture that a source names, one plane. */
  tones(source: Source): TileNode;
}

/** Something that is done to coverage after it is made: all that there is to know of it. Lengths are in scene pixels.
 * @typeParam Settings - Its own, among those of all refinements. */
export interface Refinement<Settings> {
  /** What settings do nothing. */
  readonly rest: Settings;
  isAtRest(settings: Settings): boolean;
  /** How far around a change of coverage is felt. */
  reach?(settings: Settings): number;
  /** Pictures that it looks at. */
  sources?(settings: Settings): readonly Source[];
  /** It says where coverage lies, or how strong all of it is: how much painting decides is changed with it. */
  readonly actsOnAlpha: boolean;
  build(node: TileNode, settings: Settings, tools: RefineTools): TileNode;
  /** What an editor shows of it. */
  readonly rows: readonly SettingRow[];
}

/** A refinement with the schema of its settings. */
export interface DefinedRefinement<Shape extends z.ZodRawShape> extends Refinement<z.infer<z.ZodObject<Shape>>> {
  readonly schema: Shape;
}

export const defineRefinement = <Shape extends z.ZodRawShape>(
  definition: DefinedRefinement<Shape>,
): DefinedRefinement<Shape> => definition;
