import type { FromAligner, ToAligner } from './alignProtocol.ts';
import type { FromCodec, ToCodec } from './codecProtocol.ts';
import type { ThreadStart } from './kernelModule.ts';

/** Work that a background thread does, one piece after the other. */
export type BackgroundWork = ToCodec | ToAligner;

/** What the engine asks of a background thread. */
export type ToBackground = ({ type: 'start' } & ThreadStart) | BackgroundWork;

/** What a background thread answers. */
export type FromBackground =
  | { type: 'ready'; ticket?: undefined }
  | { type: 'progress'; ticket: number; share: number }
  | FromCodec
  | FromAligner
  | { type: 'failed'; ticket: number; code: string; detail: string };

/** What tells of progress, and of what comes out. */
export interface Answering {
  post: (answer: FromBackground, transfer?: ArrayBuffer[]) => void;
}
