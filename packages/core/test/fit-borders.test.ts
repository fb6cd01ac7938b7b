import { describe, expect, test } from '@jest/globals';
import {
  evaluateRun,
  makeMask,
  makePicture,
  makeStep,
  resampleMap,
  type Mask,
  type MipFilter,
  type StepEntry,
  type StepKindName,
  type StepParams,
} from '../src/testing.ts';
import { after, env, noiseMask, stateOf } from './helpers/pictures.ts';

const host = env();
const full = (side: number) => makeMask(side, side, new Uint8Array(side * side).fill(255));
function stepped<K extends StepKindName>(mask: Mask, kind: K, params: Partial<StepParams[K]>): Mask {
  const colour = makePicture(mask.width, mask.height, new Uint8Array(4 * mask.data.length).fill(255));
  return after(kind, stateOf(colour, mask), params).mask;
}
const FILTERS: MipFilter[] = ['box', 'triangle', 'Kaiser', 'Lanczos'];

describe('borders, as others resample', () => {
  test.each(FILTERS)('%s: a full mask stays full at every size', (filter) => {
    for (const factor of [0.37, 0.5, 1.7, 2, 3.3]) {
      const { data } = stepped(full(64), 'resize', { factor, filter });
      expect([factor, Math.min(...data)]).toEqual([factor, 255]);
    }
  });

  test('turned, a full mask is full within the picture, and covers what a drawn square covers', () => {
    for (const filter of FILTERS) {
      const mask = stepped(full(64), 'place', { angle: 30, size: 0.5, filter });
      const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
      let area = 0;
      for (let i = 0; i < 64 * 64; i++) {
        const [x, y] = [(i % 64) + 0.5 - 32, Math.floor(i / 64) + 0.5 - 32];
        const far = Math.max(Math.abs(c * x + s * y), Math.abs(c * y - s * x));
        if (far < 15) expect(mask.data[i]).toBe(255);
        if (far > 17) expect(mask.data[i]).toBe(0);
        area += mask.data[i] / 255;
      }
      expect(Math.abs(area - 32 * 32)).toBeLessThan(1.5);
    }
  });

  test('a box takes each texel where it lies when it enlarges, and averages by area when it shrinks', () => {
    const row = makeMask(3, 1, Uint8Array.of(0, 30, 60));
    const wide = { width: 6, height: 1, xx: 0.5, xy: 0, x0: 0, yx: 0, yy: 1, y0: 0 };
    expect([...resampleMap('mask', row, wide, 'box', host).data]).toEqual([0, 0, 30, 30, 60, 60]);
    const mask = noiseMask(7, 96, 96);
    const step = 96 / 36;
    const to = { width: 36, height: 36, xx: step, xy: 0, x0: 0, yx: 0, yy: step, y0: 0 };
    const small = resampleMap('mask', mask, to, 'box', host);
    for (let v = 0; v < 36; v++) {
      for (let u = 0; u < 36; u++) {
        let sum = 0;
        for (let y = 0; y < 96; y++) {
          const tall = Math.min(y + 1, (v + 1) * step) - Math.max(y, v * step);
          if (tall <= 0) continue;
          for (let x = 0; x < 96; x++) {
            const across = Math.min(x + 1, (u + 1) * step) - Math.max(x, u * step);
            if (across > 0) sum += across * tall * mask.data[96 * y + x];
          }
        }
        expect(Math.abs(small.data[36 * v + u] - sum / step / step)).toBeLessThan(0.51);
      }
    }
  });

  test('turned by a quarter with a box, each texel is where it belongs', () => {
    const mask = noiseMask(3, 32, 32);
    const turned = stepped(mask, 'place', { angle: 90, filter: 'box' });
    for (let y = 0; y < 32; y++)
      for (let x = 0; x < 32; x++) expect(turned.data[32 * x + 31 - y]).toBe(mask.data[32 * y + x]);
  });

  test('a run of version 1 keeps its texels; one of a version that is not known here says so', () => {
    const picture = makePicture(32, 32, new Uint8Array(4096).fill(255));
    const run = (step: StepEntry) => evaluateRun([step], { sources: [{ id: 'a', sha256: 'a', picture }] });
    const newest = makeStep('r', 'resize', { factor: 0.5 });
    expect(newest.version).toBe(2);
    const before = run({ ...newest, version: undefined });
    expect(Math.min(...before.mask.data)).toBe(228); // as it was: nothing lies beyond the border
    expect(Math.min(...run(newest).mask.data)).toBe(255);
    expect(before.key).not.toBe(run(newest).key);
    expect(run({ ...newest, version: 3 }).steps[0].error?.code).toBe('unsupported');
  });
});
