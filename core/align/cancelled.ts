/** Somebody asked to stop. */
export class AlignCancelled extends Error {}
