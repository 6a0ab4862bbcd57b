/** Kinds of request that make each other stale: a newer one of a lane drops the older. */
export const Lane = {
  View: 0,
  Readings: 1,
  Tones: 2,
  Load: 3,
  Export: 4,
  Thumbs: 5,
  Ahead: 6,
  Align: 7,
  Loupe: 8,
  Before: 9,
  Clipped: 10,
  Proof: 11,
  Checks: 12,
  LayerTones: 13,
  Dust: 14,
} as const;
export type Lane = (typeof Lane)[keyof typeof Lane];
