import { describe, expect, test } from '@jest/globals';
import type { Place } from '@lithe-sieve/core';
import { hexOf, rgbOf } from '../src/components/colours';
import { isMarked, withPlace } from '../src/document/marked-places';
import { filesOfDrop } from '../src/stores/files';

const place = (x: number, y: number): Place => ({ x0: x, y0: y, x1: x + 3, y1: y + 2, texels: 5, at: [x, y] });

describe('places that are taken or left', () => {
  test('are known by their own texel, marked once, and unmarked again', () => {
    const one = withPlace([], place(4, 5), true);
    expect(one).toEqual([[4, 5]]);
    expect(withPlace(one, place(4, 5), true)).toEqual([[4, 5]]);
    expect([isMarked(one, place(4, 5)), isMarked(one, place(5, 4))]).toEqual([true, false]);
    expect(withPlace(withPlace(one, place(9, 9), true), place(4, 5), false)).toEqual([[9, 9]]);
  });
});

test('colours as words', () => {
  expect(hexOf([0, 15, 255])).toBe('#000fff');
  expect(rgbOf(' 0A0bFf ')).toEqual([10, 11, 255]);
  for (const wrong of ['', '#12345', 'red', '#12345g', '#1234567']) expect(rgbOf(wrong)).toBeNull();
});

describe('files of a drop', () => {
  const file = (name: string) => new File(['x'], name);
  /** As the File and Directory Entries API gives them; a reader gives its entries in parts. */
  const fileEntry = (name: string) => ({
    isFile: true,
    isDirectory: false,
    name,
    file: (done: (f: File) => void) => done(file(name)),
  });
  const folder = (name: string, parts: object[][]) => ({
    isFile: false,
    isDirectory: true,
    name,
    createReader: () => {
      const left = [...parts, []];
      return { readEntries: (done: (entries: object[]) => void) => done(left.shift()!) };
    },
  });
  const transfer = (entries: object[], files: File[] = []) =>
    ({ items: entries.map((entry) => ({ webkitGetAsEntry: () => entry })), files }) as unknown as DataTransfer;

  test('a folder brings the pictures in it and in its folders, and nothing else', async () => {
    const inner = folder('veins', [[fileEntry('c.TIF'), fileEntry('notes.txt')]]);
    const outer = folder('leaves', [
      [fileEntry('a.png'), inner],
      [fileEntry('b.webp'), fileEntry('thumbs.db')],
    ]);
    const found = await filesOfDrop(transfer([outer, fileEntry('words.txt')]));
    expect(found.map((f) => f.name)).toEqual(['a.png', 'c.TIF', 'b.webp', 'words.txt']); // one dropped by itself says why it is refused
  });

  test('files alone are taken as they are', async () => {
    const files = [file('a.png'), file('b.xyz')];
    expect(await filesOfDrop(transfer([fileEntry('a.png'), fileEntry('b.xyz')], files))).toEqual(files);
    expect(await filesOfDrop(null)).toEqual([]);
  });
});
