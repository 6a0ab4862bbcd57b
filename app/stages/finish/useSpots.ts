import { computed } from 'vue';
import { LINEAR } from '#core/checks/sketch.ts';
import { type Disc, proposeSource, stopsBetween } from '#core/finish/proposeSource.ts';
import { SpotId } from '#core/ids.ts';
import { levelCount, levelSize, TILE } from '#core/raster/size.ts';
import { addSpots, setSpot } from '#core/scene/edits/retouching.ts';
import type { Frame } from '#core/scene/frame.ts';
import { boundsOf, isOnPicture, middleOfSpot, type RetouchSpot } from '#core/scene/retouch.ts';
import { sceneSize } from '#core/scene/scene.ts';
import type { Engine } from '#engine/engine.ts';
import { Lane } from '#engine/lanes.ts';
import type { View } from '#engine/protocol.ts';
import { useEngine } from '../../stores/engine.ts';
import { useFinish } from '../../stores/finish.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

interface Point {
  x: number;
  y: number;
}

/** A spot is looked at so that its radius is about so many pixels: enough to compare what surrounds it. */
const RADIUS_SEEN = 10;
/** Around it so many radii are looked through. */
const AROUND = 8;
/** A way of the brush is covered piece by piece, none larger than this many pixels each way. */
const LONGEST = 1200;

/** Spots: covered where they are pointed at, each with a place proposed that covers it. */
export function useSpots() {
  const session = useSession();
  const engines = useEngine();
  const finish = useFinish();
  const notices = useNotices();

  /** A part of a view at a level, four bytes a pixel. */
  async function pieceOf(engine: Engine, view: View, level: number, left: number, top: number, side: number) {
    const size = levelSize(sceneSize(session.scene) ?? { width: 1, height: 1 }, level);
    const [x, y] = [Math.max(0, left), Math.max(0, top)];
    const [right, bottom] = [Math.min(size.width, left + side), Math.min(size.height, top + side)];
    const piece = {
      width: right - x,
      height: bottom - y,
      rgba: new Uint8ClampedArray(Math.max(0, right - x) * Math.max(0, bottom - y) * 4),
    };
    const tiles: { tx: number; ty: number }[] = [];
    for (let ty = Math.floor(y / TILE); ty * TILE < bottom; ty++)
      for (let tx = Math.floor(x / TILE); tx * TILE < right; tx++) tiles.push({ tx, ty });
    await engine.draw(Lane.Thumbs, view, level, tiles, (drawn) => {
      for (const { tx, ty, rgba } of drawn) {
        if (!rgba) continue;
        for (let row = Math.max(y, ty * TILE); row < Math.min(bottom, (ty + 1) * TILE); row++) {
          const [from, to] = [Math.max(x, tx * TILE), Math.min(right, (tx + 1) * TILE)];
          const at = ((row - ty * TILE) * TILE + from - tx * TILE) * 4;
          piece.rgba.set(rgba.subarray(at, at + 4 * (to - from)), ((row - y) * piece.width + from - x) * 4);
        }
      }
    });
    return { piece, x, y };
  }

  /** Where what covers a spot is best taken from, in scene pixels. */
  async function propose(spot: Pick<RetouchSpot, 'path' | 'radius' | 'id'>): Promise<Point | undefined> {
    const size = sceneSize(session.scene);
    if (!size) return undefined;
    const { engine } = await engines.start();
    const { width, height } = boundsOf(spot);
    const radius = Math.max(width, height) / 2;
    const level = Math.min(levelCount(size) - 1, Math.max(0, Math.round(Math.log2(radius / RADIUS_SEEN))));
    const step = 2 ** level;
    const middle = middleOfSpot(spot);
    const side = Math.ceil((2 * AROUND * radius) / step);
    const [left, top] = [Math.floor(middle.x / step - side / 2), Math.floor(middle.y / step - side / 2)];
    const { piece, x, y } = await pieceOf(engine, { show: { what: 'blend' } }, level, left, top, side);
    const disc = (at: Point, reach: number): Disc => ({ x: at.x / step - x, y: at.y / step - y, radius: reach / step });
    const others = session.scene.retouch
      .filter(({ id }) => id !== spot.id)
      .map((other) => disc(middleOfSpot(other), other.radius));
    const by = proposeSource(piece, disc(middle, radius), others);
    return by && { x: Math.round(by.x * step), y: Math.round(by.y * step) };
  }

  /** Stops by which another frame has to be made brighter to be as bright as the blend is around a place. */
  async function stopsAround(spot: Pick<RetouchSpot, 'path' | 'radius'>, frame: RetouchSpot['frame']): Promise<number> {
    const size = sceneSize(session.scene);
    if (!frame || !size) return 0;
    const { engine } = await engines.start();
    const level = Math.min(levelCount(size) - 1, Math.max(0, Math.round(Math.log2(spot.radius / RADIUS_SEEN))));
    const step = 2 ** level;
    const middle = middleOfSpot(spot);
    const side = Math.ceil((6 * spot.radius) / step);
    const [left, top] = [Math.floor(middle.x / step - side / 2), Math.floor(middle.y / step - side / 2)];
    const pieceAs = async (view: View) => (await pieceOf(engine, view, level, left, top, side)).piece;
    const [blend, other] = [
      await pieceAs({ show: { what: 'blend' } }),
      await pieceAs({ show: { what: 'frame', at: frame } }),
    ];
    return Math.round(20 * stopsBetween(blend, other, LINEAR)) / 20;
  }

  /** The frame that what moved is taken from: the chosen one, or that nearest in light to the base. */
  const nextFrame = computed(() => {
    const { frames, base } = session.scene;
    const own = frames.find(({ id }) => id === base)?.shot.ev ?? 0;
    const apart = ({ shot }: Frame) => Math.abs((shot.ev ?? 99) - own);
    const others = frames.filter(({ id, choice }) => id !== base && choice !== 'out');
    const chosen = frames.find(({ id }) => id === finish.frame);
    return (chosen ?? others.sort((a, b) => apart(a) - apart(b))[0])?.id ?? null;
  });

  /** Covers what was pointed at: a click, or the way of a drag. */
  async function cover(path: readonly Point[], { radius = finish.width / 2, how = finish.how } = {}): Promise<void> {
    if (session.readOnly || path.length === 0) return;
    const size = sceneSize(session.scene);
    if (size && !isOnPicture({ path: [...path], radius }, size))
      return void notices.tell('There is nothing to cover outside the picture. Click on it.');
    finish.busy = true;
    try {
      const frame = how === 'frame' ? nextFrame.value : null;
      const spots: RetouchSpot[] = [];
      // Out of Vue's proxies, which storage cannot take.
      for (const piece of piecesOf(path.map(({ x, y }) => ({ x, y })))) {
        const made = {
          id: SpotId.parse(crypto.randomUUID()),
          path: [...piece],
          radius: Math.min(1000, Math.max(1, radius)),
        };
        const by = frame ? { x: 0, y: 0 } : await propose(made);
        if (!by) continue;
        const stops = await stopsAround(made, frame);
        spots.push({
          ...made,
          soft: finish.soft,
          how: how === 'clone' ? 'clone' : 'heal',
          by,
          flip: 'none',
          frame,
          stops,
          opacity: 1,
          visible: true,
        });
      }
      if (spots.length === 0)
        return void notices.tell(
          'There is no room near it to take something from. Use a smaller brush, or another frame.',
        );
      session.dispatch(addSpots({ spots }));
      finish.spotId = session.scene.retouch.some(({ id }) => id === spots[0].id) ? spots[0].id : finish.spotId;
    } catch (error) {
      notices.tellError(error);
    } finally {
      finish.busy = false;
    }
  }
  const change = (spot: RetouchSpot, to: Partial<RetouchSpot>, drag?: string) => {
    const { id: _, ...rest } = to;
    session.dispatch(setSpot({ id: spot.id, change: rest }), drag);
  };
  /** Proposes another source for a spot. */
  async function again(spot: RetouchSpot): Promise<void> {
    const by = await propose(spot);
    if (by) change(spot, { by, frame: null, stops: 0 });
  }
  async function takeFrom(spot: RetouchSpot, frame: RetouchSpot['frame']): Promise<void> {
    if (!frame) return again(spot);
    change(spot, { frame, by: { x: 0, y: 0 }, stops: await stopsAround(spot, frame) });
  }

  return { nextFrame, cover, change, again, takeFrom };
}

/** A way in pieces that are each no longer than can be covered at once; neighbours share an end. */
function piecesOf(path: readonly Point[]): Point[][] {
  const pieces: Point[][] = [];
  let now: Point[] = [];
  for (const at of path) {
    const [first] = now;
    if (first && (Math.abs(at.x - first.x) > LONGEST || Math.abs(at.y - first.y) > LONGEST)) {
      pieces.push(now);
      now = now.slice(-1);
    }
    now.push(at);
  }
  if (now.length > 0) pieces.push(now);
  return pieces;
}
