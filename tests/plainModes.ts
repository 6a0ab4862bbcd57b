import type { ModeName } from '#core/modes/list.ts';

/** Modes a second time, straight from W3C Compositing and Blending Levels 1 and 2 with their own names: a colour `cb` below (backdrop), `cs`
 * above (source), 1 being white. */
type Rgb = readonly [number, number, number];
type OfChannel = (cb: number, cs: number) => number;

const each = (cb: Rgb, cs: Rgb, of: OfChannel): Rgb => [of(cb[0], cs[0]), of(cb[1], cs[1]), of(cb[2], cs[2])];
const lum = (c: Rgb) => 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];

function clipColor(c: Rgb): Rgb {
  const [l, n, x] = [lum(c), Math.min(...c), Math.max(...c)];
  let out = [...c];
  if (n < 0) out = out.map((v) => l + ((v - l) * l) / (l - n));
  if (x > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (x - l));
  return out as unknown as Rgb;
}
const setLum = (c: Rgb, l: number): Rgb => clipColor(c.map((v) => v + (l - lum(c))) as unknown as Rgb);
const sat = (c: Rgb) => Math.max(...c) - Math.min(...c);

/** As the standard words it: least, middle and greatest channel one by one. */
function setSat(c: Rgb, s: number): Rgb {
  const order = [0, 1, 2].sort((a, b) => c[a] - c[b]);
  const [min, mid, max] = order;
  const out = [0, 0, 0];
  if (c[max] > c[min]) {
    out[mid] = ((c[mid] - c[min]) * s) / (c[max] - c[min]);
    out[max] = s;
  }
  return out as unknown as Rgb;
}

const CHANNELS: Partial<Record<ModeName, OfChannel>> = {
  multiply: (cb, cs) => cs * cb,
  screen: (cb, cs) => 1 - (1 - cb) * (1 - cs),
  overlay: (cb, cs) => (cb <= 0.5 ? cs * (2 * cb) : 1 - (1 - cs) * (1 - (2 * cb - 1))),
  darken: (cb, cs) => Math.min(cb, cs),
  lighten: (cb, cs) => Math.max(cb, cs),
  'color-dodge': (cb, cs) => {
    if (cb <= 0) return cb;
    const top = Math.max(cb, 1);
    return cs >= 1 ? top : Math.min(top, cb / (1 - cs));
  },
  'color-burn': (cb, cs) => {
    if (cb >= 1) return cb;
    const foot = Math.min(cb, 0);
    return cs <= 0 ? foot : Math.max(foot, 1 - (1 - cb) / cs);
  },
  'hard-light': (cb, cs) => (cs <= 0.5 ? cb * (2 * cs) : 1 - (1 - cb) * (1 - (2 * cs - 1))),
  'soft-light': (cb, cs) => {
    const d = cb <= 0.25 ? ((16 * cb - 12) * cb + 4) * cb : Math.sqrt(cb);
    return cs <= 0.5 ? cb - (1 - 2 * cs) * cb * (1 - cb) : cb + (2 * cs - 1) * (d - cb);
  },
  difference: (cb, cs) => Math.abs(cb - cs),
  exclusion: (cb, cs) => cb + cs - 2 * cb * cs,
  'linear-burn': (cb, cs) => Math.max(Math.min(cb, 0), cb + cs - 1),
  'linear-light': (cb, cs) => Math.min(Math.max(cb, 1), Math.max(Math.min(cb, 0), cb + 2 * cs - 1)),
  'vivid-light': (cb, cs) =>
    cs <= 0.5
      ? (CHANNELS['color-burn'] as OfChannel)(cb, 2 * cs)
      : (CHANNELS['color-dodge'] as OfChannel)(cb, 2 * (cs - 0.5)),
};
const COLOURS: Partial<Record<ModeName, (cb: Rgb, cs: Rgb) => Rgb>> = {
  hue: (cb, cs) => setLum(setSat(cs, sat(cb)), lum(cb)),
  saturation: (cb, cs) => setLum(setSat(cb, sat(cs)), lum(cb)),
  color: (cb, cs) => setLum(cs, lum(cb)),
  luminosity: (cb, cs) => setLum(cb, lum(cs)),
};

const clamp = (v: number) => Math.min(1, Math.max(0, v));

/** B(Cb, Cs). What lies above counts within 0..1; colours below that are beyond white are brought to white, and back where their light stays. */
export function blendedPlainly(mode: ModeName, cb: Rgb, cs: Rgb): Rgb {
  if (mode === 'normal') return cs;
  const source = cs.map(clamp) as unknown as Rgb;
  const channel = CHANNELS[mode];
  if (channel) return each(cb, source, channel);
  const beyond = Math.max(1, ...cb);
  const made = (COLOURS[mode] as (cb: Rgb, cs: Rgb) => Rgb)(cb.map((v) => clamp(v / beyond)) as unknown as Rgb, source);
  return mode === 'luminosity' ? made : (made.map((v) => v * beyond) as unknown as Rgb);
}

/** What is there of a place, and its colour. */
export interface PlainPlace {
  colour: Rgb;
  alpha: number;
}

/** Section 10 of Level 1: `cs` laid with alpha `as`; plus-lighter, section 6 of Level 2.
 * @param isAtop - It changes what is there and adds nothing to it. */
export function laidPlainly(mode: ModeName, below: PlainPlace, cs: Rgb, as: number, isAtop: boolean): PlainPlace {
  const { colour: cb } = below;
  const ab = isAtop ? 1 : below.alpha;
  if (mode === 'plus-lighter') {
    const ao = Math.min(1, as + ab);
    const premultiplied = each(cb, cs, (b, s) => Math.min(Math.max(1, b) * ao, as * clamp(s) + ab * b));
    const colour = ao > 0 ? (premultiplied.map((v) => v / ao) as unknown as Rgb) : cb;
    return { colour, alpha: isAtop ? below.alpha : ao };
  }
  const ao = as + ab - as * ab;
  const source = (mode === 'normal' ? cs : cs.map(clamp)) as Rgb;
  const blended = blendedPlainly(mode, cb, cs);
  const mixed = each(source, blended, (s, b) => (1 - ab) * s + ab * b);
  const premultiplied = each(cb, mixed, (b, m) => as * m + (1 - as) * ab * b);
  const colour = ao > 0 ? (premultiplied.map((v) => v / ao) as unknown as Rgb) : cb;
  return { colour, alpha: isAtop ? below.alpha : ao };
}
