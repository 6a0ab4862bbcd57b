import { closeSync, openSync, readSync, rmSync, statfsSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parentPort, workerData } from 'node:worker_threads';
import { TileSlab } from '#core/raster/tileSlab.ts';
import { keepOverflow, type OverflowFile, openOverflow } from '../overflow.ts';

/** Share of the free disk that may be taken. */
const DISK_SHARE = 0.5;

/** A file that has no name any more, so that nothing is left of it however the process ends. */
function openNameless(): OverflowFile {
  const path = join(tmpdir(), `lusket-${process.pid}-${Date.now()}.overflow`);
  const file = openSync(path, 'wx+');
  process.once('exit', () => closeSync(file));
  rmSync(path);
  const { bavail, bsize } = statfsSync(tmpdir());
  const whole = (done: number, bytes: Uint8Array) => {
    if (done !== bytes.length) throw new Error(`${done} of ${bytes.length} bytes`);
  };
  return {
    room: bavail * bsize * DISK_SHARE,
    write: (at, bytes) => whole(writeSync(file, bytes, 0, bytes.length, at), bytes),
    read: (at, bytes) => whole(readSync(file, bytes, 0, bytes.length, at), bytes),
  };
}

const slab = new TileSlab(workerData as WebAssembly.Memory);
const file = openNameless();
openOverflow(slab, file);
parentPort?.postMessage('ready');
keepOverflow(slab, file);
