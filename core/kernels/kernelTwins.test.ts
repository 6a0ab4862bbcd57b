import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { openPixels, testKernels } from '../../tests/smallScene.ts';
import type { Arena } from '../raster/arena.ts';
import { TileSlab } from '../raster/tileSlab.ts';
import type { SharedPlane } from './defineKernel.ts';
import { KERNELS, type Kernels, simdKernels, twinKernels } from './kernels.ts';
import { type Exercise, exercises, exert } from './warmUp.ts';

const { memory } = openPixels(2 ** 20);
const { exports } = new WebAssembly.Instance(testKernels, { env: { memory } });
const slab = new TileSlab(memory);

const isPlane = (value: unknown): value is SharedPlane => ArrayBuffer.isView(value);

/** Arguments with planes of their own. */
function copyOf<T>(value: T): T {
  if (isPlane(value)) return value.slice() as T;
  if (Array.isArray(value)) return value.map(copyOf) as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, copyOf(each)])) as T;
}

/** All planes in arguments, in their order, but for those that a kernel keeps what is in between in. */
function planesOf(value: unknown): SharedPlane[] {
  if (isPlane(value)) return [value];
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, each]) => (key === 'spare' ? [] : planesOf(each)));
}

/** Planes that a kernel leaves in an undefined state: what it keeps in between. */
const LEFT: Partial<Record<keyof Kernels, readonly number[]>> = {
  blurPlane: [1],
  fitGuided: [0, 1],
  solveMembranes: [2],
  weighAround: [2],
};

function apart(a: SharedPlane, b: SharedPlane): number {
  let worst = 0;
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs(a[i] - b[i]));
  return worst;
}

/** A thread's kernels and arguments for them, in an arena of its own. */
function openOn(arena: Arena, seed: string): { simd: Kernels; list: Exercise[] } {
  arena.clear();
  return { simd: simdKernels(exports as never, arena), list: exercises(arena, alea(seed)) };
}

describe('every kernel', () => {
  it.each(['a', 'b', 'c'])('gives what its twin gives, and changes nothing else: %s', (seed) => {
    const { simd, list } = openOn(slab.arena(0), seed);
    for (const exercise of list) {
      const { kernel, name } = exercise;
      const { steps, floats } = KERNELS[kernel].within;
      const plain = { ...exercise, args: copyOf(exercise.args) };
      const [own, twin] = [exert(simd, exercise), exert(twinKernels, plain)];
      expect(own, name).toBe(twin);
      const planes = planesOf(plain.args);
      for (const [at, plane] of planesOf(exercise.args).entries()) {
        if (LEFT[kernel]?.includes(at)) continue;
        const most = plane instanceof Float32Array || plane instanceof Float64Array ? floats : steps;
        expect(apart(plane, planes[at]), `${name}, plane ${at}`).toBeLessThanOrEqual(most);
      }
    }
  });

  it('comes without data of its own, which would overwrite what lies in the shared memory', () => {
    const own = new WebAssembly.Memory({ initial: 512, maximum: 65536, shared: true });
    const bytes = new Uint8Array(own.buffer).fill(0xa5);
    new WebAssembly.Instance(testKernels, { env: { memory: own } });
    expect(bytes.every((byte) => byte === 0xa5)).toBe(true);
  });

  it('calls functions that are compiled, and none that another calls', () => {
    const called = Object.values(KERNELS).flatMap(({ compiled }) => compiled as readonly string[]);
    expect(new Set(called).size).toBe(called.length);
    for (const name of called) expect(typeof exports[name], name).toBe('function');
  });
});
