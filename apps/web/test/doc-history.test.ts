import { describe, expect, test } from '@jest/globals';
import { makeStep, PIECE_DEFAULTS, type PieceDoc } from '@lithe-sieve/core';
import { DocHistory } from '../src/document/doc-history';

const start: PieceDoc = { ...PIECE_DEFAULTS, name: 'Leaf', sources: [], run: [makeStep('step-1', 'levels')] };
const withCutoff = (cutoff: number) => (doc: PieceDoc) => ({ ...doc, material: { ...doc.material, cutoff } });
const cutoffOf = (history: DocHistory) => history.doc.material.cutoff;

describe('the history of a document', () => {
  test('a gesture is one entry, however often it is previewed; undo and redo lead there and back', () => {
    const history = new DocHistory(start, [], 0);
    for (const cutoff of [0.3, 0.4, 0.7]) history.preview(withCutoff(cutoff));
    expect(history.inGesture).toBe(true);
    expect(history.finish('Cutoff')).toMatchObject({ kind: 'done', entry: { label: 'Cutoff' } });
    expect([history.entries.length, history.position, history.inGesture]).toEqual([1, 1, false]);
    expect(history.before).toBe(start);
    expect(history.undo()).toEqual([{ op: 'replace', path: ['material', 'cutoff'], value: 0.5 }]);
    expect(cutoffOf(history)).toBe(0.5);
    expect(history.doc.run).toBe(start.run); // what did not change keeps its identity
    expect(history.redo()).toHaveLength(1);
    expect(cutoffOf(history)).toBe(0.7);
    expect(history.redo()).toBeNull();
  });

  test('what is abandoned, changes nothing, or is not valid, leaves the document as it was', () => {
    const history = new DocHistory(start, [], 0);
    history.preview(withCutoff(0.1));
    history.abandon();
    expect(history.doc).toBe(start);
    expect(history.finish('Nothing')).toEqual({ kind: 'nothing' });
    history.preview(withCutoff(0.2));
    history.preview(withCutoff(0.5));
    expect(history.finish('There and back')).toEqual({ kind: 'nothing' });
    expect(history.doc).toBe(start);
    history.preview(withCutoff(7));
    expect(history.finish('Too high')).toEqual({ kind: 'not-valid' });
    expect([history.doc, history.entries]).toEqual([start, []]);
  });

  test('undo in the middle of a gesture ends it first; a new change drops what could be redone', () => {
    const history = new DocHistory(start, [], 0);
    for (const cutoff of [0.2, 0.3]) {
      history.preview(withCutoff(cutoff));
      history.finish(`${cutoff}`);
    }
    history.preview(withCutoff(0.9));
    history.undo();
    expect([cutoffOf(history), history.inGesture]).toEqual([0.2, false]);
    expect([history.undid('0.3'), history.undid('nowhere')]).toEqual([true, false]);
    history.preview(withCutoff(0.6));
    history.finish('Another way');
    expect(history.entries.map((e) => e.label)).toEqual(['0.2', 'Another way']);
  });

  test('of many versions of a followed file the newest are kept one by one', () => {
    const history = new DocHistory(
      { ...start, sources: [{ id: 'source', sha256: '0'.repeat(64), fileName: 'a.png' }] },
      [],
      0,
    );
    for (let i = 0; i < 30; i++) {
      const sha256 = `${i}`.padStart(64, 'f');
      history.preview((doc) => ({ ...doc, sources: doc.sources.map((s) => ({ ...s, sha256 })) }));
      history.finish(`Version ${i}`, true);
    }
    expect(history.entries.length).toBeLessThan(15);
    expect(history.entries.at(-1)?.label).toBe('Version 29');
    while (history.undo());
    expect(history.doc.sources[0].sha256).toBe('0'.repeat(64));
  });
});
