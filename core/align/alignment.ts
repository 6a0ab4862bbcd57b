import type { Matrix3 } from '../raster/matrix3.ts';
import type { Explanation } from './chooseModel.ts';
import type { Match } from './fit.ts';
import type { Model, Point } from './placement.ts';

/** `good`: nothing speaks against it; `look`: see for yourself; `failed`: mark something that stands still. */
export type Verdict = 'good' | 'look' | 'failed';

/** What a verdict goes by, with the figures that belong to it. */
export interface VerdictReason {
  code:
    | 'nothing-found'
    /** `count` of `of` places agree. */
    | 'places-agree'
    | 'few-of-compared'
    /** Only `count` places agree. */
    | 'few-places'
    /** A `share` of the places, 0..1. */
    | 'low-agreement'
    | 'rival-motion'
    /** By `px`, as all that follow. */
    | 'corners-uncertain'
    | 'part-compared'
    | 'parts-disagree'
    | 'places-off'
    | 'halves-disagree';
  count?: number;
  of?: number;
  share?: number;
  px?: number;
  /** The frame was placed by way of one between it and the base. */
  isChained?: boolean;
}

/** How a frame lies on the base, and how far that is to be trusted. */
export interface Alignment {
  /** Frame pixel to base pixel, counted from the centre of the first pixel, row by row. */
  matrix: Matrix3;
  model: Model;
  /** Median distance of matches from where the placement takes them, on matches that it was not fitted to, in pixels. */
  residualPx: number;
  /** Share of the places that could be compared which agree. */
  agreement: number;
  /** 0..1: see `judge`. */
  confidence: number;
  verdict: Verdict;
  reason: VerdictReason;
  /** Stops by which the frame is brighter. */
  stops: number;
  /** Places compared, and how far each is off; for the map of misfits. */
  places: { x: number; y: number; missPx: number | null }[];
}

/** What a match of patches came to at each candidate. */
export interface Matched {
  matches: Match[];
  /** Places that both hold and that look different. */
  unlike: Point[];
}

/** A motion, and what it was found from. */
export interface Found {
  explanation: Explanation;
  matched: Matched;
}
