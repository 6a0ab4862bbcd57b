import type { Size } from '#core/raster/size.ts';
import { levelFitted } from '../app/bench/viewTransform.ts';

/** The canvas of a 1280 x 800 window, in pixels. */
export const CANVAS = { width: 866, height: 556 };

/** The level that a picture is drawn from where it fits that canvas. */
export const fitOf = (size: Size): number => levelFitted(size, CANVAS);
