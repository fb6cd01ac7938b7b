import { expect, test } from '@jest/globals';
import { BRUSH_DEFAULTS, BRUSH_RANGES } from '@lithe-sieve/core';
import { editSchema, strokeSchema } from '../src/index.ts';

const brushStroke = {
  id: 'stroke-1',
  kind: 'brush',
  effect: 'cut',
  seed: 4,
  brush: BRUSH_DEFAULTS,
  path: [64, 64, 1023, 128, 90, 500],
};
const outline = { id: 'stroke-2', kind: 'outline', effect: 'restore', path: [0, 0, 640, 0, 640, 640] };
const region = { id: 'stroke-3', kind: 'region', effect: 'cut', of: 'mask', at: [3, 4], tolerance: 0.1, gaps: 2 };

test.each([brushStroke, outline, region])('takes $kind', (stroke) => {
  expect(strokeSchema.parse(stroke)).toEqual(stroke);
  const mirror = { x: 40.5, y: 0, degrees: 90 };
  expect(strokeSchema.parse({ ...stroke, mirror })).toEqual({ ...stroke, mirror });
});

test.each([
  ['no number in the path', { ...brushStroke, path: [64, NaN, 1023] }, 'path.1'],
  ['nothing where a number should be', { ...brushStroke, path: [64, null, 1023] }, 'path.1'],
  ['a point half a continent away', { ...brushStroke, path: [64, 64, 1023, 1e9, 64, 1023] }, 'path.3'],
  ['half a sixty-fourth of a texel', { ...brushStroke, path: [64, 64.5, 1023] }, 'path.1'],
  ['more pressure than there is', { ...brushStroke, path: [64, 64, 1024] }, 'path.2'],
  ['a path that is cut short', { ...brushStroke, path: [64, 64] }, 'path'],
  ['an empty path', { ...brushStroke, path: [] }, 'path'],
  ['more points than a hand makes', { ...brushStroke, path: new Array(90_000).fill(64) }, 'path'],
  ['an outline of two corners', { ...outline, path: [0, 0, 64, 64] }, 'path'],
  ['a brush as wide as a country', { ...brushStroke, brush: { ...BRUSH_DEFAULTS, diameter: 1e9 } }, 'brush.diameter'],
  ['dabs without a step', { ...brushStroke, brush: { ...BRUSH_DEFAULTS, spacing: 0 } }, 'brush.spacing'],
  [
    'a tip that is a path of a file',
    { ...brushStroke, brush: { ...BRUSH_DEFAULTS, picture: '../x' } },
    'brush.picture',
  ],
  ['a seed that is none', { ...brushStroke, seed: Infinity }, 'seed'],
  ['a mirror beyond all', { ...outline, mirror: { x: 1e12, y: 0, degrees: 0 } }, 'mirror.x'],
  ['a region beside every picture', { ...region, at: [-1, 4] }, 'at.0'],
  ['something of its own', { ...region, more: 1 }, ''],
])('refuses %s, and names the place', (_, stroke, place) => {
  const { error } = strokeSchema.safeParse(stroke);
  expect(error?.issues[0].path.join('.')).toBe(place);
  const entry = { label: 'x', patches: [], inverse: [] };
  const edit = editSchema.safeParse({ kind: 'do', baseRevision: 1, entry, strokes: [brushStroke, stroke] });
  expect(edit.error?.issues[0].path.join('.')).toBe(['strokes.1', place].filter(Boolean).join('.'));
});

test('the defaults of a brush lie within its limits', () => {
  for (const [name, { min, max }] of Object.entries(BRUSH_RANGES)) {
    const value = BRUSH_DEFAULTS[name as keyof typeof BRUSH_RANGES];
    expect(value).toBeGreaterThanOrEqual(min);
    expect(value).toBeLessThanOrEqual(max);
  }
});
