import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);

// biome-ignore lint/suspicious/noExplicitAny: the package's types say nothing of how it is started
export type OpenCv = any;

/** Starts OpenCV. It comes wrapped: it looks like a promise, and one that never ends when it is awaited. */
export async function startOpenCv(): Promise<{ cv: OpenCv }> {
  const cv: OpenCv = require('@techstark/opencv-js');
  if (!cv.Mat) await new Promise<void>((resolve) => Object.assign(cv, { onRuntimeInitialized: resolve }));
  return { cv };
}
