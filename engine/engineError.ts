/** A request failed in a thread of the engine; `code` as the core names it. */
export class EngineError extends Error {
  readonly code: string;
  constructor(code: string, detail: string) {
    super(detail);
    this.name = 'EngineError';
    this.code = code;
  }
}
