/** What was wrong with a scene and was mended, and how often. */
export type Repairs = ReadonlyMap<RepairCode, number>;
export type RepairCode =
  | 'layer-without-frame'
  | 'base-missing'
  | 'placement'
  | 'crop'
  | 'recipe'
  | 'spot'
  | 'shape'
  | 'stroke-points'
  | 'stroke-missing'
  | 'stroke-cut';
