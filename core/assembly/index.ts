/** The kernels that run in WebAssembly, on the shared memory that holds all tiles. Every one has its twin in TypeScript
 * in `core/kernels`, which says what it means. All addresses are multiples of 16; `n` is a multiple of 16
 * and not 0.
 * Inner loops end with their condition: what does not change in one that begins with it V8 works out anew each time round, since the
 * loop might not be run at all; also constants, which cost three instructions each. */
export { composite } from './composite';
export { findCore, invert, join, joinFromSamples, joinSamples, maxInto, narrow, uniform, widen, widenRows } from './coverage';
export { layDab, paintOver } from './paint';
export { lookUp, luminance } from './tone';
export { halve, halvePlane, interleave, spread16, spread8 } from './pyramid';
export { countLevels, drawGrey, drawRgba, tint } from './display';
export { boxColumns, boxRows, tapColumns, tapRows } from './blur';
export { enlarge, joinEnlarged, paintEnlarged } from './enlarge';
export { gradient } from './gradient';
export { applyLine, fitLine, fitNarrow, meanColumns, meanRows, multiply } from './guided';
export { encodeLinear, linearize } from './transfer';
export { warp } from './warp';
