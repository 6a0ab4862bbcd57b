/** What a made raw file says of its shot. */
export const RAW_FACTS = {
  exposureTime: 1,
  fNumber: 8,
  iso: 100,
  takenAt: '2025:10:12 06:41:07',
  asShotNeutral: [1, 1, 1],
  blackLevel: 512,
  whiteLevel: 60512,
} as const;
