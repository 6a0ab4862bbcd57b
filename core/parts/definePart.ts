import type { z } from 'zod';
import type { WorkingSpace } from '../color/workingSpace.ts';
import type { FrameId } from '../ids.ts';
import type { Measure } from '../masks/measure.ts';
import type { Source } from '../masks/source.ts';
import type { Size } from '../raster/size.ts';
import type { SettingRow } from '../refinements/settingRow.ts';
import type { OklabNode } from '../render/nodes/oklabNode.ts';
import type { Extent, TileNode } from '../render/tiles/renderContext.ts';
import type { ReferenceTarget } from './referenceTarget.ts';

/** What parts need of the rest of the plan. */
export interface PartTools {
  /** Of the scene. */
  readonly extent: Extent;
  readonly space: WorkingSpace;
  /** No coverage. */
  readonly nothing: TileNode;
  /** What is read of the picture that a source names, one plane. */
  measure(source: Source, measure: Measure): TileNode;
  /** The brightest channel of a picture, one plane. */
  brightest(picture: TileNode): TileNode;
  /** The picture in Oklab. */
  oklab(source: Source): OklabNode;
  /** A frame as it is placed, and how bright it is in stops; undefined when the scene has no such frame. */
  frame(id: FrameId): { node: TileNode; ev: number | null } | undefined;
  /** The mask that a reference leads to; undefined for nothing. */
  reference(to: ReferenceTarget): TileNode | undefined;
}

/** What a new part may begin from. */
export interface Beginnings {
  /** Of the scene. */
  readonly size: Size;
  readonly base: FrameId | null;
  /** That the layer shows, which the part is added to. */
  readonly frame: FrameId | undefined;
  /** Another mask of the scene. */
  readonly otherMask: ReferenceTarget | undefined;
}

/** A kind of part of a mask: all that there is to know of it. */
export interface PartKindOf<Settings> {
  readonly schema: z.ZodType;
  /** A new part, or undefined where none makes sense. A kind without this comes from files only. */
  begin?(from: Beginnings): Settings | undefined;
  /** It is not made yet, and counts for nothing however it is joined. */
  isBlank?(part: Settings): boolean;
  /** Pictures that it looks at. */
  sources?(part: Settings): readonly Source[];
  /** The part with its places brought near the picture.
   * @param near - A coordinate that lies near. */
  withNearPlaces?(part: Settings, near: (value: number) => number): Settings;
  /** Its coverage before it is refined. */
  build(part: Settings, tools: PartTools): TileNode;
  /** What an editor shows of it, besides what is drawn on the picture. */
  readonly rows: readonly SettingRow[];
}

/** A kind of part with its schema. */
export interface DefinedPart<Schema extends z.ZodType> extends PartKindOf<z.infer<Schema>> {
  readonly schema: Schema;
}

export const definePart = <Schema extends z.ZodType>(definition: DefinedPart<Schema>): DefinedPart<Schema> =>
  definition;
