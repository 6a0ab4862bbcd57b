import { BLOCK, BLOCKS } from '../../kernels/digestBlocks.ts';
import { TILE } from '../../raster/size.ts';
import { mixKeys, mixWords, type NodeKey, packPlace } from '../../raster/tileKey.ts';
import { BLOCK_WORDS, type Content, WHOLE_WORDS } from './contents.ts';
import { type Area, gatheredFrom, keyOfArea, wantedIn } from './neighbourhood.ts';
import {
  planeOf,
  type RenderContext,
  type Spot,
  type TileNode,
  tilesOf,
  type Wanted,
  withTile,
} from './renderContext.ts';

/** Keys that say what a tile is made of by what lies there, and not by how that came about: where something is changed far below, most of
 * what looks at its surroundings sees the same as before, and is found as it was. */

/** As many words as the key of an area can be mixed of: five tiles each way, each block of them, and a few. */
const WORDS = new Int32Array(1024);

/** Places that are remembered before all are forgotten. */
const REMEMBERED = 4096;

/** What is looked at around a tile, worked out once: the tiles that an area is gathered from, and which blocks of them it shows. */
interface Seen {
  area: Area;
  spots: readonly Spot[];
  /** Words of their contents, from and to, for each row of blocks of each; none for a tile that is seen whole. */
  rows: readonly (readonly number[] | undefined)[];
}

/** What is seen around tiles, by what tells how far is looked: each plan has nodes of its own that look around the same places. */
const seenSoFar = new Map<string, Map<number, Seen>>();
/** Ways of looking that are remembered before all are forgotten. */
const WAYS = 64;

function seenBy(way: string): Map<number, Seen> {
  const known = seenSoFar.get(way);
  if (known) return known;
  if (seenSoFar.size >= WAYS) seenSoFar.clear();
  const seen = new Map<number, Seen>();
  seenSoFar.set(way, seen);
  return seen;
}

/** What a node of one plane shows around tiles. */
export class Sight {
  readonly #node: TileNode;
  readonly #areaOf: (spot: Spot) => Area;
  readonly #withTile: boolean;
  readonly #seen: Map<number, Seen>;

  /** @param way - Tells what is looked at in a picture of a size from all else.
   * @param areaOf - What is looked at.
   * @param withTile - Whether the tile at the spot is looked at as well, which may be of a finer level than the area. */
  constructor(node: TileNode, way: string, areaOf: (spot: Spot) => Area, withTile: boolean) {
    this.#node = node;
    this.#areaOf = areaOf;
    this.#withTile = withTile;
    const { width, height } = node.extent.size;
    this.#seen = seenBy(`${way} ${width} ${height} ${withTile}`);
  }

  /** Key of all that is seen from a spot. Tiles that nobody has looked at yet are made, unless keys shall tell where pixels come from.
   * @throws {RenderError} when one cannot be made. */
  keyAt(seed: NodeKey, spot: Spot, context: RenderContext): NodeKey {
    const { area, spots, rows } = this.#seenFrom(spot);
    if (!context.byContent) {
      const around = keyOfArea(seed, this.#node, area, context);
      return this.#withTile ? mixKeys(around, this.#node.keyAt(spot, context)) : around;
    }
    const contents = contentsOf(this.#node, spots, context);
    const { width, height } = this.#node.extent.size;
    WORDS[0] = width;
    WORDS[1] = height;
    let count = 2;
    for (let index = 0; index < contents.length; index++) {
      const { words, at } = contents[index];
      const shown = rows[index];
      if (!shown) for (let word = at; word < at + WHOLE_WORDS; word++) WORDS[count++] = words[word];
      else
        for (let i = 0; i < shown.length; i += 2)
          for (let word = at + shown[i]; word < at + shown[i + 1]; word++) WORDS[count++] = words[word];
    }
    return mixWords(seed, WORDS, count);
  }

  #seenFrom(spot: Spot): Seen {
    const place = placeOf(spot);
    let seen = this.#seen.get(place);
    if (!seen) {
      if (this.#seen.size >= REMEMBERED) this.#seen.clear();
      const area = this.#areaOf(spot);
      const around = wantedIn(this.#node, area).map((wanted) => wanted.spot);
      const rows = around.map((near) => blocksOf(near, gatheredFrom(area)));
      seen = { area, spots: this.#withTile ? [...around, { ...spot }] : around, rows };
      this.#seen.set(place, seen);
    }
    return seen;
  }
}

/** Words of the content of a tile that an area shows, by rows of blocks; undefined for all of them. */
function blocksOf({ tx, ty }: Spot, { left, top, side }: Area): number[] | undefined {
  const [x0, x1] = blocksFrom(left - tx * TILE, side);
  const [y0, y1] = blocksFrom(top - ty * TILE, side);
  if (x1 - x0 === BLOCKS && y1 - y0 === BLOCKS) return undefined;
  const rows: number[] = [];
  const wordOf = (block: number) => WHOLE_WORDS + BLOCK_WORDS * block;
  for (let y = y0; y < y1; y++) rows.push(wordOf(y * BLOCKS + x0), wordOf(y * BLOCKS + x1));
  return rows;
}

/** The blocks of a tile, first and one past the last, that samples along one way touch. */
const blocksFrom = (first: number, count: number): [number, number] => [
  Math.max(0, Math.floor(first / BLOCK)),
  Math.min(BLOCKS, Math.ceil((first + count) / BLOCK)),
];

/** The value that a tile has throughout, or null. It is made if nobody has looked at it yet.
 * @throws {RenderError} */
export function evenAt(node: TileNode, spot: Spot, context: RenderContext): number | null {
  const { contents } = context;
  const key = node.keyAt(spot, context);
  const place = placeOf(spot);
  const known = contents.find(key, place);
  if (known) return known.even;
  const even = withTile(node, spot, context, ({ form, value }) => (form === 'constant' ? value : null));
  contents.noteEven(key, place, even);
  return even;
}

/** What tiles hold; those that nobody has looked at yet are made. */
function contentsOf(node: TileNode, spots: readonly Spot[], context: RenderContext): Content[] {
  const { contents, kernels, table } = context;
  const known: (Content | undefined)[] = [];
  const missing: Wanted[] = [];
  for (const spot of spots) {
    const content = contents.find(node.keyAt(spot, context), placeOf(spot))?.content;
    known.push(content);
    if (!content) missing.push({ node, spot });
  }
  if (missing.length > 0) {
    const tiles = tilesOf(missing, context);
    try {
      for (let index = 0, at = 0; index < spots.length; index++) {
        if (known[index]) continue;
        const spot = spots[index];
        const plane = planeOf(tiles[at++], 0, context);
        known[index] = contents.note(node.keyAt(spot, context), placeOf(spot), plane, kernels);
      }
    } finally {
      table.releaseAll(tiles);
    }
  }
  return known as Content[];
}

const placeOf = ({ level, tx, ty }: Spot): number => packPlace(level, tx, ty);
