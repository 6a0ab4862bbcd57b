/** How the program ends, for scripts that call it. */
export const EXIT = {
  done: 0,
  failed: 1,
  usage: 2,
  /** Files that a scene was made with are not in its scene file, nor where it was told to look. */
  missingFiles: 3,
  /** The scene file is damaged, of a newer version, or no scene file. */
  badScene: 4,
} as const;

/** Why the program ends, in a sentence for the user. */
export class CommandError extends Error {
  readonly status: number;
  constructor(message: string, status: number = EXIT.failed) {
    super(message);
    this.status = status;
  }
}
