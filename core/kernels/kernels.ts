import type { Arena } from '../raster/arena.ts';
import { blendOverKernel } from './blendOver.ts';
import { blurPlaneKernel } from './boxBlur.ts';
import { addChannelsKernel, brightnessOfKernel, differenceOfKernel } from './channels.ts';
import { compositeKernel, mixFloatsKernel } from './composite.ts';
import { narrowKernel, uniformValueKernel, widenKernel, widenRowsKernel } from './convert.ts';
import { copyPlaneKernel, fillFloatsKernel } from './copyPlane.ts';
import { copyFloatRowsKernel, copyRowsKernel } from './copyRows.ts';
import { findCoreKernel } from './coreFill.ts';
import { layDabKernel } from './dab.ts';
import type { Kernel } from './defineKernel.ts';
import { digestBlocksKernel } from './digestBlocks.ts';
import { drawGreyKernel, drawRgbaKernel, tintKernel } from './drawRgba.ts';
import { gainEncodedKernel, mixMappedKernel } from './encodedSteps.ts';
import { enlargeKernel } from './enlarge.ts';
import { exposeByMapKernel } from './exposed.ts';
import { gainByCodesKernel, gainByDetailKernel } from './gainByCodes.ts';
import { weighAroundKernel } from './gaussian.ts';
import { fillGradientKernel } from './gradient.ts';
import { applyGuidedKernel, fitGuidedKernel, windowMeanKernel } from './guidedFilter.ts';
import { halveTileKernel, shrinkRowsKernel } from './halve.ts';
import { countLevelsKernel } from './histogram.ts';
import { interleaveCoveredKernel, interleaveKernel } from './interleave.ts';
import {
  invertKernel,
  joinCoverageKernel,
  joinFromSamplesKernel,
  joinSamplesKernel,
  maxIntoKernel,
} from './joinCoverage.ts';
import { KernelRoom } from './kernelRoom.ts';
import { changeHuesKernel, saturateKernel, tintByLightnessKernel } from './labSteps.ts';
import { leastAroundKernel } from './leastAround.ts';
import {
  codesOfLightKernel,
  gainByLightKernel,
  leastOfLightKernel,
  lightThroughVeilKernel,
  linearizeFloatsKernel,
  mapLightKernel,
  mixChannelsKernel,
  scaleFloatsKernel,
} from './lightSteps.ts';
import { lookUpKernel } from './lookUp.ts';
import { linearLuminanceKernel, luminanceKernel } from './luminance.ts';
import { meanOverKernel } from './meanOver.ts';
import { solveMembranesKernel } from './membrane.ts';
import { fromOklabKernel, lightnessOfLightKernel, toOklabKernel } from './oklabPlanes.ts';
import { padRowsKernel } from './padRows.ts';
import { joinEnlargedKernel, paintEnlargedKernel } from './paintEnlarged.ts';
import { paintOverKernel } from './paintOver.ts';
import { spreadRowsKernel } from './spreadRows.ts';
import { stopsByMapKernel } from './stopsByMap.ts';
import { encodeLinearKernel, linearizeKernel } from './transferCurve.ts';
import { warpBentKernel } from './warpBent.ts';
import { warpTileKernel } from './warpTile.ts';
import {
  awayFromKernel,
  baseLinesKernel,
  changeByLinesKernel,
  codesByLinesKernel,
  quietLinesKernel,
  squaresKernel,
} from './windowLines.ts';

/** Every kernel by name. All planes lie in the shared memory and hold a multiple of 16 samples. */
export const KERNELS = {
  composite: compositeKernel,
  mixFloats: mixFloatsKernel,
  blendOver: blendOverKernel,
  widen: widenKernel,
  widenRows: widenRowsKernel,
  narrow: narrowKernel,
  uniformValue: uniformValueKernel,
  joinCoverage: joinCoverageKernel,
  joinFromSamples: joinFromSamplesKernel,
  joinSamples: joinSamplesKernel,
  findCore: findCoreKernel,
  invert: invertKernel,
  maxInto: maxIntoKernel,
  layDab: layDabKernel,
  paintOver: paintOverKernel,
  paintEnlarged: paintEnlargedKernel,
  joinEnlarged: joinEnlargedKernel,
  luminance: luminanceKernel,
  linearLuminance: linearLuminanceKernel,
  lookUp: lookUpKernel,
  halveTile: halveTileKernel,
  meanOver: meanOverKernel,
  shrinkRows: shrinkRowsKernel,
  spreadRows: spreadRowsKernel,
  interleave: interleaveKernel,
  interleaveCovered: interleaveCoveredKernel,
  drawRgba: drawRgbaKernel,
  drawGrey: drawGreyKernel,
  tint: tintKernel,
  countLevels: countLevelsKernel,
  blurPlane: blurPlaneKernel,
  weighAround: weighAroundKernel,
  enlarge: enlargeKernel,
  fillGradient: fillGradientKernel,
  fitGuided: fitGuidedKernel,
  applyGuided: applyGuidedKernel,
  windowMean: windowMeanKernel,
  linearize: linearizeKernel,
  encodeLinear: encodeLinearKernel,
  copyPlane: copyPlaneKernel,
  fillFloats: fillFloatsKernel,
  copyRows: copyRowsKernel,
  copyFloatRows: copyFloatRowsKernel,
  padRows: padRowsKernel,
  warpTile: warpTileKernel,
  warpBent: warpBentKernel,
  toOklab: toOklabKernel,
  fromOklab: fromOklabKernel,
  lightnessOfLight: lightnessOfLightKernel,
  leastAround: leastAroundKernel,
  mixChannels: mixChannelsKernel,
  scaleFloats: scaleFloatsKernel,
  mapLight: mapLightKernel,
  gainByLight: gainByLightKernel,
  codesOfLight: codesOfLightKernel,
  leastOfLight: leastOfLightKernel,
  lightThroughVeil: lightThroughVeilKernel,
  linearizeFloats: linearizeFloatsKernel,
  gainByCodes: gainByCodesKernel,
  gainByDetail: gainByDetailKernel,
  gainEncoded: gainEncodedKernel,
  mixMapped: mixMappedKernel,
  changeHues: changeHuesKernel,
  saturate: saturateKernel,
  tintByLightness: tintByLightnessKernel,
  stopsByMap: stopsByMapKernel,
  exposeByMap: exposeByMapKernel,
  squares: squaresKernel,
  baseLines: baseLinesKernel,
  quietLines: quietLinesKernel,
  changeByLines: changeByLinesKernel,
  codesByLines: codesByLinesKernel,
  awayFrom: awayFromKernel,
  brightnessOf: brightnessOfKernel,
  differenceOf: differenceOfKernel,
  addChannels: addChannelsKernel,
  digestBlocks: digestBlocksKernel,
  solveMembranes: solveMembranesKernel,
};

/** All that is computed sample by sample. There are two of each: SIMD in WebAssembly, which works, and a twin in
 * TypeScript, which says what is meant. */
export type Kernels = { readonly [K in keyof typeof KERNELS]: (typeof KERNELS)[K]['twin'] };

type AnyKernel = Kernel<never[], unknown>;

const mapKernels = (functionOf: (kernel: AnyKernel) => unknown): Kernels =>
  Object.fromEntries(
    Object.entries(KERNELS).map(([name, kernel]) => [name, functionOf(kernel as unknown as AnyKernel)]),
  ) as never;

/** The twins in TypeScript: the reference that the SIMD kernels are held to. */
export const twinKernels: Kernels = mapKernels(({ twin }) => twin);

/** What the compiled module of `core/assembly` exports. */
export type KernelExports = Readonly<Record<string, (...numbers: number[]) => number>>;

/** The SIMD kernels of an instance that works on the shared memory.
 * @param arena - Of this thread; a little of it holds what kernels are told. */
export function simdKernels(wasm: KernelExports, arena: Arena): Kernels {
  const room = new KernelRoom(arena);
  return mapKernels(({ bind }) => bind({ wasm, room }));
}
