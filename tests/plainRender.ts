import { lmsMatrix, oklchOf } from '#core/color/oklab.ts';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import type { FrameId, ItemId } from '#core/ids.ts';
import type { Measure } from '#core/masks/measure.ts';
import type { Source } from '#core/masks/source.ts';
import { isFill } from '#core/masks/stroke.ts';
import type { ModeName } from '#core/modes/list.ts';
import type { Part } from '#core/parts/list.ts';
import type { TonePart } from '#core/parts/tone.ts';
import type { Refinements } from '#core/refinements/list.ts';
import type { Adjustment, Group, Item, Layer } from '#core/scene/item.ts';
import type { Mask } from '#core/scene/mask.ts';
import type { Scene } from '#core/scene/scene.ts';
import { findItem, mapLayers, ownerOf } from '#core/scene/tree.ts';
import { plainBase } from './plainBase.ts';
import { developedPlainly, type PlainAround, stopsOf } from './plainDevelop.ts';
import { laidPlainly, type PlainPlace } from './plainModes.ts';
import type { PixelSource } from './smallScene.ts';

/** A second rendering of scenes, pixel by pixel in plain doubles, straight from the documented formulas (docs/ARCHITECTURE.md,
 * "Pixels" and "Masks"): nothing in it is cached between pixels, tabled or shared with the one that it checks. What is documented
 * to be kept in 16 bits is rounded to them. It knows what has no neighbourhood: strokes and blurs are left out. */
type Rgb = readonly [number, number, number];

/** What an item lays. */
interface PlainlyLaid {
  colour: Rgb;
  /** Where there is anything of it. */
  cover?: number;
  mode?: ModeName;
  isAtop?: boolean;
}

/** Whose mask is computed, the lowest layer within, and how many layers lie below. */
interface From {
  owner: Item;
  layer: Layer | undefined;
  index: number;
  /** How many of the layer's own adjustments come before. */
  adjusted?: number;
}

const clamp = (value: number) => Math.min(1, Math.max(0, value));
const to16 = (value: number) => Math.round(65535 * clamp(value)) / 65535;
const rounded = (rgb: Rgb) => rgb.map(to16) as unknown as Rgb;
const smooth = (t: number) => clamp(t) * clamp(t) * (3 - 2 * clamp(t));

/** Rec. ITU-R BT.709, item 3.2: luminance of linear light; here, as documented, of encoded values too. */
const WEIGHTS = [0.2126, 0.7152, 0.0722] as const;
const weighted = ([r, g, b]: Rgb) => WEIGHTS[0] * r + WEIGHTS[1] * g + WEIGHTS[2] * b;

/** A pixel of a scene, or of a scene without one of its layers, in which nothing looks at the finished picture. */
export class PlainPixel {
  /** Steps that finish it lie in its stack, on top. */
  readonly #scene: Scene;
  readonly #frames: ReadonlyMap<FrameId, PixelSource>;
  readonly #x: number;
  readonly #y: number;
  readonly #isInner: boolean;
  readonly #known = new Map<string, unknown>();

  constructor(scene: Scene, frames: ReadonlyMap<FrameId, PixelSource>, x: number, y: number, isInner = false) {
    this.#scene = { ...scene, stack: [...scene.stack, ...scene.finish], finish: [] };
    this.#frames = frames;
    this.#x = x;
    this.#y = y;
    this.#isInner = isInner;
  }

  get result(): Rgb {
    return rounded(this.#picture(Number.POSITIVE_INFINITY));
  }

  #once<T>(name: string, make: () => T): T {
    if (!this.#known.has(name)) this.#known.set(name, make());
    return this.#known.get(name) as T;
  }

  /** A frame as it is placed and developed. */
  #frame(id: FrameId): Rgb {
    const develop = this.#scene.frames.find((each) => each.id === id)?.develop ?? {};
    return this.#once(`developed ${id}`, () => developedPlainly(this.#taken(id), develop, this.#around(id)));
  }

  /** What lies around the pixel in a frame as it is placed. */
  #around(id: FrameId): PlainAround {
    const { width, height } = this.#scene.frames[0];
    const toneAt = (x: number, y: number) =>
      stopsOf(this.#taken(id, Math.min(width - 1, Math.max(0, x)), Math.min(height - 1, Math.max(0, y))));
    return {
      tone: toneAt(this.#x, this.#y),
      baseOf: (radius) =>
        plainBase(toneAt, this.#x, this.#y, radius === 'picture' ? Math.max(width, height) / 100 : radius),
    };
  }

  /** A frame as it is placed: by whole pixels only. */
  #taken(id: FrameId, x = this.#x, y = this.#y): Rgb {
    const frame = this.#scene.frames.find((each) => each.id === id);
    const [dx, dy] = [frame?.placement?.matrix[2] ?? 0, frame?.placement?.matrix[5] ?? 0];
    const read = this.#frames.get(id) as PixelSource;
    return read(x - dx, y - dy).map((value) => value / 65535) as unknown as Rgb;
  }

  /** The base and what shows of the first leaves; what lies beyond white is kept. */
  #picture(count: number): Rgb {
    return this.#once(`picture ${count}`, () => {
      const base = { colour: this.#frame(this.#scene.base as FrameId), alpha: 1 };
      return this.#laid(base, this.#scene.stack, 0, count, false).place.colour;
    });
  }

  /** Items laid over a place, and whether any shows.
   * @param from - Leaves of the stack below them.
   * @param to - Leaves of the stack that count.
   * @param isAlone - Nothing lies below them but what is told. */
  #laid(below: PlainPlace, items: readonly Item[], from: number, to: number, isAlone: boolean) {
    let [place, at, shows] = [below, from, false];
    for (const item of items) {
      const laid = item.visible && at < to ? this.#laidBy(item, place, at, to, isAlone) : undefined;
      if (laid) {
        shows = true;
        const { colour, cover = 1, mode = item.mode, isAtop = false } = laid;
        const shown = this.#shown({ owner: item, layer: this.#lowestOf(item), index: at });
        // A cover is a mask of its own, kept in 16 bits, and so is the mask within it.
        const weight = (laid.cover === undefined ? shown : to16(shown * to16(cover))) * item.opacity;
        place = this.#lay(mode, place, colour, weight, isAtop);
      }
      at += leavesWithin(item).length;
    }
    return { place, shows };
  }

  /** What an item lays at a place; undefined for nothing. */
  #laidBy(item: Item, place: PlainPlace, at: number, to: number, isAlone: boolean): PlainlyLaid | undefined {
    if (item.item === 'group') {
      const isOwn = item.isolated || isAlone;
      const inside = this.#laid(isOwn ? { colour: [0, 0, 0], alpha: 0 } : place, item.items, at, to, isOwn);
      if (!inside.shows) return undefined;
      const { colour, alpha } = inside.place;
      const { adjustments } = item;
      if (isOwn) return { colour: this.#adjusted(colour, adjustments, undefined, at), cover: alpha };
      // What shows through is adjusted as far as the group's items cover it.
      const own = adjustments.length > 0 && this.#laid({ colour: [0, 0, 0], alpha: 0 }, item.items, at, to, true).place;
      return { colour: own ? this.#adjusted(colour, adjustments, undefined, at, own.alpha) : colour, mode: 'normal' };
    }
    if (item.item === 'adjustment') {
      const made = developedPlainly(place.colour, { [item.kind]: item.settings });
      return place.alpha === 0 && isAlone && at === 0 ? undefined : { colour: made, isAtop: true };
    }
    if (this.#waits(item)) return undefined;
    const { colour, ...rest } = this.#content(item, place);
    return { ...rest, colour: this.#adjusted(colour, item.adjustments, item, at) };
  }

  /** A colour laid over a place: encoded values, or light where the scene says so. */
  #lay(mode: ModeName, { colour, alpha }: PlainPlace, above: Rgb, weight: number, isAtop: boolean): PlainPlace {
    if (this.#scene.blendSpace === 'encoded') return laidPlainly(mode, { colour, alpha }, above, weight, isAtop);
    const light = (rgb: Rgb) => rgb.map(decodeSrgb) as unknown as Rgb;
    const mixed = laidPlainly(mode, { colour: light(colour), alpha }, light(above), weight, isAtop);
    return { ...mixed, colour: mixed.colour.map(encodeSrgb) as unknown as Rgb };
  }

  /** A colour after adjustments of its own layer or group, as far as something covers the place. */
  #adjusted(colour: Rgb, all: readonly Adjustment[], layer: Layer | undefined, index: number, cover?: number): Rgb {
    let place: PlainPlace = { colour, alpha: 1 };
    for (const [adjusted, owner] of all.entries()) {
      if (!owner.visible) continue;
      const from = layer ? { owner, layer, index, adjusted } : (this.#contextOf(owner.id) as From);
      const shown = this.#shown(from);
      const weight = (cover === undefined ? shown : to16(shown * to16(cover))) * owner.opacity;
      const made = developedPlainly(place.colour, { [owner.kind]: owner.settings });
      place = this.#lay(owner.mode, place, made, weight, false);
    }
    return place.colour;
  }

  #content({ content }: Layer, place: PlainPlace): PlainlyLaid {
    if ('below' in content) return { colour: place.colour, isAtop: true };
    if ('colour' in content) return { colour: rounded(content.colour) };
    if ('gradient' in content) {
      const { start, end, from, to: last } = content.gradient;
      const [dx, dy] = [end.x - start.x, end.y - start.y];
      const along = clamp(((this.#x + 0.5 - start.x) * dx + (this.#y + 0.5 - start.y) * dy) / (dx * dx + dy * dy));
      return { colour: from.map((value, i) => value + (last[i] - value) * along) as unknown as Rgb };
    }
    if ('picture' in content) throw new RangeError('Pictures of their own are not computed plainly');
    return { colour: this.#frame(content.frame) };
  }

  #shown(from: From): number {
    return this.#once(`shown ${from.owner.id}`, () => {
      const mask = this.#maskOf(from, 'mask');
      const guarded = from.owner.guard ? mask * this.#maskOf(from, 'guard') : mask;
      const { owner } = from;
      const isWindowed = owner.item === 'layer' && owner.toneWindow;
      const shown = isWindowed ? guarded * this.#window(owner, from.index) : guarded;
      return from.owner.guard || isWindowed ? to16(shown) : mask;
    });
  }

  /** Where tones of a layer and of what lies below it are within its window. */
  #window(layer: Layer, index: number): number {
    const { measure, layer: own, below } = layer.toneWindow as NonNullable<Layer['toneWindow']>;
    const isOpen = ({ from, to }: typeof own) => from === 0 && to === 1;
    const share = (range: typeof own, colour: Rgb) =>
      isOpen(range) ? 1 : to16(within(range, measured(measure, rounded(colour))));
    const place = { colour: this.#picture(index), alpha: 1 };
    const content = this.#laidBy({ ...layer, yieldsToBase: false }, place, index, index + 1, false);
    return share(own, content?.colour ?? place.colour) * share(below, this.#picture(index));
  }

  #maskOf(from: From, of: 'mask' | 'guard'): number {
    const { owner } = from;
    const mask = owner[of];
    return mask ? this.#once(`${of} ${owner.id}`, () => this.#joined(mask, from)) : 0;
  }

  /** CSS Masking Module Level 1, section 7.8. */
  #joined({ parts, refine }: Mask, from: From): number {
    let mask = 0;
    for (const part of parts) {
      if (!part.enabled) continue;
      const [value, hold] = this.#part(part, from);
      if (part.join === 'add') mask = value + mask * (1 - hold);
      else if (part.join === 'subtract') mask *= 1 - value;
      else if (part.join === 'intersect') mask *= value;
      else mask += value - 2 * mask * value;
    }
    const { inverted, ...rest } = refine;
    const isOnlyTurned = inverted && JSON.stringify(rest) === JSON.stringify({ ...rest, ...PLAIN });
    return isOnlyTurned ? to16(1 - mask) : refined(to16(mask), refine);
  }

  /** What a part covers, and how much of the place it decides. */
  #part(part: Part, from: From): [number, number] {
    if (part.kind === 'painted') {
      let [value, hold] = [0, 0];
      for (const touch of part.strokes) {
        if (!isFill(touch) || touch.outline) throw new RangeError('Only whole fills are computed plainly');
        const weight = touch.strength * (touch.stencil ? this.#recipe(touch.stencil, from) : 1);
        value += (touch.target - value) * weight;
        hold += (1 - hold) * weight;
      }
      return [value, hold];
    }
    const value = refined(to16(this.#plain(part, from)), part.refine);
    return [value, value];
  }

  #plain(part: Exclude<Part, { kind: 'painted' }>, from: From): number {
    switch (part.kind) {
      case 'tone':
        return tone(part, measured(part.measure, this.#source(part.source, from)));
      case 'colour': {
        const rgb = this.#source(part.source, from).map(decodeSrgb) as unknown as [number, number, number];
        const { l, c, h } = oklchOf(lmsMatrix('srgb'), rgb);
        const away = Math.abs(((h - part.hue.centre + 540) % 360) - 180);
        const hue = away <= part.hue.width ? 1 : smooth(1 - (away - part.hue.width) / part.hue.shoulder);
        return to16(within(part.lightness, l)) * to16(within(part.chroma, c / 0.4)) * to16(hue);
      }
      case 'gradient': {
        const [dx, dy] = [part.end.x - part.start.x, part.end.y - part.start.y];
        const along = ((this.#x + 0.5 - part.start.x) * dx + (this.#y + 0.5 - part.start.y) * dy) / (dx * dx + dy * dy);
        const bent = clamp(along) ** (Math.log(0.5) / Math.log(part.middle));
        return 1 - (part.profile === 'smooth' ? smooth(bent) : bent);
      }
      case 'radial': {
        const [dx, dy] = [this.#x + 0.5 - part.centre.x, this.#y + 0.5 - part.centre.y];
        const angle = (part.turn * Math.PI) / 180;
        const across = (dx * Math.cos(angle) + dy * Math.sin(angle)) / part.radiusX;
        const down = (dy * Math.cos(angle) - dx * Math.sin(angle)) / part.radiusY;
        return smooth((1 - Math.hypot(across, down)) / part.feather);
      }
      case 'reference':
        return this.#reference(part.to, from);
      default:
        throw new RangeError(`${part.kind} is not computed plainly`);
    }
  }

  #reference(to: (Part & { kind: 'reference' })['to'], from: From): number {
    if ('frozen' in to) return this.#recipe(to.frozen, from);
    if ('item' in to) {
      const at = to.item === from.owner.id ? undefined : this.#contextOf(to.item);
      return at ? this.#maskOf(at, 'mask') : 0;
    }
    const stencil = this.#scene.stencils.find(({ id }) => id === to.stencil);
    return stencil ? this.#joined(stencil.mask, from) : 0;
  }

  #recipe(id: string, from: From): number {
    const { seenFrom, mask } = this.#scene.recipes[id];
    return this.#joined(mask, (seenFrom && this.#contextOf(seenFrom)) || from);
  }

  #contextOf(id: ItemId): From | undefined {
    const owner = findItem(this.#scene, id);
    if (!owner) return undefined;
    const holder = ownerOf(this.#scene, id);
    const [first] = leavesWithin(holder ?? owner);
    const index = this.#scene.stack.flatMap(leavesWithin).indexOf(first);
    const adjusted = holder?.item === 'layer' ? holder.adjustments.findIndex((own) => own.id === id) : undefined;
    return { owner, layer: this.#lowestOf(holder ?? owner), index, adjusted };
  }

  /** While a layer's frame is the base it shows nothing, unless it is meant to. */
  #waits = ({ content, yieldsToBase }: Layer): boolean =>
    yieldsToBase && 'frame' in content && content.frame === this.#scene.base;

  /** The layer that an item's masks see as theirs: the lowest that shows something. */
  #lowestOf = (item: Item): Layer | undefined =>
    item.item === 'layer'
      ? item
      : leavesWithin(item).find((leaf): leaf is Layer => leaf.item === 'layer' && !this.#waits(leaf));

  #source(source: Source, from: From): Rgb {
    const { layer } = from;
    const isDeveloped = source.startsWith('developed:');
    const read = (id: FrameId) => (isDeveloped ? rounded(this.#frame(id)) : this.#taken(id));
    const plain = isDeveloped ? source.slice(10) : source;
    if (plain === 'base') return read(this.#scene.base as FrameId);
    if (plain === 'layer') {
      if (!layer || 'colour' in layer.content || 'gradient' in layer.content) return read(this.#scene.base as FrameId);
      if (!isDeveloped && 'frame' in layer.content) return read(layer.content.frame);
      const adjustments = isDeveloped ? layer.adjustments.slice(0, from.adjusted) : [];
      const { colour } = this.#content(layer, { colour: this.#picture(from.index), alpha: 1 });
      return rounded(this.#adjusted(colour, adjustments, layer, from.index));
    }
    if (plain.startsWith('frame:')) return read(plain.slice(6) as FrameId);
    if (plain === 'below' || this.#isInner || !layer) return rounded(this.#picture(from.index));
    return this.#once(`without ${layer.id}`, () => {
      const scene = mapLayers(this.#scene, (each) => (each.id === layer.id ? undefined : each));
      return new PlainPixel(scene, this.#frames, this.#x, this.#y, true).result;
    });
  }
}

const leavesWithin = (item: Item): Exclude<Item, Group>[] =>
  item.item === 'group' ? item.items.flatMap(leavesWithin) : [item];

const PLAIN = { levels: { black: 0, white: 1, gamma: 1 }, curve: [], strength: 1 };

/** Levels, a straight curve through two points, inversion and strength; each step is kept in 16 bits. */
function refined(grey: number, { levels, curve, inverted, strength }: Refinements): number {
  let value = grey;
  const { black, white, gamma } = levels;
  if (black !== 0 || white !== 1 || gamma !== 1 || curve.length === 2) {
    value = clamp((value - black) / (white - black)) ** (1 / gamma);
    if (curve.length === 2) {
      const [a, b] = curve;
      value = value <= a.x ? a.y : value >= b.x ? b.y : a.y + ((b.y - a.y) * (value - a.x)) / (b.x - a.x);
    }
    value = to16(value);
  }
  return inverted || strength < 1 ? to16(strength * (inverted ? 1 - value : value)) : value;
}

function within({ from, to, fromShoulder, toShoulder }: (Part & { kind: 'colour' })['chroma'], value: number): number {
  if (value < from) return fromShoulder > 0 ? smooth(1 - (from - value) / fromShoulder) : 0;
  if (value > to) return toShoulder > 0 ? smooth(1 - (value - to) / toShoulder) : 0;
  return 1;
}

/** Light is the tone itself, each narrower step multiplies it by itself once more (common practice, no source). */
function tone(part: TonePart, value: number): number {
  const side = { light: value, dark: 1 - value, middle: 4 * value * (1 - value), curve: value }[part.side];
  return side ** (1 + part.narrowing) * within(part, value);
}

function measured(measure: Measure, rgb: Rgb): number {
  if (measure === 'luminance') return to16(weighted(rgb));
  if (measure === 'brightest') return Math.max(...rgb);
  if (measure === 'lightness') {
    // CIE 15:2004, section 8.2.1.1.
    const y = to16(weighted(rgb.map(decodeSrgb) as unknown as Rgb));
    return to16((y > 216 / 24389 ? 116 * Math.cbrt(y) - 16 : (24389 / 27) * y) / 100);
  }
  if (measure === 'chroma')
    return to16(oklchOf(lmsMatrix('srgb'), rgb.map(decodeSrgb) as unknown as [number, number, number]).c / 0.4);
  return rgb[{ red: 0, green: 1, blue: 2 }[measure]];
}
