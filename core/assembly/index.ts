/** The kernels that run in WebAssembly, on the shared memory that holds all tiles. Every one has its twin in TypeScript
 * in `core/kernels`, which says what it means. All addresses are multiples of 16; `n` is a multiple of 16
 * and not 0.
 * Inner loops end with their condition: what does not change in one that begins with it V8 works out anew each time round, since the
 * loop might not be run at all; also constants, which cost three instructions each. */
export * from './composite';
export * from './modes';
export * from './coverage';
export * from './paint';
export * from './tone';
export * from './pyramid';
export * from './display';
export * from './blur';
export * from './gaussian';
export * from './enlarge';
export * from './gradient';
export * from './guided';
export * from './transfer';
export * from './warp';
export { copyBytes, copyFloatRows, copyRows, fillFloats, padRows } from './rows';
export { codesOfLight, gainByCodes, gainByDetail, gainByLight, leastOfLight, lightThroughVeil, linearizeFloats, mapLight, mixChannels, scaleFloats } from './lightSteps';
export { gainEncoded, mixMapped } from './encoded';
export * from './exposed';
export * from './labSteps';
export { stopsByMap } from './stopsByMap';
export { fromOklab, lightnessOfLight, toOklab } from './oklab';
export * from './windows';
export * from './least';
export * from './digest';
export * from './membrane';
export * from './means';
