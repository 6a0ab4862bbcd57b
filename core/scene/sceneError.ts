type SceneCode = 'newer' | 'not-yet' | 'invalid' | 'too-deep' | 'too-much' | 'too-large';

/** Why a document is not a scene that can be opened. `newer` documents come from a later program. */
export class SceneError extends Error {
  readonly code: SceneCode;
  readonly detail: string;
  constructor(code: SceneCode, detail: string) {
    super(`Scene ${code}: ${detail}`);
    this.name = 'SceneError';
    this.code = code;
    this.detail = detail;
  }
}
