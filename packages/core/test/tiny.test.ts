import { expect, test } from '@jest/globals';
import {
  makeMask,
  makePicture,
  SieveError,
  STEP_KIND_NAMES,
  stepKind,
  surfaceFacts,
  VALUE_RECIPES,
  type MapName,
  type Raster,
  type RunState,
  type Samples,
} from '../src/testing.ts';
import { env } from './helpers/pictures.ts';

/** Parameters by which a kind takes another way through its code. */
function variantsOf(defaults: object): object[] {
  const has = (name: string) => name in defaults;
  const recipes = has('inverted') ? VALUE_RECIPES.map((from) => ({ from })) : [];
  return [
    {},
    ...recipes,
    ...(has('how') ? [{ how: 'smooth' }] : []),
    ...(has('least') ? [{ from: 'what lies around' }] : []),
    ...(has('over') ? [{ over: 'patches' }, { over: 'whole piece' }] : []),
    ...(has('sourceId') ? [{ sourceId: 'other' }] : []),
  ];
}

test.each([
  [1, 1, 255],
  [1, 1, 0],
  [3, 1, 255],
  [2, 7, 0],
  [5, 5, 255],
])(
  'every step of colour, maps and fit on %i × %i texels, all of alpha %i: a right size, or a plain error',
  (width, height, alpha) => {
    const count = width * height;
    const colour = makePicture(width, height, new Uint8Array(4 * count).fill(90));
    const mask = makeMask(width, height, new Uint8Array(count).fill(alpha));
    const made = new Map<MapName, Raster<Samples>>([
      ['height', { width, height, channels: 1, data: new Uint16Array(count).fill(4000) }],
      ['normal', { width, height, channels: 3, data: new Uint16Array(3 * count).fill(32768) }],
    ]);
    const done = new Set<string>();
    for (const name of STEP_KIND_NAMES) {
      const kind = stepKind(name);
      if (kind.stretch === 'mask') continue;
      for (const maps of [new Map(), made] as RunState['maps'][]) {
        for (const variant of variantsOf(kind.defaults)) {
          try {
            const out = kind.apply({ colour, mask, maps }, { ...kind.defaults, ...variant }, env({ other: colour }));
            for (const r of [out.colour, out.mask, ...(out.maps?.values() ?? [])]) {
              if (r) expect([name, r.data.length]).toEqual([name, r.width * r.height * r.channels]);
            }
            done.add(name);
          } catch (error) {
            if (!(error instanceof SieveError)) throw error; // an expectation that failed, or a crash
          }
        }
      }
    }
    // all but what asks for sources of its own was computed, not refused
    const refused = STEP_KIND_NAMES.filter((name) => stepKind(name).stretch !== 'mask' && !done.has(name));
    expect(refused).toEqual(['make-tileable']); // which has no room for an overlap here
    expect(surfaceFacts(colour, mask, made).maps.size).toBe(2);
  },
);
