import { describe, expect, test } from '@jest/globals';
import { LIMITS, makeStep, PIECE_DEFAULTS, type PieceDoc } from '@lithe-sieve/core';
import { applyPatches, type Patch } from 'immer';
import { diffDocs } from '../src/document/diff';
import { sharing } from '../src/document/share';
import { nameOfKey } from '../src/actions/keys';

const doc = (values: Partial<PieceDoc> = {}): PieceDoc => ({
  ...PIECE_DEFAULTS,
  name: 'Leaf',
  sources: [],
  run: [
    makeStep('s1', 'from-colour', { drop: [[1, 2, 3]] }),
    makeStep('s2', 'levels'),
    makeStep('s3', 'bleed'),
    makeStep('s4', 'strokes', { strokes: ['aaaaaa', 'bbbbbb'] }),
  ],
  ...values,
});

const withStrokes = (...strokes: string[]) =>
  doc({ run: doc().run.map((s) => (s.kind === 'strokes' ? { ...s, params: { strokes } } : s)) });

describe('the difference of two documents', () => {
  const changed: [string, PieceDoc, number][] = [
    ['one number', doc({ material: { ...PIECE_DEFAULTS.material, cutoff: 0.3 } }), 1],
    [
      'a parameter of a step',
      doc({ run: doc().run.map((s) => (s.kind === 'levels' ? { ...s, params: { ...s.params, gamma: 2 } } : s)) }),
      1,
    ],
    [
      'a swatch more',
      doc({
        run: doc().run.map((s) =>
          s.kind === 'from-colour'
            ? {
                ...s,
                params: {
                  ...s.params,
                  drop: [
                    [1, 2, 3],
                    [4, 5, 6],
                  ],
                },
              }
            : s,
        ),
      }),
      1,
    ],
    ['a stroke more', withStrokes('aaaaaa', 'bbbbbb', 'cccccc'), 1],
    ['strokes fewer', withStrokes('aaaaaa'), 1],
    ['a step moved', doc({ run: doc().run.toSpliced(0, 2, doc().run[1], doc().run[0]) }), 1],
    ['a step less', doc({ run: doc().run.slice(1) }), 1],
    ['nothing', doc(), 0],
  ];
  test.each(changed)('%s: the change and its reverse lead there and back', (_, to, size) => {
    const from = doc();
    const { patches, inverse } = diffDocs(from, to);
    expect(applyPatches(from, patches as Patch[])).toEqual(to);
    expect(applyPatches(to, inverse as Patch[])).toEqual(from);
    expect(patches.length).toBe(size);
  });
});

test('a key that is taken away is part of the change', () => {
  const source = { id: 'source', sha256: 'ab'.repeat(32), fileName: 'a.png' };
  const from = doc({ sources: [{ ...source, follows: '/pictures/a.png' }] });
  const { patches, inverse } = diffDocs(from, doc({ sources: [source] }));
  expect(applyPatches(from, patches as Patch[])).toEqual(doc({ sources: [source] }));
  expect(applyPatches(doc({ sources: [source] }), inverse as Patch[])).toEqual(from);
  // one without a value too, which JSON would lose on its way
  const { patches: sent } = diffDocs(from, doc({ sources: [{ ...source, follows: undefined }] }));
  expect(JSON.parse(JSON.stringify(sent))).toEqual(patches);
});

test('long lists are replaced whole, there and back, in few patches', () => {
  const many = Array.from({ length: 5000 }, (_, i) => `stroke-${i}`);
  for (const [from, to] of [
    [withStrokes(...many), withStrokes()],
    [withStrokes(...many), withStrokes(...many.slice(0, 1234))],
    [withStrokes('aaaaaa'), withStrokes('aaaaaa', ...many)],
    [withStrokes(...many), withStrokes(...many.toReversed())],
  ]) {
    const { patches, inverse } = diffDocs(from, to);
    expect(Math.max(patches.length, inverse.length)).toBeLessThanOrEqual(LIMITS.patches);
    expect(applyPatches(from, patches as Patch[])).toEqual(to);
    expect(applyPatches(to, inverse as Patch[])).toEqual(from);
  }
});

test('what did not change keeps its identity', () => {
  const from = doc();
  const copy = () => JSON.parse(JSON.stringify(from)) as PieceDoc;
  const to = copy();
  expect(sharing(from, to)).toBe(from);
  const other = copy();
  other.material.cutoff = 0.2;
  const shared = sharing(from, other);
  expect([shared.run === from.run, shared.material.cutoff, from.material.cutoff]).toEqual([true, 0.2, 0.5]);
  expect(Object.keys(sharing({ b: 1, a: 2 }, { a: 3, c: 4, b: 1 }))).toEqual(['b', 'a', 'c']);
  expect(sharing<unknown>({ a: 1, b: undefined }, { a: 1 })).toEqual({ a: 1 });
});

test('keys are named as they are listed', () => {
  const name = (init: KeyboardEventInit) => nameOfKey(new KeyboardEvent('keydown', init));
  expect(name({ key: 'z', ctrlKey: true })).toBe('Ctrl+z');
  expect(name({ key: 'Z', ctrlKey: true, shiftKey: true })).toBe('Ctrl+Shift+z');
  expect(name({ key: '?', shiftKey: true })).toBe('?');
  expect(name({ key: 'ArrowLeft', altKey: true })).toBe('Alt+ArrowLeft');
});
