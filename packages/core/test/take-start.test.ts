import { describe, expect, test } from '@jest/globals';
import {
  makeStep,
  PIECE_DEFAULTS,
  takeStart,
  type PieceDoc,
  type SourceFacts,
  type StepEntry,
} from '@lithe-sieve/core/testing';

const source = (id: string, role?: 'mask' | 'height') => ({ id, sha256: id.repeat(64).slice(0, 64), fileName: `${id}.png`, role }); // prettier-ignore
const piece = (sources: PieceDoc['sources'], run: StepEntry[] = []): PieceDoc => ({ ...structuredClone(PIECE_DEFAULTS), handOff: { ...PIECE_DEFAULTS.handOff }, name: 'Leaf', sources, run }); // prettier-ignore
const facts = { border: { colour: [10, 20, 30], spread: 0.02 } } as unknown as SourceFacts;
const taken = (start: PieceDoc, into: PieceDoc, runs: StepEntry[][] = []) => {
  let n = 0;
  return takeStart(start, into, { facts, runs }, () => `new-${++n}`);
};

describe('starting again from what worked', () => {
  test('settings stay, the colour of the backdrop is found again, the material and the hand-off come along', () => {
    const start = piece(
      [source('a')],
      [
        makeStep('s', 'from-colour', { drop: [[250, 250, 250]], softness: 0.11, tolerance: 0.2, from: [[4, 4]] }),
        makeStep('t', 'drop-strays', { below: 40, left: [[9, 9]] }),
        makeStep('u', 'combine', { stepId: 's' }),
      ],
    );
    start.material = { ...start.material, cutoff: 0.33 };
    start.handOff = { ...start.handOff, profile: 'rgba-png' };
    const { doc, leftOut } = taken(start, piece([source('z')]));
    expect(leftOut).toEqual([]);
    expect(doc.name).toBe('Leaf');
    expect(doc.sources[0].id).toBe('z');
    expect(doc.material.cutoff).toBe(0.33);
    expect(doc.handOff.profile).toBe('rgba-png');
    const [colour, strays, combined] = doc.run;
    expect(colour).toMatchObject({ id: 'new-1', params: { drop: [[10, 20, 30]], softness: 0.11, from: [] } });
    expect(colour).toMatchObject({ params: { keep: [] } });
    expect(strays).toMatchObject({ params: { below: 40, left: [] } });
    expect(combined).toMatchObject({ params: { stepId: 'new-1' } });
  });

  test('scribbles, touches and colours that are kept are those that were proposed; without them the step is left out', () => {
    const strokes = [{ effect: 'keep' as const, radius: 3, at: [[5, 6]] as [number, number][] }];
    const start = piece(
      [source('a')],
      [
        makeStep('s', 'from-strokes', { strokes: [{ effect: 'drop', radius: 9, at: [[1, 1]] }] }),
        makeStep('t', 'from-touch', { at: [[1, 1]], tolerance: 0.3 }),
        makeStep('k', 'from-colour', { keep: [[0, 90, 0]], drop: [[1, 1, 1]] }),
      ],
    );
    const found = [
      [makeStep('p', 'from-strokes', { strokes })],
      [makeStep('q', 'from-touch', { at: [[7, 8]], take: 'keep it' })],
      [makeStep('r', 'from-colour', { keep: [[3, 3, 3]], drop: [[2, 2, 2]] })],
    ];
    const into = piece([source('z')]);
    const { run } = taken(start, into, found).doc;
    expect(run[0]).toMatchObject({ params: { strokes } });
    expect(run[1]).toMatchObject({ params: { at: [[7, 8]], tolerance: 0.3, take: 'keep it' } });
    expect(run[2]).toMatchObject({ params: { keep: [[3, 3, 3]], drop: [[2, 2, 2]] } });
    expect(taken(start, into).leftOut).toEqual(['From scribbles', 'From touch', 'From colour']);
  });

  test('a further source is the one of its role; what reads one that is not here, or was drawn by hand, is left out', () => {
    const start = piece(
      [source('a'), source('b', 'mask'), source('c', 'height')],
      [
        makeStep('m', 'from-channel', { sourceId: 'b', channel: 'luminance' }),
        makeStep('h', 'cut-below', { sourceId: 'c' }),
        makeStep('d', 'strokes', { strokes: ['stroke'] }),
        makeStep('o', 'from-channel', { sourceId: 'a' }),
        makeStep('j', 'combine', { stepId: 'd' }),
      ],
    );
    const { doc, leftOut } = taken(start, piece([source('z'), source('y', 'mask')]));
    expect(doc.run.map(({ params }) => (params as { sourceId?: string }).sourceId)).toEqual(['y', 'z']);
    expect(leftOut).toEqual(['Cut below', 'Strokes', 'Combine']); // the last joins with one of these
  });
});
