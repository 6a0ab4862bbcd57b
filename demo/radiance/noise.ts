import alea from 'alea';
import { createNoise2D } from 'simplex-noise';

export type Noise = (x: number, y: number) => number;

/** Smooth noise -1..1 that depends on the seed alone. */
export function noiseOf(seed: string): Noise {
  return createNoise2D(alea(seed));
}

/** Random numbers 0..1 that depend on the seed alone. */
export function randomOf(seed: string): () => number {
  return alea(seed);
}

/** Octaves of noise, each half as large and a little over twice as fine, about -1..1. */
export function fbm(noise: Noise, x: number, y: number, octaves: number): number {
  let sum = 0;
  let amplitude = 0.5;
  let px = x;
  let py = y;
  for (let octave = 0; octave < octaves; octave++) {
    sum += amplitude * noise(px, py);
    amplitude *= 0.5;
    // Turning each octave keeps the lattice from showing.
    const turned = px * 1.68 - py * 1.18;
    py = px * 1.18 + py * 1.68 + 17.3;
    px = turned + 5.1;
  }
  return sum;
}

/** Octaves of sharp crests, 0..1: mountains rather than clouds. */
export function crests(noise: Noise, x: number, y: number, octaves: number): number {
  let sum = 0;
  let amplitude = 0.5;
  let weight = 1;
  let px = x;
  let py = y;
  for (let octave = 0; octave < octaves; octave++) {
    const crest = (1 - Math.abs(noise(px, py))) ** 2 * weight;
    sum += amplitude * crest;
    weight = Math.min(1, Math.max(0.15, crest * 1.6));
    amplitude *= 0.5;
    const turned = px * 1.72 - py * 1.1;
    py = px * 1.1 + py * 1.72 + 9.7;
    px = turned + 3.3;
  }
  return sum;
}

export function smoothstep(from: number, to: number, value: number): number {
  const t = Math.min(1, Math.max(0, (value - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

export function lerp(a: number, b: number, t: number): number {
  return a + (b - a) * t;
}
