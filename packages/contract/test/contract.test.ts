import { expect, test } from '@jest/globals';
import { makeStep, PIECE_DEFAULTS, STEP_KIND_NAMES, type PieceDoc } from '@lithe-sieve/core';
import { editSchema, patchSchema, pieceDocSchema, stepSchema } from '../src/index.ts';

const doc: PieceDoc = {
  ...structuredClone(PIECE_DEFAULTS),
  name: 'Leaf',
  sources: [{ id: 'source1', sha256: 'a'.repeat(64), fileName: 'leaf.png' }],
  run: STEP_KIND_NAMES.map((kind, i) => makeStep(`step-${i}0000`, kind)),
};

test('every kind of step passes with its own defaults', () => {
  expect(pieceDocSchema.parse(doc)).toEqual(doc);
  expect(STEP_KIND_NAMES.length).toBe(stepSchema.options.length);
});

test.each([
  ['a cutoff above 1', { material: { ...doc.material, cutoff: 1.5 } }],
  ['a cutoff that is no number', { material: { ...doc.material, cutoff: NaN } }],
  ['an empty name', { name: '  ' }],
  ['a hash that is none', { sources: [{ ...doc.sources[0], sha256: '../etc' }] }],
  ['two steps of one id', { run: [makeStep('same-id', 'invert'), makeStep('same-id', 'invert')] }],
  ['a kind that is not known', { run: [{ id: 'step-1', on: true, kind: 'melt', params: {} }] }],
  ['parameters of another kind', { run: [{ ...makeStep('step-1', 'levels'), params: { trust: 0.5 } }] }],
  ['a card of no width', { cardWidth: 0 }],
  ['a key that does not belong', { extra: 1 }],
])('refuses %s', (_, change) => {
  expect(pieceDocSchema.safeParse({ ...doc, ...change }).success).toBe(false);
});

test('an edit says what it is based on; a patch stays small', () => {
  expect(editSchema.safeParse({ kind: 'undo' }).success).toBe(false);
  expect(editSchema.safeParse({ kind: 'undo', baseRevision: 3 }).success).toBe(true);
  expect(patchSchema.safeParse({ op: 'move', path: [] }).success).toBe(false);
  expect(patchSchema.safeParse({ op: 'replace', path: Array(20).fill('a'), value: 1 }).success).toBe(false);
});
