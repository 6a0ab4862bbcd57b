import { describe, expect, it } from 'vitest';
import { DecodeError } from '#codecs/decodeError.ts';
import { SceneFileError } from '#codecs/sceneFile.ts';
import type { Repairs } from '#core/scene/repairs.ts';
import { SceneError } from '#core/scene/sceneError.ts';
import { EngineError } from '#engine/engineError.ts';
import { SHORTCUTS } from './shortcuts.ts';
import { StorageError } from './storage/storageError.ts';
import { heightsOf } from './ui/histogramShape.ts';
import { detailsOf, sayBytes, sayError, sayEv, sayExposureTime, sayRepairs } from './wording.ts';

describe('wording', () => {
  it.each([
    [1 / 64, '1/64 s'],
    [0.25, '1/4 s'],
    [0.5, '0.5 s'],
    [4, '4 s'],
  ])('writes %f seconds as %s', (seconds, text) => {
    expect(sayExposureTime(seconds)).toBe(text);
  });

  it.each([
    [2, '+2'],
    [-4, '−4'],
    [0.04, '0'],
    [1.333, '+1.3'],
  ])('writes %f stops as %s', (ev, text) => {
    expect(sayEv(ev)).toBe(text);
  });

  it('writes sizes', () => {
    expect([12, 500_000, 2_345_678].map(sayBytes)).toEqual(['1 KB', '500 KB', '2.3 MB']);
  });

  it('says of every failure what to do', () => {
    const codes = [
      'empty',
      'unknown-format',
      'damaged',
      'unsupported',
      'too-large',
      'size-differs',
      'memory-full',
      'cancelled',
    ] as const;
    const texts = codes.map((code) => sayError(new DecodeError(code, 'detail')));
    expect(new Set(texts).size).toBe(codes.length);
    for (const text of texts) expect(text).not.toMatch(/unexpected|undefined/);
    expect(sayError(new SceneError('newer', 'version 9'))).toMatch(/Update/);
    expect(sayError(new SceneFileError('damaged', 'x'))).toMatch(/another copy/);
    expect(sayError(new DOMException('full', 'QuotaExceededError'))).toMatch(/Save the scene file/);
    expect(sayError(new DecodeError('memory-full', '1.9 of 0.3 of 4.0'))).toMatch(
      /needs 1.9 GB, .* 4.0 GB .* 0.3 GB are free/,
    );
    for (const text of texts) expect(text).not.toMatch(/detail\b.*detail/);
    // What only a report needs is not in the sentence.
    const odd = new Error('tile 4, 3 of level 1');
    expect(sayError(odd)).toMatch(/Reload/);
    expect(sayError(odd)).not.toMatch(/tile/);
    expect(detailsOf(odd)).toBe('Error · tile 4, 3 of level 1');
    expect(sayError(new SceneError('invalid', 'stack.0.mask: Invalid input'))).not.toMatch(/Invalid input/);
    expect(sayError(new EngineError('frame-missing', 'a.tif, level 1, tile 4, 3'))).not.toMatch(/level/);
    for (const code of ['refused', 'newer', 'no-locks', 'gone', 'in-use'] as const)
      expect(sayError(new StorageError(code))).not.toMatch(/unexpected/);
  });

  it('says what was mended in one sentence', () => {
    const repairs: Repairs = new Map([
      ['layer-without-frame', 2],
      ['stroke-cut', 1],
    ]);
    expect(sayRepairs(repairs)).toBe(
      'The scene had faults, which were repaired: 2 layers of frames that it does not have were left out; a stroke went on without end and was cut short.',
    );
  });
});

describe('shortcuts', () => {
  it('use every key once', () => {
    expect(new Set(SHORTCUTS.map(({ keys }) => keys)).size).toBe(SHORTCUTS.length);
    expect(new Set(SHORTCUTS.map(({ action }) => action)).size).toBe(SHORTCUTS.length);
  });
});

describe('the shape of a histogram', () => {
  it('shows rare levels beside a full end', () => {
    const counts = new Uint32Array(256).fill(100);
    counts[255] = 1_000_000;
    counts[3] = 25;
    const heights = heightsOf(counts);
    expect(heights[255]).toBe(1);
    expect(heights[100]).toBe(1);
    expect(heights[3]).toBeCloseTo(0.5, 6);
    expect(heightsOf(undefined)).toEqual(Array.from({ length: 256 }, () => 0));
  });
});
