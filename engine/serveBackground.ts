import { DecodeError } from '#codecs/decodeError.ts';
import { keepLibraries, type Libraries } from '#codecs/libraries.ts';
import { vipsMessage } from '#codecs/vipsModule.ts';
import { createFrameLoader, type FrameLoader } from '#core/render/tiles/loadFrame.ts';
import type { ToAligner } from './alignProtocol.ts';
import type { Answering, BackgroundWork, FromBackground, ToBackground } from './backgroundProtocol.ts';
import { openResources } from './kernelModule.ts';
import type { InnerPort } from './protocol.ts';
import { answerAlignment } from './serveAlignment.ts';
import { answerCodec } from './serveCodec.ts';

/** Serves a background thread's channel: reads files into the pixel memory, writes pictures and places frames, one after the other.
 * @param start - Starts the decoder libraries. */
export function serveBackground(port: InnerPort<ToBackground, FromBackground>, start: Libraries): void {
  const libraries = keepLibraries(start);
  let loader: FrameLoader | undefined;
  let queue: Promise<void> = Promise.resolve();
  port.onMessage((message) => {
    if (message.type === 'start') {
      const { table, kernels, arena } = openResources(message);
      loader = createFrameLoader(table, kernels, arena);
      port.post({ type: 'ready' });
      return;
    }
    queue = queue.then(async () => {
      try {
        await answer(libraries, loader as FrameLoader, port, message);
      } catch (error) {
        // A library that fell over is of no use any more; whatever file it fell over is damaged.
        const fell = error instanceof WebAssembly.RuntimeError;
        if (fell) libraries.forget();
        const isKnown = error instanceof DecodeError;
        const code = isKnown ? error.code : fell ? 'damaged' : 'internal';
        port.post({
          type: 'failed',
          ticket: message.ticket,
          code,
          detail: isKnown ? error.detail : vipsMessage(error),
        });
      }
    });
  });
}

async function answer(libraries: Libraries, loader: FrameLoader, port: Answering, work: BackgroundWork): Promise<void> {
  if (isOfAlignment(work)) answerAlignment(loader, port, work);
  else await answerCodec(libraries, loader, port, work);
}

/** All of them: the compiler misses none. */
const OF_ALIGNMENT: Record<ToAligner['type'], true> = {
  align: true,
  fit: true,
  apart: true,
  distance: true,
  dust: true,
  level: true,
  snap: true,
};
const isOfAlignment = (work: BackgroundWork): work is ToAligner => work.type in OF_ALIGNMENT;
