import { expect, test } from '@jest/globals';
import { meshChanges, sourceChanges, type MeshFacts, type SourceFacts } from '../src/index.ts';

const facts = (values: Partial<SourceFacts> = {}): SourceFacts => ({
  format: 'png',
  width: 512,
  height: 512,
  channels: 4,
  bitDepth: 8,
  palette: false,
  alpha: 'present',
  grey: false,
  blackOrWhite: 0.1,
  border: { colour: [1, 2, 3], share: 1, spread: 0.1 },
  notes: [],
  ...values,
});

test.each([
  ['only its texels', {}, {}, []],
  ['alpha gone', {}, { alpha: 'none', channels: 3 }, ['Alpha is gone in the new file.']],
  ['alpha there', { alpha: 'none', channels: 3 }, {}, ['The new file has alpha.']],
  ['alpha not saved', { alpha: 'none', channels: 3 }, { alpha: 'opaque' }, ['The new file has alpha all opaque.']],
  ['alpha emptied', {}, { alpha: 'transparent' }, ['Alpha is still there, but now all transparent.']],
  ['alpha filled', { alpha: 'opaque' }, {}, ['Alpha now holds something.']],
  ['another size', {}, { width: 256, height: 300 }, ['It is 256 × 300 now, it was 512 × 512.']],
  [
    'grey, without alpha, as JPEG',
    {},
    { alpha: 'none', channels: 1, format: 'jpeg', grey: true },
    ['Alpha is gone in the new file.', 'Its channels are grey now.', 'It is a JPEG now.'],
  ],
  ['sixteen bits', {}, { bitDepth: 16 }, ['It has 16 bits a channel now.']],
  ['colour lost', {}, { grey: true }, ['It has lost its colour: red, green and blue are equal.']],
] as [string, Partial<SourceFacts>, Partial<SourceFacts>, string[]][])(
  'what another file holds: %s',
  (_, a, b, said) => {
    expect(sourceChanges(facts(a), facts(b))).toEqual(said);
  },
);

const mesh = (values: Partial<MeshFacts> = {}) =>
  ({ triangles: 224, size: [1, 2, 3], slots: [{ name: 'leaf' }, { name: 'stalk' }], uvUsed: 0.5, uvArea: 0.5, mirrored: 0, ...values }) as MeshFacts; // prettier-ignore

test.each([
  ['only places', {}, undefined, []],
  ['triangles', { triangles: 12 }, undefined, ['It has 12 triangles now, it had 224.']],
  ['its size', { size: [100, 200, 300] }, undefined, ['Its longest side is 100 times what it was.']],
  ['its material', { slots: [] }, 'leaf', ['Its material leaf is gone: all of it shows the piece.']],
  ['another material', { slots: [{ name: 'leaf', triangles: 1 }] }, 'leaf', []],
  ['no UVs', { uvUsed: 0, uvArea: 0 }, undefined, ['Its UVs are gone.']],
  ['other UVs', { uvArea: 0.4, mirrored: 3 }, undefined, ['Its UVs lie otherwise now.', '3 triangles show the picture mirrored now.']],
] as [string, Partial<MeshFacts>, string | undefined, string[]][])('what another mesh holds: %s', (_, values, slot, said) => {
  expect(meshChanges(mesh(), mesh(values), slot)).toEqual(said);
}); // prettier-ignore
