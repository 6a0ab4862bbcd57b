import { type CheckJob, jobsOf } from '#core/checks/jobs.ts';
import type { WorkingSpace } from '#core/color/workingSpace.ts';
import type { ItemId } from '#core/ids.ts';
import type { TileSpot } from '#core/raster/region.ts';
import type { Region } from '#core/raster/size.ts';
import { keyText } from '#core/raster/tileKey.ts';
import { toSpace } from '#core/render/nodes/lightNode.ts';
import { type BlendLook, blendLook } from '#core/render/plan/blendLook.ts';
import { CheckMemory, keyOfJob, measureJob } from '#core/render/plan/checking.ts';
import { type DisplayNode, displayKey, drawTile } from '#core/render/plan/display.ts';
import { findEnds } from '#core/render/plan/findEnds.ts';
import { compilePlan, nodeOfEither, type RenderPlan } from '#core/render/plan/plan.ts';
import { PlanMemory } from '#core/render/plan/planMemory.ts';
import { countHistogram, type Histogram, sampleAt } from '#core/render/plan/readings.ts';
import { isPicture } from '#core/render/plan/request.ts';
import { planeWriter, type TileWriter, writerOf } from '#core/render/plan/writing.ts';
import { createRenderContext } from '#core/render/tiles/createRenderContext.ts';
import type { RenderContext } from '#core/render/tiles/renderContext.ts';
import { applyPatch } from '#core/scene/patch.ts';
import type { Scene } from '#core/scene/scene.ts';
import { openResources, type ThreadResources } from './kernelModule.ts';
import type {
  CanvasSpace,
  CheckedJob,
  DrawnTile,
  FromRenderer,
  InnerPort,
  Samples,
  Ticket,
  ToRenderer,
  View,
} from './protocol.ts';
import { byBand, byPart, byTile, MANY, takeTiles } from './sharing.ts';

/** Tiles are sent when this many milliseconds have gone by since the last were: early pictures, few messages. */
const BATCH_MS = 8;

/** Long work gives a sign this often. */
const SIGN_MS = 1000;

/** Slow work pauses this often for what is more urgent. */
const SLICE_MS = 8;

const turns = new MessageChannel();
const waitingForTurn: (() => void)[] = [];
turns.port1.onmessage = () => waitingForTurn.shift()?.();

/** Resolves after the messages that have come meanwhile were taken; unlike a timer it waits for nothing else. */
function nextTurn(): Promise<void> {
  return new Promise((resolve) => {
    waitingForTurn.push(resolve);
    turns.port2.postMessage(undefined);
  });
}

/** What is told of a failure. */
function failureOf(error: unknown): { code: string; detail: string } {
  const { code, message } = error as { code?: string; message?: string };
  return { code: code ?? 'internal', detail: String(message) };
}

/** Serves a render thread's channel until it is closed. */
export function serveRenderer(port: InnerPort<ToRenderer, FromRenderer>): void {
  let renderer: Renderer | undefined;
  port.onMessage((message) => {
    if (message.type === 'start') {
      renderer = new Renderer(openResources(message, { warmsUp: true }), port);
      port.post({ type: 'ready' });
    } else {
      renderer?.take(message);
    }
  });
}

/** What makes the pixels of a scene besides the one at hand; nothing of one that cannot be computed. Strokes of masks have other chains there: nothing is
 * handed from one scene to the other. */
function planOrNone(scene: Scene): RenderPlan | undefined {
  try {
    return compilePlan(scene);
  } catch {
    return undefined; // what is asked of it is not there
  }
}

/** Makes pixels of the scene it was last told, in one thread. */
class Renderer {
  readonly #port: InnerPort<ToRenderer, FromRenderer>;
  readonly #context: RenderContext;
  readonly #planMemory = new PlanMemory();
  #scene: Scene | undefined;
  #selected: ItemId | undefined;
  #isCompiled = false;
  #plan: RenderPlan | undefined;
  #other: RenderPlan | undefined;
  /** Scenes that are being written. */
  readonly #held = new Map<number, { plan: RenderPlan | undefined; space: WorkingSpace }>();
  /** Why there is no plan. */
  #planFailure: Error | undefined;
  /** What checks look at: of the blend, and of the finished picture. */
  readonly #looks = new Map<boolean, BlendLook | undefined>();
  readonly #checkMemory = new CheckMemory();
  #toldAt = 0;
  #canvasSpace: CanvasSpace = 'srgb';

  constructor(resources: ThreadResources, port: InnerPort<ToRenderer, FromRenderer>) {
    this.#context = createRenderContext(resources);
    this.#port = port;
  }

  take(message: Exclude<ToRenderer, { type: 'start' }>): void {
    if (message.type === 'scene') {
      this.#setScene(message);
      return;
    }
    if (message.type === 'other') {
      this.#other = message.scene && planOrNone(message.scene);
      return;
    }
    if (message.type === 'hold') {
      const { id, scene } = message;
      if (scene) this.#held.set(id, { plan: planOrNone(scene), space: scene.workingSpace });
      else this.#held.delete(id);
      return;
    }
    if (message.type === 'stroke') {
      this.#context.strokes.append(message.id, message.points);
      return;
    }
    this.#answer(message).catch((error) => {
      this.#port.post({ type: 'failed', ticket: message.ticket, ...failureOf(error), done: true });
    });
  }

  /** Takes over what has changed of the scene. It is compiled when it is asked for: while a slider is dragged scenes may come faster than they are
   * drawn. */
  #setScene({ patch, selected, canvasSpace }: ToRenderer & { type: 'scene' }): void {
    this.#scene = applyPatch(this.#scene, patch) as Scene;
    this.#selected = selected;
    this.#canvasSpace = canvasSpace;
    this.#isCompiled = false;
  }

  /** Compiles the scene; of one that cannot be compiled every request says why, and nothing shows the scene before it. */
  #compile(): void {
    if (!this.#isCompiled) {
      this.#isCompiled = true;
      this.#plan = undefined;
      this.#looks.clear();
      this.#planFailure = undefined;
      try {
        this.#plan = this.#scene && compilePlan(this.#scene, this.#planMemory, this.#selected);
      } catch (error) {
        this.#planFailure = error as Error;
      }
    }
    if (this.#planFailure) throw this.#planFailure;
  }

  async #answer(
    message: Exclude<ToRenderer, { type: 'start' | 'scene' | 'other' | 'hold' | 'stroke' }>,
  ): Promise<void> {
    this.#compile();
    this.#toldAt = performance.now();
    switch (message.type) {
      case 'draw':
        return this.#draw(message);
      case 'histogram':
        return this.#histogram(message);
      case 'ends':
        return this.#ends(message);
      case 'check':
        return this.#check(message);
      case 'probe':
        return this.#port.post({ type: 'probed', ticket: message.ticket, samples: this.#probe(message), done: true });
      case 'write':
        return this.#write(message);
    }
  }

  #isStale({ lane, current }: Ticket): boolean {
    return this.#context.table.slab.lane(lane) !== current;
  }

  #draw(message: ToRenderer & { type: 'draw' }): void {
    const { ticket, level, tiles } = message;
    const memory = [...message.spent];
    const display = this.#onCanvas(this.#display(message.view));
    let batch: DrawnTile[] = [];
    let sentAt = performance.now();
    const send = (done: boolean) => {
      const spent = done ? memory : [];
      const sent = batch.flatMap(({ rgba }) => (rgba ? [rgba.buffer] : []));
      this.#port.post({ type: 'drawn', ticket, tiles: batch, spent, done }, [...sent, ...spent]);
      batch = [];
      sentAt = performance.now();
    };
    const isMany = tiles.length > MANY;
    const place = isMany ? byPart(tiles, message.share.threads) : byTile;
    for (const { tx, ty, known } of display ? takeTiles(tiles, message.share, place, isMany) : []) {
      if (this.#isStale(message)) break;
      const spot = { level, tx, ty };
      const key = keyText(displayKey(display as DisplayNode, spot, this.#context));
      const draw = () => drawTile(display as DisplayNode, spot, this.#context, memory.pop());
      batch.push(key === known ? { tx, ty, key } : { tx, ty, key, rgba: draw() });
      if (performance.now() - sentAt > BATCH_MS) send(false);
      this.#giveSign(ticket);
    }
    send(true);
  }

  async #histogram(message: ToRenderer & { type: 'histogram' }): Promise<void> {
    const { ticket, of, level } = message;
    const node = this.#nodeOf(of);
    let histogram: Histogram | undefined;
    if (node && this.#scene) {
      const counting = countHistogram(node, level, this.#context);
      histogram = await this.#inSlices(message, counting);
    }
    this.#port.post({ type: 'histogram', ticket, histogram, done: true });
  }

  async #ends(message: ToRenderer & { type: 'ends' }): Promise<void> {
    const { ticket, of, level, share } = message;
    const node = this.#nodeOf(of);
    const ends = node && (await this.#inSlices(message, findEnds(node, level, share, this.#context)));
    this.#port.post({ type: 'ends', ticket, ends, done: true });
  }

  async #check(message: ToRenderer & { type: 'check' }): Promise<void> {
    const { ticket, scope } = message;
    const [scene, plan] = [this.#scene, this.#plan];
    // What is judged within a mask is looked at anew each time.
    const known = scope.within ? undefined : this.#looks.get(scope.finished ?? false);
    const look = known ?? (scene && plan && blendLook(scene, plan, scope));
    if (!scope.within) this.#looks.set(scope.finished ?? false, look);
    let batch: CheckedJob[] = [];
    const send = (done: boolean) => {
      this.#port.post({ type: 'checked', ticket, jobs: batch, done });
      batch = [];
    };
    if (look && plan)
      await this.#inSlices(
        message,
        this.#checking(message, look, jobsOf(plan.size), (checked) => {
          batch.push(checked);
          if (checked.outcome) send(false);
        }),
      );
    send(true);
  }

  *#checking(
    { jobs, share }: ToRenderer & { type: 'check' },
    look: BlendLook,
    all: readonly CheckJob[],
    tell: (checked: CheckedJob) => void,
  ): Generator<undefined, void> {
    // A part falls to the same thread each time, which has most of what it is made of.
    for (const { job, known } of takeTiles(jobs, share, (wanted) => wanted.job)) {
      if (!all[job]) continue;
      const key = keyText(keyOfJob(all[job], look, this.#context));
      yield undefined;
      tell(
        key === known
          ? { job, key }
          : { job, key, outcome: yield* measureJob(all[job], look, this.#checkMemory, this.#context) },
      );
    }
  }

  /** Goes through slow work a slice at a time, letting what is asked meanwhile go first.
   * @returns What the work returns, or nothing when it became stale. */
  async #inSlices<T>(ticket: Ticket, work: Generator<undefined, T>): Promise<T | undefined> {
    let pausedAt = performance.now();
    for (let step = work.next(); ; step = work.next()) {
      if (step.done) return step.value;
      this.#giveSign(ticket.ticket);
      if (performance.now() - pausedAt < SLICE_MS) continue;
      await nextTurn();
      if (this.#isStale(ticket)) return undefined;
      pausedAt = performance.now();
    }
  }

  /** Says now and then that it is at work. */
  #giveSign(ticket: number): void {
    if (performance.now() - this.#toldAt < SIGN_MS) return;
    this.#toldAt = performance.now();
    this.#port.post({ type: 'alive', ticket, done: false });
  }

  #probe({ of, x, y }: ToRenderer & { type: 'probe' }): Samples {
    return of.map((request) => {
      const node = this.#nodeOf(request);
      return node ? sampleAt(node, x, y, this.#context) : null;
    });
  }

  async #write(message: ToRenderer & { type: 'write' }): Promise<void> {
    const { ticket, region, level } = message;
    const tiles = takeTiles(message.tiles, message.share, byBand);
    const writers = this.#writersOf(message);
    const context = { ...this.#context, interactive: false };
    const writing = this.#writing(writers, context, { region, level }, ticket, tiles);
    const done = await this.#inSlices(message, writing).finally(() => this.#context.transient.end());
    this.#port.post({ type: 'wrote', ticket, tiles: done ?? 0, done: true });
  }

  #writersOf({ of, covers, forms, held }: ToRenderer & { type: 'write' }): TileWriter[] {
    const kept = held === undefined ? undefined : this.#held.get(held);
    const nodeOf = kept ? nodeOfEither(kept.plan) : this.#nodeOf;
    const space = kept?.space ?? this.#workingSpace;
    const [node, cover] = [nodeOf(of), covers && nodeOf(covers)];
    if (!node || (covers && !cover)) return [];
    return forms.map((form) => (isPicture(of) ? writerOf(node, cover, space, form) : planeWriter(node, form)));
  }

  /** Writes tiles in all forms, telling of every sixteen, and returns how many it has not told of. */
  *#writing(
    writers: readonly TileWriter[],
    context: RenderContext,
    { region, level }: { region: Region; level: number },
    ticket: number,
    tiles: Iterable<TileSpot>,
  ): Generator<undefined, number> {
    let untold = 0;
    for (const { tx, ty } of writers.length > 0 ? tiles : []) {
      yield undefined;
      try {
        for (const write of writers) write({ level, tx, ty }, region, context);
      } finally {
        // Forms are made of the same tiles.
        context.transient.drop();
      }
      if (++untold < 16) continue;
      this.#port.post({ type: 'wrote', ticket, tiles: untold, done: false });
      untold = 0;
    }
    return untold;
  }

  get #nodeOf(): RenderPlan['node'] {
    return nodeOfEither(this.#plan, this.#other);
  }

  get #workingSpace(): WorkingSpace {
    return this.#scene?.workingSpace ?? 'srgb';
  }

  /** What is drawn, in the space of the canvas. */
  #onCanvas(display: DisplayNode | undefined): DisplayNode | undefined {
    if (!display || display.kind === 'grey') return display;
    return { ...display, picture: toSpace(display.picture, this.#workingSpace, this.#canvasSpace) };
  }

  #display({ show, over }: View): DisplayNode | undefined {
    const node = this.#nodeOf(show);
    if (!node) return undefined;
    if (!isPicture(show)) return { kind: 'grey', coverage: node };
    const coverage = over && this.#nodeOf(over.plane);
    if (!over || !coverage) return { kind: 'picture', picture: node };
    const { colour } = over;
    return over.as === 'tint'
      ? { kind: 'overlay', picture: node, coverage, colour, strength: over.strength }
      : { kind: 'contours', picture: node, coverage, colour };
  }
}
