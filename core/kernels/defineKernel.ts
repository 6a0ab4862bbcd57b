import type { KernelRoom } from './kernelRoom.ts';
import type { SampleMaker } from './sampleMaker.ts';

/** Planes that lie in the shared memory. */
export type SharedPlane =
  | Int16Array
  | Float32Array
  | Float64Array
  | Uint16Array
  | Uint32Array
  | Uint8ClampedArray
  | Uint8Array;

/** What a call of a compiled kernel is made with. */
export interface KernelTools<Name extends string> {
  /** The compiled functions; addresses in bytes. */
  wasm: Readonly<Record<Name, (...numbers: number[]) => number>>;
  room: KernelRoom;
}

/** All that a kernel is: a function over samples, what it means, and how its compiled form is called. */
export interface Kernel<Args extends unknown[], Result> {
  /** The function in TypeScript: it says what is meant, and the compiled one is held to it. */
  readonly twin: (...args: Args) => Result;
  /** Functions of `core/assembly` that it calls. */
  readonly compiled: readonly string[];
  /** The same function, computed by the compiled ones. */
  readonly bind: (tools: KernelTools<string>) => (...args: Args) => Result;
  /** Typical arguments, by what is measured with them: for warming up, timing and the property test. */
  readonly samples: Readonly<Record<string, (make: SampleMaker) => Args>>;
  /** How far the two may differ: in steps of integers, and in floats. */
  readonly within: { readonly steps: number; readonly floats: number };
}

/** Defines a kernel by its twin; binding, warming, timing and its property test follow from this one description. */
export const defineKernel =
  <Args extends unknown[], Result>(twin: (...args: Args) => Result) =>
  <Name extends string>(description: {
    compiled: readonly Name[];
    bind: (tools: KernelTools<Name>) => (...args: Args) => Result;
    samples: Record<string, (make: SampleMaker) => Args>;
    steps?: number;
    floats?: number;
  }): Kernel<Args, Result> => {
    const { steps = 0, floats = 1e-6, ...rest } = description;
    return { twin, ...rest, within: { steps, floats } };
  };

/** Where a plane lies. Kernels are called so often that asking for its buffer would cost as much as a short one does.
 * @throws {RangeError} when it begins a buffer of its own, and so is not in shared memory, where alone the kernels can reach it. */
export function address(plane: Float32Array | Uint16Array): number {
  const at = plane.byteOffset;
  if (at === 0) throw new RangeError(ELSEWHERE);
  return at;
}

/** The same for other planes: what V8 has seen of four kinds only, it calls without a search. */
export function addressOf(plane: Exclude<SharedPlane, Float32Array | Uint16Array>): number {
  const at = plane.byteOffset;
  if (at === 0) throw new RangeError(ELSEWHERE);
  return at;
}

/** The shared memory begins with the header of its slab. */
const ELSEWHERE = 'The plane does not lie in shared memory';

/** A plane, or one value for all: the plane's address or 0, and the value. */
export const planeOrValue = (plane: Uint16Array | number): [address: number, value: number] =>
  typeof plane === 'number' ? [0, plane] : [address(plane), 0];
