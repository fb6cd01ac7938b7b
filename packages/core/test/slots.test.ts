import { describe, expect, test } from '@jest/globals';
import { makePicture, type ColourMapParams, type MapName, type Raster, type Samples } from '../src/testing.ts';
import { after, env, noiseMask, noisePicture, stateOf } from './helpers/pictures.ts';

const SIDE = 16;
const picture = noisePicture(1, SIDE, SIDE);
const mask = noiseMask(2, SIDE, SIDE);
const state = stateOf(picture, mask);
const AS_IT_IS = { from: 'another map', inverted: false, offset: 0, gain: 1, low: 0, high: 1 } as const;

describe('a map that is read from another one', () => {
  const read = (params: object, maps?: [MapName, Raster<Samples>][]) => [
    ...after('roughness', { ...state, ...(maps && { maps: new Map(maps) }) }, { ...AS_IT_IS, ...params }).maps.get(
      'roughness',
    )!.data,
  ];

  test('is that map, turned over, shifted and spread around the middle', () => {
    expect(read({ map: 'mask' })).toEqual([...mask.data]);
    expect(read({ map: 'mask', inverted: true })).toEqual([...mask.data].map((v) => 255 - v));
    const shifted = read({ map: 'mask', offset: -0.25, gain: 2 });
    for (const [i, v] of shifted.entries()) {
      const wanted = 255 * Math.min(1, Math.max(0, 0.5 + 2 * (mask.data[i] / 255 - 0.25 - 0.5)));
      expect(Math.abs(v - wanted)).toBeLessThan(0.6);
    }
  });

  test('is one channel of a map that has several, of 16 bits too', () => {
    expect(read({ map: 'colour', channel: 'green' })).toEqual([...mask.data].map((_, i) => picture.data[4 * i + 1]));
    const data = Uint16Array.from({ length: 3 * SIDE * SIDE }, (_, i) => 257 * ((7 * i) % 256));
    const normal = { width: SIDE, height: SIDE, channels: 3 as const, data };
    const blue = read({ map: 'normal', channel: 'blue' }, [['normal', normal]]);
    expect(blue).toEqual([...mask.data].map((_, i) => data[3 * i + 2] / 257));
  });

  test('that is not there is an error which names those that are', () => {
    expect(() => read({ map: 'height' })).toThrow(expect.objectContaining({ code: 'missing-map' }));
    expect(() => read({ map: 'height' })).toThrow('picture, mask');
  });
});

describe('a map of colours', () => {
  const made = (params: Partial<ColourMapParams>, other?: typeof picture) =>
    after('emission', state, { dimmedBy: 'nothing', ...params }, env(other && { other })).maps.get('emission')!;

  // sRGB, IEC 61966-2-1: half the light of white is code 188, a fifth is 124
  test('is dimmed in linear light, all over or by another map', () => {
    const white: Partial<ColourMapParams> = { from: 'one colour', colour: [255, 255, 255] };
    expect([...made({ ...white, brightness: 0.5 }).data.subarray(0, 4)]).toEqual([188, 188, 188, 255]);
    expect(made({ ...white, brightness: 0.2 }).data[0]).toBe(124);
    const by = made({ ...white, dimmedBy: 'a map', map: 'mask', inverted: true, gain: 0.5 }).data;
    for (const [i, v] of mask.data.entries()) {
      const light = (0.5 * (255 - v)) / 255;
      const code = 255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055);
      expect(Math.abs(by[4 * i] - code)).toBeLessThan(0.8);
    }
  });

  test('is the picture’s, or that of another one, whose alpha it leaves', () => {
    expect(made({}).data).toEqual(picture.data.map((v, i) => (i % 4 === 3 ? 255 : v)));
    const other = noisePicture(3, SIDE, SIDE);
    const { colour } = after('other-colour', state, { sourceId: 'other' }, env({ other }));
    expect(colour.data).toEqual(other.data.map((v, i) => (i % 4 === 3 ? picture.data[i] : v)));
    const small = makePicture(2, 2, new Uint8Array(16).fill(90));
    expect(() => made({ sourceId: 'other' }, small)).toThrow(/2 × 2/);
    expect(made({ sourceId: 'other', fit: 'scale' }, small).data[40]).toBe(90);
  });
});
