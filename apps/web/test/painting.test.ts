/** @jest-environment node */
import { describe, expect, test } from '@jest/globals';
import {
  BRUSH_DEFAULTS,
  makeMask,
  makePicture,
  NO_MAPS,
  type Change,
  type BrushStroke,
  type RunState,
} from '@lithe-sieve/core/testing';
import { Painting } from '../src/workers/painting';

const SIDE = 256;
const state = (): RunState => ({
  colour: makePicture(SIDE, SIDE, new Uint8Array(4 * SIDE * SIDE)),
  mask: makeMask(SIDE, SIDE, new Uint8Array(SIDE * SIDE).fill(255)),
  maps: NO_MAPS,
});
const env = {
  scale: 1,
  allocate: (bytes: number) => new Uint8Array(bytes),
  bands: (height: number, work: (from: number, to: number) => void) => work(0, height),
  checkpoint: () => undefined,
  tip: (): never => {
    throw new Error('no tip here');
  },
};
const stroke = (id: string, x: number, y: number): BrushStroke => ({
  id,
  kind: 'brush',
  effect: 'cut',
  seed: 1,
  brush: { ...BRUSH_DEFAULTS, diameter: 10 },
  path: [x * 64, y * 64, 1023],
});

describe('what a worker holds of painting', () => {
  test('tells which tiles of the memory were written into, once; the first time it is all of it', () => {
    const parts: Change[] = [];
    const painting = new Painting((_data, _size, change) => parts.push(change));
    const input = state();
    const painter = painting.painterOf('by-hand', input);
    expect(painting.painterOf('by-hand', input)).toBe(painter);
    const mask = painter.paint([], input, 'a', env);
    const { data } = mask;
    expect([painting.paints(data), painting.paints(input.mask.data)]).toEqual([true, false]);
    expect(painting.takeWritten(mask)).toBe('whole');
    expect(painting.takeWritten(mask)).toEqual([]);

    painter.paint([stroke('one-1', 30, 30), stroke('two-2', 140, 30)], input, 'a', env);
    expect(painting.takeWritten(mask)).toEqual([
      { x0: 0, y0: 0, x1: 64, y1: 64 },
      { x0: 128, y0: 0, x1: 192, y1: 64 },
    ]);
    painter.begin(stroke('three-3', 200, 200), env);
    painter.extend([200 * 64, 200 * 64, 1023]);
    expect(parts.at(-1)).toEqual([{ x0: 192, y0: 192, x1: 256, y1: 256 }]);
    expect([data[200 * SIDE + 200], data[30 * SIDE + 30], data[100 * SIDE + 100]]).toEqual([0, 0, 255]);
    painter.abandon();
    expect(data[200 * SIDE + 200]).toBe(255);
    expect(painting.takeWritten(mask)).toEqual([{ x0: 192, y0: 192, x1: 256, y1: 256 }]);
  });

  test('a picture of another size gets another painter; steps that are gone are forgotten', () => {
    const painting = new Painting();
    const small: RunState = {
      colour: makePicture(64, 64, new Uint8Array(4 * 64 * 64)),
      mask: makeMask(64, 64, new Uint8Array(64 * 64)),
      maps: NO_MAPS,
    };
    const painter = painting.painterOf('by-hand', state());
    expect(painting.painterOf('by-hand', small).width).toBe(64);
    expect(painting.painterOf('by-hand', state())).not.toBe(painter);
    const other = painting.painterOf('other', small);
    painting.keepOnly(new Set(['by-hand']));
    expect(painting.painterOf('other', small)).not.toBe(other);
  });
});
