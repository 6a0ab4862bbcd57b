/** Why a file did not become a frame. */
export type DecodeCode =
  | 'empty'
  | 'unknown-format'
  | 'damaged'
  | 'unsupported'
  | 'too-large'
  | 'size-differs'
  | 'memory-full'
  | 'stuck'
  | 'thread-failed'
  | 'cancelled';

export class DecodeError extends Error {
  readonly code: DecodeCode;
  readonly detail: string;
  constructor(code: DecodeCode, detail: string) {
    super(`${code}: ${detail}`);
    this.name = 'DecodeError';
    this.code = code;
    this.detail = detail;
  }
}
