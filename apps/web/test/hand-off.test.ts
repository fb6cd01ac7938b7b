import { expect, test } from '@jest/globals';
import { profileFileSchema, type HandOffReport } from '@lithe-sieve/contract';
import { PACKING_AT_FIRST, TARGET_AT_FIRST } from '@lithe-sieve/core';
import { changesBetween } from '../src/features/handoff/compared';
import { differenceOf } from '../src/features/handoff/written-pixels';

const file = (name: string, sha256: string, bytes = 2e6, contents = 'RGBA') => ({ name, sha256, bytes, contents });
const target = (id: string, agrees: boolean, meant = true) =>
  ({ id, label: id, agrees, meant }) as HandOffReport['receivers'][number];
const report = (files: HandOffReport['files'], receivers: HandOffReport['receivers'] = []): HandOffReport => ({
  ...{ piece: 'Leaf', revision: 1, profile: 'rgba-png', writtenAt: '', checks: [], settings: [], ok: true },
  files,
  receivers,
});

test('two hand-offs beside each other: what is new, changed, gone, and which targets changed their mind', () => {
  const first = report([file('a', '1'), file('b', '2'), file('c', '3')], [target('x', true), target('y', false)]);
  expect(changesBetween(first, first)).toEqual([]);
  const second = report(
    [file('a', '1'), file('b', '9', 1e6, 'grey'), file('d', '4')],
    [target('x', false), target('y', true), target('z', false, false)],
  );
  expect(changesBetween(first, second)).toEqual([
    'b changed: 2.0 MB became 1.0 MB. RGBA became grey.',
    'd is new, 2.0 MB.',
    'c is not written any more.',
    'x: does not agree any more.',
    'y: agrees now.',
  ]);
});

test('one step of one channel is a texel that differs, and is seen', () => {
  const picture = (...rgba: number[]) => ({ width: 2, height: 1, rgba: Uint8ClampedArray.from(rgba) });
  const found = differenceOf(picture(1, 2, 3, 4, 5, 6, 7, 8), picture(1, 2, 3, 4, 5, 6, 7, 9))!;
  expect([found.texels, found.largest, found.thumb.rgba[4] - found.thumb.rgba[0] > 64]).toEqual([1, 1, true]);
  expect(differenceOf(picture(), { ...picture(), width: 1 })).toBeNull();
});

test.each([
  ['as it begins', {}, true],
  ['a TGA of 16 bits', { format: 'tga', bits: 16 }, false],
  ['a kind of file that is not written', { format: 'gif' }, false],
  ['a name that leaves its folder', { name: '../base' }, false],
  ['fewer fillings than channels', { as: 'RGBA', fills: [{ value: 1 }] }, false],
  ['a value above 1', { as: 'grey', fills: [{ value: 2 }] }, false],
])('a profile in a file with %s', (_, values, isTaken) => {
  const packing = PACKING_AT_FIRST.map((f, i) => (i === 0 ? { ...f, ...values } : f));
  const profile = { packing, target: TARGET_AT_FIRST, pattern: '{piece}_{map}', green: 'OpenGL' };
  const value = { form: 'lithe-sieve-profile', version: 1, name: 'Marsh', profile };
  expect(profileFileSchema.safeParse(value).success).toBe(isTaken);
});
