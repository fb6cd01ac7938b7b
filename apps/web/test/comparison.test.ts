import { makeMask } from '@lithe-sieve/core';
import { describe, expect, test } from '@jest/globals';
import { differing, keptFrom } from '../src/actions/comparison';

describe('A and B', () => {
  const mask = makeMask(4, 2, Uint8Array.of(0, 10, 128, 200, 255, 127, 129, 60));

  test('differ in the texels between their two thresholds, whichever comes first', () => {
    const expected = Int32Array.of(2, 3, 6);
    expect(differing(mask, 128, 255)).toEqual(expected);
    expect(differing(mask, 255, 128)).toEqual(expected);
    expect(differing(mask, 128, 128).length).toBe(0);
  });

  test('an opaque clip shows all, a blended one all that has any alpha', () => {
    const clip = { cutoff: 0.5, opacity: 1 };
    expect(keptFrom({ ...clip, mode: 'mask' })).toBe(128);
    expect(differing(mask, keptFrom({ ...clip, mode: 'opaque' }), keptFrom({ ...clip, mode: 'mask' })).length).toBe(4);
    expect(differing(mask, keptFrom({ ...clip, mode: 'opaque' }), keptFrom({ ...clip, mode: 'blend' })).length).toBe(1);
  });
});
