export type StorageCode = 'refused' | 'newer' | 'no-locks' | 'gone' | 'in-use';

/** Why something could not be stored or read in this browser. */
export class StorageError extends Error {
  readonly code: StorageCode;
  readonly detail: string;
  constructor(code: StorageCode, detail = '') {
    super(`storage ${code}: ${detail}`);
    this.name = 'StorageError';
    this.code = code;
    this.detail = detail;
  }
}
