import { describe, expect, test } from '@jest/globals';
import {
  allocateHeap,
  growRecipe,
  isSieveError,
  makeRecipe,
  sceneBytes,
  sceneOf,
  SieveError,
  STARTING_POINTS,
  type Recipe,
} from '@lithe-sieve/core/testing';
import { MOST_SHAPES, WorkMeter } from '../src/recipe/work-meter.ts';

/** What drawing a scene comes to: how often it looked whether it is still wanted, and the error it ended with. */
function build(recipe: Recipe) {
  let looks = 0;
  try {
    return { shapes: sceneOf(recipe, {}, () => looks++).starts.length, looks };
  } catch (error) {
    return { error, looks };
  }
}

const cloth = (params: object) => makeRecipe('weave', { pattern: 'wire cloth', seamless: true, ...params });

describe('what a recipe within its ranges costs', () => {
  test('threads twenty and a hundred cards thick are refused before the first is laid', () => {
    for (const params of [
      { across: 50, pitch: 1, thick: 1000 },
      { across: 10, pitch: 0.5, thick: 1000 },
    ]) {
      const { error, looks } = build(cloth(params));
      expect(isSieveError(error, 'too-large')).toBe(true);
      expect((error as SieveError).remedy).toMatch(/smaller thickness/);
      expect(looks).toBe(0);
    }
  });

  test('two million shapes are the most, and every 512 of them it is asked whether they are still wanted', () => {
    let looks = 0;
    const meter = new WorkMeter(64, 1, () => looks++);
    const corners = Float64Array.of(0, 0, 0.01, 0, 0.01, 0.01, 0, 0.01);
    for (let k = 0; k < MOST_SHAPES; k++) meter.count(corners, 0, 4);
    expect(looks).toBe(Math.floor(MOST_SHAPES / 512));
    expect(() => meter.count(corners, 0, 4)).toThrow(/more than 2 million shapes/);
  });

  test('what lies over itself hundreds of times is refused at a size at which that takes minutes', () => {
    const blades = { blades: 2000, bladeWidth: 0.2 };
    const large = makeRecipe('tuft', { ...blades, width: 8192, height: 8192 });
    expect((build(large).error as SieveError).message).toMatch(/over each other more than 119 times at this size/);
    expect(build(makeRecipe('tuft', { ...blades, width: 2048, height: 2048 })).shapes).toBe(40_000);
  });

  test('it is given up while its shapes are laid, and while they are painted', () => {
    const recipe = makeRecipe('strands', { strands: 6000, width: 256, height: 256 });
    const upTo = (most: number) => {
      let looks = 0;
      const checkpoint = () => {
        if (++looks > most) throw new SieveError('cancelled', 'Overtaken.');
      };
      const bands = (height: number, work: (y0: number, y1: number) => void) => work(0, height);
      return () => growRecipe(recipe, { scale: 1, allocate: allocateHeap, bands, checkpoint });
    };
    const laid = Math.floor((6000 * 22) / 512);
    expect(upTo(laid - 1)).toThrow('Overtaken.');
    expect(upTo(laid + 100)).toThrow('Overtaken.'); // in the one band of the host
    expect(upTo(1e9)).not.toThrow();
  });

  test('its memory is reckoned for no fewer shapes than there are', () => {
    for (const { name, recipe } of STARTING_POINTS) {
      if (recipe.kind === 'atlas') continue;
      const { shapes = Infinity } = build(recipe);
      expect([name, sceneBytes(recipe) >= 500 * shapes]).toEqual([name, true]);
    }
  });
});
