import { describe, expect, test } from '@jest/globals';
import {
  makeStep,
  PIECE_DEFAULTS,
  STEP_KIND_NAMES,
  stepKind,
  VALUE_MAPS,
  type PieceDoc,
  type Range,
} from '@lithe-sieve/core/testing';
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

describe('the numbers of every kind of step', () => {
  const numbers = STEP_KIND_NAMES.flatMap((kind) =>
    Object.entries<Range>(stepKind(kind).ranges).map(([name, range]) => [kind, name, range] as const),
  );
  const takes = (kind: (typeof STEP_KIND_NAMES)[number], name: string, value: unknown) => {
    const step = makeStep('step-1', kind);
    return stepSchema.safeParse({ ...step, params: { ...step.params, [name]: value } }).success;
  };

  test.each(numbers)('%s %s: its whole range, and nothing beyond or beside it', (kind, name, { min, max }) => {
    expect([takes(kind, name, min), takes(kind, name, max)]).toEqual([true, true]);
    const later = (kind === 'bleed' && name === 'reach') || (kind in VALUE_MAPS && name === 'offset'); // documents from before them have none
    for (const wrong of [min - 0.01, max + 0.01, NaN, Infinity, '1', null, ...(later ? [] : [undefined])]) {
      expect(takes(kind, name, wrong)).toBe(false);
    }
  });

  test('the defaults lie within them', () => {
    for (const [kind, name, { min, max }] of numbers) {
      const value = (stepKind(kind).defaults as unknown as Record<string, number>)[name];
      expect([kind, name, value >= min && value <= max]).toEqual([kind, name, true]);
    }
  });
});

test.each([
  [
    'a scribble without a point of its own kind',
    'from-strokes',
    { strokes: [{ effect: 'perhaps', radius: 3, at: [[1, 1]] }] },
  ],
  ['a scribble as wide as a country', 'from-strokes', { strokes: [{ effect: 'keep', radius: 1e9, at: [[1, 1]] }] }],
  [
    'a scribble of a million points',
    'from-strokes',
    { strokes: [{ effect: 'keep', radius: 1, at: Array(1e6).fill([1, 1]) }] },
  ],
  ['a scribble through no number', 'from-strokes', { strokes: [{ effect: 'keep', radius: 1, at: [[NaN, 1]] }] }],
  ['a touch outside every picture', 'from-touch', { at: [[-1, 4]] }],
  ['a touch between texels', 'from-touch', { at: [[1.5, 4]] }],
  ['a colour that is no byte', 'from-colour', { drop: [[0, 0, 256]] }],
  [
    'a curve that goes back',
    'levels',
    {
      curve: [
        [0.5, 0],
        [0.2, 1],
      ],
    },
  ],
  ['a way to combine that is not known', 'combine', { how: 'mangle' }],
  ['a source named like a path', 'cut-below', { sourceId: '../../x' }],
] as const)('refuses %s', (_, kind, params) => {
  const step = makeStep('step-1', kind);
  expect(stepSchema.safeParse({ ...step, params: { ...step.params, ...params } }).success).toBe(false);
});

test('steps of documents from before a parameter came get its default', () => {
  const old = [
    { ...makeStep('step-1', 'levels'), params: { black: 0, white: 1, gamma: 1, ramp: 'soft' } },
    { ...makeStep('step-2', 'from-colour'), params: { drop: [], keep: [], tolerance: 0.1, softness: 0.08 } },
  ];
  const { run } = pieceDocSchema.parse({ ...doc, run: old });
  expect(run).toEqual([makeStep('step-1', 'levels'), makeStep('step-2', 'from-colour')]);
});
