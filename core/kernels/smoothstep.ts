/** 0 up to 0 and 1 from 1 on, rising without a kink between. */
export function smoothstep(value: number): number {
  if (value <= 0) return 0;
  return value >= 1 ? 1 : value * value * (3 - 2 * value);
}
