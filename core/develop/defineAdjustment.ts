import type { z } from 'zod';
import type { PointStep } from '../color/pointSteps.ts';
import type { WorkingSpace } from '../color/workingSpace.ts';
import type { ModeName } from '../modes/list.ts';
import type { Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import type { SettingRow } from '../refinements/settingRow.ts';
import type { FramePlace, Turning } from '../render/nodes/frameMap.ts';
import type { TileNode } from '../render/tiles/renderContext.ts';

/** What is known of the picture that an adjustment is done to. */
export interface Whereabouts {
  readonly space: WorkingSpace;
  readonly place: FramePlace;
  /** Its mask, of an adjustment for which that is a map: see `mapFrom`. */
  readonly map?: TileNode;
  /** Where the picture will lie once it is turned and cut. */
  readonly delivered?: Delivered;
  /** How the scene is turned in the picture itself, if it is. */
  readonly turned?: Turning;
}

/** How scene pixels come to lie in the picture that is delivered. */
export interface Delivered {
  /** Counted from the centre of the first pixel, as everywhere. */
  readonly fromScene: Matrix3;
  readonly size: Size;
}

/** What an adjustment lays over the picture that it changes. */
export interface OwnLayer {
  readonly source: TileNode;
  /** Where it is laid; everywhere if it is not told. */
  readonly mask?: TileNode;
  readonly opacity: number;
  readonly mode: ModeName;
}

/** A change of light or colour: all that there is to know of it.
 * @typeParam Shape - Of its settings. */
export interface AdjustmentKind<Shape extends z.ZodRawShape = z.ZodRawShape> {
  readonly schema: z.ZodObject<Shape>;
  /** Settings that change nothing. */
  readonly rest: z.infer<z.ZodObject<Shape>>;
  isAtRest(settings: z.infer<z.ZodObject<Shape>>): boolean;
  /** Numbers that an editor shows of it. */
  readonly rows: readonly SettingRow[];
  /** What it does to each pixel by itself. */
  steps(settings: z.infer<z.ZodObject<Shape>>, space: WorkingSpace): readonly PointStep[];
  /** What it makes of a picture where that takes more; done before all steps, or after them. */
  readonly isLast?: boolean;
  build?(source: TileNode, settings: z.infer<z.ZodObject<Shape>>, where: Whereabouts): TileNode;
  /** What it lays over a picture, where it does nothing else to it. */
  layer?(source: TileNode, settings: z.infer<z.ZodObject<Shape>>, where: Whereabouts): OwnLayer;
  /** What it builds looks at each pixel by itself, and at where that lies. */
  readonly isPointwise?: boolean;
  /** What it lays over the picture, to be looked at by itself. */
  inner?(source: TileNode, settings: z.infer<z.ZodObject<Shape>>, where: Whereabouts): TileNode;
  /** Its mask does not say where it shows but is a map of what it does, and is this before anything is painted. */
  readonly mapFrom?: number;
}

export const defineAdjustment = <Shape extends z.ZodRawShape>(kind: AdjustmentKind<Shape>): AdjustmentKind<Shape> =>
  kind;
