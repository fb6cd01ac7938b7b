import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { boundaryF, intersectionOverUnion, makeMask } from '@lithe-sieve/core/testing';

// scikit-learn, scikit-image and SciPy: fixtures/make-segmentation.py
const CASES = JSON.parse(readFileSync(join(import.meta.dirname, 'fixtures/segmentation.json'), 'utf8')) as {
  width: number;
  height: number;
  a: string;
  b: string;
  iou: number;
  f: number;
}[];

test.each(CASES.map((one) => [`${one.width} × ${one.height}`, one] as const))(
  'intersection over union and boundary F-measure as reference libraries have them: %s',
  (_, { width, height, a, b, iou, f }) => {
    const mask = (bits: string) =>
      makeMask(
        width,
        height,
        Uint8Array.from(bits, (bit) => 255 * Number(bit)),
      );
    expect(intersectionOverUnion(mask(a), mask(b))).toBeCloseTo(iou, 12);
    expect(boundaryF(mask(a), mask(b))).toBeCloseTo(f, 12);
  },
);

test('nothing beside nothing is the same; nothing beside something is not', () => {
  const none = makeMask(8, 8, new Uint8Array(64));
  const some = makeMask(
    8,
    8,
    Uint8Array.from({ length: 64 }, (_, i) => (i === 27 ? 255 : 0)),
  );
  expect([boundaryF(none, none), boundaryF(none, some), boundaryF(some, none)]).toEqual([1, 0, 0]);
  expect(intersectionOverUnion(none, none)).toBe(1);
});
