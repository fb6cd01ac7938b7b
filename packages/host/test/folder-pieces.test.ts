import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { makeStep, PIECE_DEFAULTS, type PieceDoc } from '@lithe-sieve/core';
import { FolderPieces, gatherHandOff } from '@lithe-sieve/host';

const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-folder-'));
mkdirSync(join(folder, 'sources'));
afterAll(() => rmSync(folder, { recursive: true }));

const pieces = new FolderPieces(folder);
const write = (name: string, content: unknown) =>
  writeFileSync(join(folder, name), typeof content === 'string' ? content : JSON.stringify(content));

const SHA256 = 'ab'.repeat(32);
const doc: PieceDoc = {
  ...PIECE_DEFAULTS,
  name: 'Leaf',
  sources: [{ id: 'source-1', sha256: SHA256, fileName: 'leaf.png' }],
  run: [{ ...makeStep('step-1', 'strokes'), params: { strokes: ['stroke-1'] } } as PieceDoc['run'][number]],
};

test.each([
  ['no document', undefined, 'document.json cannot be read: ENOENT'],
  ['one that is no JSON', '{', 'document.json cannot be read: '],
  ['one of another form', { ...doc, name: 7 }, 'document.json cannot be read: at name, '],
])('%s is said, with what to do', async (_, content, message) => {
  if (content !== undefined) write('document.json', content);
  await expect(pieces.docOf()).rejects.toMatchObject({
    code: 'corrupt',
    message: expect.stringContaining(message) as unknown as string,
    remedy: 'Copy the piece out of its studio again.',
  });
});

test('what a document names is gathered: strokes by their ids, files by their digest; one that is missing is named', async () => {
  write('document.json', doc);
  const kept = { id: 'stroke-1', kind: 'region', effect: 'cut', of: 'mask', at: [1, 1], tolerance: 0, gaps: 0 };
  write('strokes.json', [
    { id: 'stroke-1', pieceId: 'p', data: JSON.stringify(kept) },
    { id: 'undone', pieceId: 'p', data: '{}' },
    { id: 'stroke-1', pieceId: 'p', data: '{damaged' },
  ]);
  const read = await pieces.docOf();
  expect(await pieces.strokesOf(read)).toEqual([kept]);
  await expect(gatherHandOff(pieces, read)).rejects.toMatchObject({
    code: 'missing-source',
    message: expect.stringContaining('The file leaf.png is not in ') as unknown as string,
  });
});
