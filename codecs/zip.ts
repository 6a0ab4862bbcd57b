import { configure } from '@zip.js/zip.js';

/** ZIP files are large here: few long steps rather than many short ones. */
configure({ useWebWorkers: false, chunkSize: 2 ** 21 });

export * from '@zip.js/zip.js';
