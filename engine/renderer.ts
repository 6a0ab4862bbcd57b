import { toneWeights } from '#core/color/workingSpace.ts';
import { StrokeBook } from '#core/masks/strokeBook.ts';
import { StrokeCoverage } from '#core/masks/strokeCoverage.ts';
import { keyText } from '#core/raster/tileKey.ts';
import { TileSlab } from '#core/raster/tileSlab.ts';
import { TileTable } from '#core/raster/tileTable.ts';
import { type DisplayNode, displayKey, drawTile } from '#core/render/display.ts';
import { compilePlan, type RenderPlan } from '#core/render/plan.ts';
import { histogramOf, sampleAt, writeTile } from '#core/render/readings.ts';
import { ScratchPlanes, type Studio, type TileNode } from '#core/render/studio.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { DrawnTile, FromRenderer, Port, ProbeReading, Ticket, ToRenderer, View } from './protocol.ts';

/** Tiles are sent when this many milliseconds have gone by since the last were: early pictures, few messages. */
const BATCH_MS = 8;

/** Serves a render thread's channel until it is closed. */
export function serveRenderer(port: Port<ToRenderer, FromRenderer>): void {
  let renderer: Renderer | undefined;
  port.onMessage((message) => {
    if (message.type === 'start') {
      renderer = new Renderer(message.memory, port);
      port.post({ type: 'ready' });
    } else {
      renderer?.take(message);
    }
  });
}

/** Makes pixels of the scene it was last told, in one thread. */
class Renderer {
  readonly #port: Port<ToRenderer, FromRenderer>;
  readonly #table: TileTable;
  readonly #book = new StrokeBook();
  readonly #coverage = new StrokeCoverage(this.#book);
  readonly #scratch = new ScratchPlanes();
  #scene: Scene | undefined;
  #plan: RenderPlan | undefined;

  constructor(memory: WebAssembly.Memory, port: Port<ToRenderer, FromRenderer>) {
    this.#table = new TileTable(new TileSlab(memory));
    this.#port = port;
  }

  take(message: Exclude<ToRenderer, { type: 'start' }>): void {
    if (message.type === 'scene') {
      this.#scene = message.scene;
      this.#plan = compilePlan(message.scene);
      return;
    }
    if (message.type === 'stroke') {
      this.#book.append(message.id, message.points);
      return;
    }
    try {
      this.#answer(message);
    } catch (error) {
      const code = (error as { code?: string }).code ?? 'internal';
      this.#port.post({
        type: 'failed',
        ticket: message.ticket,
        code,
        detail: String((error as Error).message),
        done: true,
      });
    }
  }

  #answer(message: Exclude<ToRenderer, { type: 'start' | 'scene' | 'stroke' }>): void {
    switch (message.type) {
      case 'draw':
        this.#draw(message);
        break;
      case 'histogram':
        this.#port.post({
          type: 'histogram',
          ticket: message.ticket,
          histogram: this.#histogram(message),
          done: true,
        });
        break;
      case 'probe':
        this.#port.post({ type: 'probed', ticket: message.ticket, reading: this.#probe(message), done: true });
        break;
      case 'write':
        this.#write(message);
        break;
    }
  }

  get #studio(): Studio {
    const size = this.#plan?.size ?? { width: 0, height: 0 };
    return { table: this.#table, size, book: this.#book, coverage: this.#coverage, scratch: this.#scratch };
  }

  #isStale({ lane, current }: Ticket): boolean {
    return this.#table.slab.lane(lane) !== current;
  }

  #draw(message: ToRenderer & { type: 'draw' }): void {
    const { ticket, level, tiles } = message;
    const display = this.#display(message.view);
    let batch: DrawnTile[] = [];
    let sentAt = performance.now();
    const send = (done: boolean) => {
      this.#port.post(
        { type: 'drawn', ticket, tiles: batch, done },
        batch.flatMap(({ rgba }) => (rgba ? [rgba.buffer] : [])),
      );
      batch = [];
      sentAt = performance.now();
    };
    for (const { tx, ty, known } of display ? tiles : []) {
      if (this.#isStale(message)) break;
      const spot = { level, tx, ty };
      const key = keyText(displayKey(display as DisplayNode, spot, this.#studio));
      batch.push(
        key === known ? { tx, ty, key } : { tx, ty, key, rgba: drawTile(display as DisplayNode, spot, this.#studio) },
      );
      if (performance.now() - sentAt > BATCH_MS) send(false);
    }
    send(true);
  }

  #histogram(message: ToRenderer & { type: 'histogram' }) {
    const node = this.#displayed(message.view);
    if (!node || !this.#scene) return undefined;
    return histogramOf(node, message.level, toneWeights(this.#scene.workingSpace), this.#studio, () =>
      this.#isStale(message),
    );
  }

  #probe({ x, y, layerId }: ToRenderer & { type: 'probe' }): ProbeReading {
    const plan = this.#plan;
    if (!plan || !this.#scene) throw new RangeError('There is nothing to probe');
    const one = (node: TileNode | undefined) => (node ? sampleAt(node, x, y, this.#studio)[0] : null);
    return {
      x,
      y,
      frames: this.#scene.frames.map(({ id }) => ({ frameId: id, rgb: sampleAt(plan.frame(id), x, y, this.#studio) })),
      mask: one(layerId === null ? undefined : plan.mask(layerId)),
      stencil: one(layerId === null ? undefined : plan.stencil(layerId)),
      result: sampleAt(plan.result, x, y, this.#studio),
    };
  }

  #write(message: ToRenderer & { type: 'write' }): void {
    const image = new Uint16Array(message.image);
    let written = 0;
    for (const { tx, ty } of this.#plan ? message.tiles : []) {
      if (this.#isStale(message)) break;
      writeTile((this.#plan as RenderPlan).result, tx, ty, image, this.#studio);
      if (++written === 16) {
        this.#port.post({ type: 'wrote', ticket: message.ticket, tiles: written, done: false });
        written = 0;
      }
    }
    this.#port.post({ type: 'wrote', ticket: message.ticket, tiles: written, done: true });
  }

  /** The node whose values a view shows. */
  #displayed(view: View): TileNode | undefined {
    const display = this.#display(view);
    return display?.kind === 'grey' ? display.coverage : display?.picture;
  }

  #display(view: View): DisplayNode | undefined {
    const plan = this.#plan;
    if (!plan) return undefined;
    if (view.kind === 'picture') return { kind: 'picture', picture: plan.result };
    if (view.kind === 'frame') return { kind: 'picture', picture: plan.frame(view.frameId) };
    if (view.kind === 'tones') {
      const picture = plan.toneSource(view.layerId, view.source);
      return picture && { kind: 'picture', picture };
    }
    const coverage = view.of === 'mask' ? plan.mask(view.layerId) : plan.stencil(view.layerId);
    if (!coverage) return undefined;
    return view.kind === 'grey' ? { kind: 'grey', coverage } : { ...view, picture: plan.result, coverage };
  }
}
