import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import Koa from 'koa';
import send from 'koa-send';
import { PulledOut, SimulatedCard } from './card.ts';

export interface Folders {
  /** The built application. */
  app: string;
  /** The demo sets, a folder each. */
  demo: string;
  /** How fast the simulated card is read, in bytes a second. */
  cardSpeed?: number;
}

/** A demo set as the application asks for it. */
interface DemoListing {
  name: string;
  title: string;
  files: string[];
}

/** Nothing comes from elsewhere, and no text becomes code; WebAssembly may be compiled. */
const PAGE_POLICY =
  "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; worker-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' blob: data:; connect-src 'self' blob: data:";

/** The picture libraries make their bindings with `new Function`, and their threads from blobs. They run in the workers that read and
 * write files alone, which have no page and no storage of their own; only they, and its own, are served with this policy. */
const DECODER_POLICY =
  "default-src 'self'; script-src 'self' 'unsafe-eval' blob:; worker-src 'self' blob:; connect-src 'self' blob: data:";
const DECODERS = /^\/assets\/(backgroundWorker|vips-es6|libraw)-[\w-]+\.js$/;

/** Serves the application and the demo frames. Isolation headers let the page share memory between its threads. */
export function createApp(folders: Folders): Koa {
  const app = new Koa();
  const card = new SimulatedCard(folders.demo, folders.cardSpeed);
  app.on('error', (error: Error & { code?: string; expose?: boolean }) => {
    // Cards are pulled out, browsers go away and ask for what they may not have: none is the server's fault.
    if (!error.expose && !(error instanceof PulledOut) && error.code !== 'ERR_STREAM_PREMATURE_CLOSE')
      console.error(error);
  });
  app.use(async (ctx, next) => {
    ctx.set({
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Embedder-Policy': 'require-corp',
      'Cross-Origin-Resource-Policy': 'same-origin',
      'X-Content-Type-Options': 'nosniff',
      'Content-Security-Policy': DECODERS.test(ctx.path) ? DECODER_POLICY : PAGE_POLICY,
    });
    await next();
  });
  app.use(async (ctx) => {
    if (card.serve(ctx)) return;
    if (ctx.method !== 'GET' && ctx.method !== 'HEAD') {
      ctx.status = 405;
      return;
    }
    if (ctx.path === '/api/demo') {
      ctx.body = listDemoSets(folders.demo);
      return;
    }
    if (ctx.path.startsWith('/demo/')) {
      await sendIfThere(ctx, ctx.path.slice('/demo/'.length), folders.demo, 3600e3);
      return;
    }
    if (ctx.path.startsWith('/assets/')) {
      await sendIfThere(ctx, ctx.path, folders.app, 365 * 86400e3);
      return;
    }
    // Every other address is a place inside the application.
    const file = ctx.path !== '/' && existsSync(join(folders.app, ctx.path)) ? ctx.path : 'index.html';
    await sendIfThere(ctx, file, folders.app, 0);
  });
  return app;
}

async function sendIfThere(ctx: Koa.Context, path: string, root: string, maxAgeMs: number): Promise<void> {
  try {
    await send(ctx, path, { root, maxage: maxAgeMs });
  } catch (error) {
    if ((error as { status?: number }).status !== 404) throw error;
    ctx.status = 404;
  }
}

function listDemoSets(folder: string): DemoListing[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder, { withFileTypes: true })
    .filter((entry) => entry.isDirectory() && existsSync(join(folder, entry.name, 'truth.json')))
    .map(({ name }) => {
      const { title, frames } = JSON.parse(readFileSync(join(folder, name, 'truth.json'), 'utf8'));
      return { name, title, files: frames.map(({ file }: { file: string }) => `/demo/${name}/${file}`) };
    });
}
