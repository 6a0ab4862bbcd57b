import { allTiles, type TileSpot, tilesIn } from '#core/raster/region.ts';
import { coarsestFrom, levelCount, levelForScale, type Region, type Size, TILE } from '#core/raster/size.ts';
import type { Engine } from '#engine/engine.ts';
import { EngineError } from '#engine/engineError.ts';
import { Lane } from '#engine/lanes.ts';
import type { CanvasSpace, DrawnTile, View } from '#engine/protocol.ts';
import { Sheet } from './sheet.ts';
import { beginView, endView } from './viewRest.ts';
import { levelFitted, levelSeen, type Point, type ViewTransform } from './viewTransform.ts';

/** Longest side of the coarse sheet, which always shows the whole picture. */
const COARSE_SIDE = 700;

/** A picture that has changed meanwhile is finished all the same if that takes no longer than this; a hasty one rather than none at all. */
const PATIENCE_MS = { fine: 60, hasty: 1000 } as const;
/** A hasty picture that takes longer is drawn coarser the next time, by two levels at most; one that takes little of it, finer. */
const HASTY_MS = 100;
const MOST_COARSER = 2;
const QUICK = 1 / 6;

/** A picture on which threads fail this often is not drawn by asking once more. */
const MOST_FAILURES = 3;

const isThreadFailure = (error: unknown): boolean =>
  error instanceof EngineError && (error.code === 'thread-failed' || error.code === 'stuck');

/** Keeps a canvas showing a view of the scene: asks the engine for tiles and lays them out as they come. */
export class CanvasDriver {
  readonly #canvas: HTMLCanvasElement;
  readonly #context: CanvasRenderingContext2D;
  readonly #engine: Engine;
  readonly #onError: (error: Error) => void;
  readonly #size: Size;
  readonly #lane: Lane;
  readonly #space: CanvasSpace;
  readonly #levels: number;
  #view: View = { show: { what: 'result' } };
  #transform: ViewTransform = { scale: 1, offsetX: 0, offsetY: 0 };
  #coarse: Sheet;
  #fine: Sheet;
  /** What is on screen, coarser, while changes come faster than the fine sheet is drawn: else only the tiles in the middle would follow the hand. */
  #hasty: Sheet | undefined;
  #isHurried = false;
  #coarser = 1;
  /** Which change of what is shown was last drawn in haste. */
  #hurriedTo = -1;
  /** What is being drawn, and since when. */
  #drawing: { sheet: Sheet; since: number } | undefined;
  #waiting: ReturnType<typeof setTimeout> | undefined;
  /** Counts what made tiles stale. */
  #count = 0;
  #busy = false;
  #frame = 0;
  #focus: Point | undefined;
  #closed = false;
  /** How often threads have failed in a row. */
  #failures = 0;

  /** @param space - What tiles are drawn in, and the canvas with them. */
  constructor(
    canvas: HTMLCanvasElement,
    engine: Engine,
    size: Size,
    space: CanvasSpace,
    onError: (error: Error) => void,
    lane: Lane = Lane.View,
  ) {
    this.#lane = lane;
    this.#canvas = canvas;
    this.#context = canvas.getContext('2d', { colorSpace: space }) as CanvasRenderingContext2D;
    this.#engine = engine;
    this.#size = size;
    this.#space = space;
    this.#onError = onError;
    this.#levels = levelCount(size);
    this.#coarse = this.#coarseSheet();
    this.#fine = this.#coarse;
  }

  /** Shows another view; what is on screen stays until its tiles come. */
  setView(view: View): void {
    this.#view = view;
    this.invalidate();
  }

  /** Moves the picture on the canvas. */
  setTransform(transform: ViewTransform): void {
    const { scale, offsetX, offsetY } = this.#transform;
    if (transform.scale === scale && transform.offsetX === offsetX && transform.offsetY === offsetY) return;
    this.#transform = transform;
    // At once rather than with the next frame: what follows the hand must not be a frame late.
    this.#paint();
    this.#pump();
  }

  /** The scene point that the user looks at: tiles near it come first. */
  setFocus(point: Point | undefined): void {
    this.#focus = point;
  }

  /** Asks anew for the tiles that touch a scene region, or for all. A whole change drops what is under way if that takes long. */
  invalidate(region?: Region): void {
    this.#count++;
    for (const sheet of new Set([this.#coarse, this.#fine, this.#hasty]))
      sheet?.markStale(this.#size, this.#count, region);
    if (!region) this.#hurry();
    this.#pump();
  }

  /** Drops what is under way, at once or as soon as it has taken too long. From then on what can be drawn quickly comes first. */
  #hurry(): void {
    const drawing = this.#drawing;
    if (!drawing) return;
    const { sheet, since } = drawing;
    const patience = sheet === this.#hasty ? PATIENCE_MS.hasty : this.#isHurried && this.#hasty ? 0 : PATIENCE_MS.fine;
    const drop = () => {
      if (this.#drawing !== drawing) return;
      this.#isHurried = true;
      this.#engine.advance(this.#lane);
    };
    clearTimeout(this.#waiting);
    const left = since + patience - performance.now();
    if (left > 0) this.#waiting = setTimeout(drop, left);
    else drop();
  }

  /** Paints again, after the canvas changed its size. */
  repaint(): void {
    this.#repaint();
    this.#pump();
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#waiting);
    cancelAnimationFrame(this.#frame);
    if (this.#lane === Lane.View) this.#engine.advance(Lane.Ahead);
    this.#engine.advance(this.#lane);
  }

  #coarseSheet(): Sheet {
    const level = this.#coarseLevel();
    return new Sheet(this.#size, level, allTiles(this.#size, level), this.#space);
  }

  /** That which suits the whole picture, as it fits the canvas: so nothing is drawn twice. On a large canvas it would take too long. */
  #coarseLevel(): number {
    const longest = Math.max(this.#size.width, this.#size.height);
    const fitted = levelFitted(this.#size, this.#canvas);
    return longest / 2 ** fitted <= 2 * COARSE_SIDE ? fitted : levelForScale(COARSE_SIDE / longest, this.#levels);
  }

  /** The level that suits the zoom, and its tiles on screen. */
  #visible(): { level: number; tiles: TileSpot[] } {
    const level = levelSeen(this.#transform.scale, this.#size, this.#canvas);
    return { level, tiles: this.#tilesOnScreen(level) };
  }

  #tilesOnScreen(level: number): TileSpot[] {
    const { scale, offsetX, offsetY } = this.#transform;
    const perPixel = scale * 2 ** level;
    const region = {
      x: -offsetX / perPixel,
      y: -offsetY / perPixel,
      width: this.#canvas.width / perPixel,
      height: this.#canvas.height / perPixel,
    };
    return tilesIn(this.#size, level, region);
  }

  /** Asks for what is wanted most, one request at a time, until nothing is stale. */
  async #pump(): Promise<void> {
    if (this.#lane === Lane.View) this.#engine.advance(Lane.Ahead);
    if (this.#busy || this.#closed) return;
    this.#busy = true;
    delete this.#canvas.dataset.settled;
    if (this.#lane === Lane.View) beginView();
    let asked = this.#count;
    try {
      for (let next = this.#next(); next && !this.#closed; next = this.#next()) {
        const { sheet, wanted } = next;
        asked = this.#count;
        const since = performance.now();
        this.#drawing = { sheet, since };
        await this.#engine.draw(this.#lane, this.#view, sheet.level, wanted, (tiles) => {
          sheet.put(tiles, asked);
          this.#repaint();
        });
        this.#drawing = undefined;
        if (sheet === this.#hasty) this.#showHasty(asked, performance.now() - since);
      }
      // All of it is there.
      this.#isHurried = false;
      this.#failures = 0;
    } catch (error) {
      this.#drawing = undefined;
      // What was asked before the picture changed says nothing of the picture now.
      const again = asked !== this.#count || (await this.#isBack(error));
      this.#busy = false;
      if (again) return this.#pump();
      if (!this.#closed) this.#onError(error as Error);
    } finally {
      // Not before one that goes on has begun.
      if (this.#lane === Lane.View) endView();
    }
    this.#busy = false;
    this.#canvas.dataset.settled = String(this.#count);
    if (this.#lane === Lane.View) void this.#lookAhead();
  }

  /** What is older gives way to it. */
  #showHasty(asked: number, took: number): void {
    this.#hurriedTo = asked;
    this.#fine.clearStale();
    this.#repaint();
    if (took > HASTY_MS) this.#coarser = Math.min(MOST_COARSER, this.#coarser + 1);
    else if (took < QUICK * HASTY_MS) this.#coarser = Math.max(1, this.#coarser - 1);
  }

  /** Whether the engine has replaced the thread that failed, so that it can be asked again. */
  async #isBack(error: unknown): Promise<boolean> {
    if (!isThreadFailure(error) || ++this.#failures > MOST_FAILURES) return false;
    return this.#engine.whenReady().then(
      () => !this.#closed,
      () => false,
    );
  }

  /** Asks for tiles around the view while nothing else is wanted; whatever is wanted meanwhile goes first. */
  async #lookAhead(): Promise<void> {
    const sheet = this.#fine;
    const { x, y } = this.#focus ?? this.#middle();
    const wanted = sheet.wanted(sheet.tiles, x / 2 ** sheet.level, y / 2 ** sheet.level);
    if (wanted.length === 0 || this.#closed) return;
    const asked = this.#count;
    const put = (tiles: DrawnTile[]) => sheet.put(tiles, asked);
    // Tiles ahead may lack pixels of frames that are still being read; they are asked for again when they are in view.
    await this.#engine.draw(Lane.Ahead, this.#view, sheet.level, wanted, put).catch(() => undefined);
  }

  #next(): { sheet: Sheet; wanted: ReturnType<Sheet['wanted']> } | undefined {
    const { level, tiles } = this.#visible();
    if (tiles.length === 0) return undefined;
    const fresh = this.#useSheetFor(level, tiles);
    this.#useAsCoarse(level);
    const focus = this.#focus ?? this.#middle();
    const pick = (sheet: Sheet, spots: readonly TileSpot[]) => {
      const wanted = sheet.wanted(spots, focus.x / 2 ** sheet.level, focus.y / 2 ** sheet.level);
      return wanted.length > 0 ? { sheet, wanted } : undefined;
    };
    // Once for each change, also where the next will be drawn coarser, or finer.
    const hasty = this.#isHurried && this.#hurriedTo !== this.#count ? this.#hastySheet(level) : undefined;
    const first = hasty && pick(hasty, hasty.tiles);
    if (first) return first;
    const coarse = () => pick(this.#coarse, allTiles(this.#size, this.#coarse.level));
    const fine = () => pick(this.#fine, tiles);
    // Coming to a new place the coarse picture leads; while editing the fine one does.
    return fresh ? (coarse() ?? fine()) : (fine() ?? coarse());
  }

  /** Makes sure that there is a sheet for some tiles; answers whether it is a new one. */
  #useSheetFor(level: number, tiles: readonly TileSpot[]): boolean {
    if (this.#fine.covers(level, tiles)) return false;
    const former = this.#fine;
    if (this.#coarse.covers(level, tiles)) this.#fine = this.#coarse;
    else {
      this.#fine = new Sheet(this.#size, level, this.#padded(level, tiles), this.#space);
      this.#fine.inherit(former);
    }
    return true;
  }

  /** Once all of the picture is drawn as it fits a canvas that has changed its size, that is the coarse sheet. */
  #useAsCoarse(level: number): void {
    if (this.#fine === this.#coarse || level !== this.#coarseLevel()) return;
    if (this.#fine.hasDrawn(allTiles(this.#size, level))) this.#coarse = this.#fine;
  }

  /** The sheet that is drawn in haste, of what is on screen; undefined where nothing is coarser. */
  #hastySheet(fine: number): Sheet | undefined {
    const level = Math.min(coarsestFrom(fine, this.#levels), fine + this.#coarser);
    if (level <= fine) return undefined;
    const tiles = this.#tilesOnScreen(level);
    if (!this.#hasty?.covers(level, tiles)) this.#hasty = new Sheet(this.#size, level, tiles, this.#space);
    return this.#hasty;
  }

  /** Tiles with one more on each side, so that a small pan needs no new sheet. */
  #padded(level: number, tiles: readonly TileSpot[]): TileSpot[] {
    const xs = tiles.map(({ tx }) => tx);
    const ys = tiles.map(({ ty }) => ty);
    const [x, y] = [(Math.min(...xs) - 1) * TILE, (Math.min(...ys) - 1) * TILE];
    const [right, bottom] = [(Math.max(...xs) + 2) * TILE, (Math.max(...ys) + 2) * TILE];
    return tilesIn(this.#size, level, { x, y, width: right - x, height: bottom - y });
  }

  #middle(): Point {
    const { scale, offsetX, offsetY } = this.#transform;
    return { x: (this.#canvas.width / 2 - offsetX) / scale, y: (this.#canvas.height / 2 - offsetY) / scale };
  }

  #repaint(): void {
    this.#frame ||= requestAnimationFrame(() => this.#paint());
  }

  #paint(): void {
    cancelAnimationFrame(this.#frame);
    this.#frame = 0;
    const { scale, offsetX, offsetY } = this.#transform;
    this.#context.clearRect(0, 0, this.#canvas.width, this.#canvas.height);
    const { level, tiles } = this.#visible();
    const isCovered = this.#fine.covers(level, tiles) && this.#fine.hasDrawn(tiles);
    if (!isCovered && this.#fine !== this.#coarse) this.#coarse.paint(this.#context, scale, offsetX, offsetY);
    if (this.#isHurried && this.#hasty?.hasDrawn(this.#hasty.tiles))
      this.#hasty.paint(this.#context, scale, offsetX, offsetY, true);
    this.#fine.paint(this.#context, scale, offsetX, offsetY);
  }
}
