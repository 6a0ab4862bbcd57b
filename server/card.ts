import { createReadStream, existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { extname, join } from 'node:path';
import { Readable } from 'node:stream';
import type Koa from 'koa';

/** A file on the card. */
interface CardFile {
  name: string;
  bytes: number;
  /** Where it really lies. */
  path: string;
}

interface CardFolder {
  name: string;
  title: string;
  files: CardFile[];
}

/** What ends a file that is being read when the card is pulled out. */
export class PulledOut extends Error {}

/** How fast the card is read, in bytes a second: what a card reader of the ordinary kind manages. Common practice, no source. */
export const CARD_SPEED = 60e6;
const CHUNK = 64 * 1024;

/** A stand-in for a camera's memory card: the demo sets in folders as cameras lay them out (DCF 2.0, CIPA DC-009, section 3),
 * read no faster than a card is, and pulled out when told to. */
export class SimulatedCard {
  readonly #demo: string;
  readonly #speed: number;
  readonly #streams = new Set<Readable>();
  #inserted = true;

  constructor(demo: string, speed = CARD_SPEED) {
    this.#demo = demo;
    this.#speed = speed;
  }

  /** Answers what has to do with the card.
   * @returns Whether the request had. */
  serve(ctx: Koa.Context): boolean {
    if (ctx.path === '/api/card') this.#list(ctx);
    else if (ctx.path === '/api/card/pull' || ctx.path === '/api/card/insert') this.#switch(ctx);
    else if (ctx.path.startsWith('/card/')) this.#send(ctx);
    else return false;
    return true;
  }

  #list(ctx: Koa.Context): void {
    const folders = this.#inserted ? this.#folders() : [];
    ctx.body = {
      inserted: this.#inserted,
      folders: folders.map(({ name, title, files }) => ({
        name,
        title,
        files: files.map((file) => ({ name: file.name, bytes: file.bytes })),
      })),
    };
  }

  /** Pulls the card out, in the middle of whatever is being read, or puts it back. */
  #switch(ctx: Koa.Context): void {
    if (ctx.method !== 'POST') {
      ctx.status = 405;
      return;
    }
    this.#inserted = ctx.path.endsWith('insert');
    if (!this.#inserted) for (const stream of this.#streams) stream.destroy(new PulledOut());
    ctx.body = { inserted: this.#inserted };
  }

  #send(ctx: Koa.Context): void {
    const [, , folder, name] = ctx.path.split('/');
    const file = this.#folders()
      .find((each) => each.name === folder)
      ?.files.find((each) => each.name === name);
    if (!this.#inserted) ctx.status = 410;
    else if (!file) ctx.status = 404;
    else {
      ctx.length = file.bytes;
      ctx.type = extname(file.name);
      ctx.set('Cache-Control', 'no-store');
      ctx.body = this.#stream(file.path);
    }
  }

  #stream(path: string): Readable {
    const stream = Readable.from(slowly(path, this.#speed));
    this.#streams.add(stream);
    stream.once('close', () => this.#streams.delete(stream));
    return stream;
  }

  #folders(): CardFolder[] {
    if (!existsSync(this.#demo)) return [];
    const sets = readdirSync(this.#demo, { withFileTypes: true })
      .filter((entry) => entry.isDirectory() && existsSync(join(this.#demo, entry.name, 'truth.json')))
      .map(({ name }) => name)
      .sort();
    let number = 0;
    return sets.map((set, index) => {
      const { title, frames } = JSON.parse(readFileSync(join(this.#demo, set, 'truth.json'), 'utf8'));
      const files = frames.map(({ file }: { file: string }): CardFile => {
        number++;
        const path = join(this.#demo, set, file);
        return {
          name: `LSKT${String(number).padStart(4, '0')}${extname(file).toUpperCase()}`,
          bytes: statSync(path).size,
          path,
        };
      });
      return { name: `${100 + index}${set.slice(0, 5).toUpperCase().padEnd(5, '_')}`, title, files };
    });
  }
}

/** A file's bytes, no faster than a speed. */
async function* slowly(path: string, bytesPerSecond: number): AsyncGenerator<Buffer> {
  const since = Date.now();
  let sent = 0;
  for await (const chunk of createReadStream(path, { highWaterMark: CHUNK })) {
    sent += chunk.length;
    const early = (sent / bytesPerSecond) * 1000 - (Date.now() - since);
    if (early > 4) await new Promise((resolve) => setTimeout(resolve, early));
    yield chunk;
  }
}
