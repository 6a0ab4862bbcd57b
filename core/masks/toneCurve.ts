import type { ToneSettings } from '../scene/mask.ts';

type Curve = Pick<ToneSettings, 'side' | 'from' | 'to' | 'fromShoulder' | 'toShoulder' | 'narrowing'>;

/** Coverage of a side before narrowing: light is the tone itself, dark its opposite, middle their product scaled to
 * reach 1 half way (common practice, no source). */
function sideCoverage(side: Curve['side'], tone: number): number {
  if (side === 'light') return tone;
  if (side === 'dark') return 1 - tone;
  return 4 * tone * (1 - tone);
}

function smoothstep(t: number): number {
  const x = Math.min(1, Math.max(0, t));
  return x * x * (3 - 2 * x);
}

/** 1 inside the range, falling smoothly to 0 across each shoulder outside it. */
function rangeWindow({ from, to, fromShoulder, toShoulder }: Curve, tone: number): number {
  if (tone < from) return fromShoulder > 0 ? smoothstep(1 - (from - tone) / fromShoulder) : 0;
  if (tone > to) return toShoulder > 0 ? smoothstep(1 - (tone - to) / toShoulder) : 0;
  return 1;
}

/** Coverage of a tone: the side's coverage times itself `narrowing` times more, within the range.
 * @param tone - 0..1, encoded.
 * @returns 0..1. */
export function toneCoverage(curve: Curve, tone: number): number {
  return sideCoverage(curve.side, tone) ** (1 + curve.narrowing) * rangeWindow(curve, tone);
}

/** Coverage of all 65,536 tones, in 16 bits. */
export function toneTable(curve: Curve): Uint16Array {
  const table = new Uint16Array(65536);
  for (let code = 0; code < 65536; code++) table[code] = Math.round(65535 * toneCoverage(curve, code / 65535));
  return table;
}
