import { describe, expect, test } from '@jest/globals';
import { drawLeafScan } from '@lithe-sieve/demo';
import {
  evaluateRun,
  intersectionOverUnion,
  makeMask,
  makePicture,
  proposeForKinds,
  proposeMasks,
  shrink,
  toRgba8,
  type Picture,
} from '@lithe-sieve/core/testing';
import { noisePicture } from './helpers/pictures.ts';

const plain = (w: number, h: number, v: number) => makePicture(w, h, Uint8Array.from({ length: 4 * w * h }, (_, i) => (i % 4 === 3 ? 255 : v))); // prettier-ignore
const scan = drawLeafScan(31, 300);
const leaf = toRgba8(scan.colour);

describe('masks proposed for a picture without one', () => {
  test('a leaf on pale card: the right one first, with a run that makes it and a reason', () => {
    const proposals = proposeMasks(leaf);
    const [first] = proposals;
    expect(intersectionOverUnion(first.mask, scan.mask)).toBeGreaterThan(0.97);
    expect(first.reason).toMatch(/\.$/);
    const likelihoods = proposals.map((p) => p.likelihood);
    expect(likelihoods).toEqual(likelihoods.toSorted((a, b) => b - a));
    for (const { run, mask } of proposals) {
      const { mask: made } = evaluateRun(run, { sources: [{ id: 'a', sha256: 'a', picture: leaf }] });
      expect(Buffer.compare(Buffer.from(made.data), Buffer.from(mask.data))).toBe(0);
      expect([mask.width, mask.height]).toEqual([300, 300]);
    }
    for (const [i, { mask }] of proposals.entries())
      for (const other of proposals.slice(i + 1)) expect(intersectionOverUnion(mask, other.mask)).toBeLessThan(0.97);
  });

  test('the same picture gives the same proposals; no more than are wanted', () => {
    const again = () => proposeMasks(leaf, { most: 2 }).map(({ run, likelihood }) => JSON.stringify([run, likelihood]));
    expect(again()).toEqual(again());
    expect(again()).toHaveLength(2);
  });

  test('two pictures on two backdrops come first: they say alpha exactly', () => {
    const on = (v: number): Picture => {
      const data = leaf.data.slice();
      for (let i = 0; i < scan.mask.data.length; i++) {
        const alpha = scan.mask.data[i] / 255;
        for (let c = 0; c < 3; c++) data[4 * i + c] = alpha * 90 + (1 - alpha) * v;
      }
      return makePicture(300, 300, data);
    };
    const [first] = proposeMasks(on(250), { other: { id: 'b', sha256: 'b', picture: on(20) } });
    expect(first.run[0]).toMatchObject({ kind: 'from-two-backdrops', params: { sourceId: 'b' } });
    expect(intersectionOverUnion(first.mask, scan.mask)).toBeGreaterThan(0.99);
  });

  test.each([
    ['one texel', plain(1, 1, 90)],
    ['three texels', plain(3, 1, 90)],
    ['one colour', plain(64, 40, 120)],
    ['black', plain(64, 64, 0)],
  ])('%s: none', (_, picture) => {
    expect(proposeMasks(picture)).toEqual([]);
  });

  test.each([
    [
      'noise',
      toRgba8({ width: 90, height: 70, channels: 3, data: noisePicture(90, 70, 3).data.filter((_, i) => i % 4 < 3) }),
    ],
    ['a strip', toRgba8(drawLeafScan(3, 64).colour)],
  ])('%s: what comes is of its size, and is no error', (_, picture) => {
    for (const { mask, likelihood } of proposeMasks(picture)) {
      expect([mask.width, mask.height]).toEqual([picture.width, picture.height]);
      expect(likelihood >= 0 && likelihood <= 1).toBe(true);
    }
  });

  test('of a picture beyond a view masks are as large as it is', () => {
    const [w, h] = [2600, 400];
    const strip = makePicture(w, h, Uint8Array.from({ length: 4 * w * h }, (_, i) => (i % 4 === 3 ? 255 : Math.abs(((i >> 2) % w) - 1300) < 400 ? 60 : 220))); // prettier-ignore
    const truth = makeMask(
      w,
      h,
      Uint8Array.from({ length: w * h }, (_, i) => (Math.abs((i % w) - 1300) < 400 ? 255 : 0)),
    );
    const found = proposeMasks(strip).map(({ mask }) => mask); // which of its two parts is the subject nobody can say
    expect(found.every((m) => m.width === w && m.height === h)).toBe(true);
    expect(Math.max(...found.map((m) => intersectionOverUnion(m, truth)))).toBeGreaterThan(0.98);
  });

  // P. Jaccard, 1912: of {a, b, c} and {b, c, d} two of four are in both
  test('intersection over union', () => {
    const of = (...v: number[]) => makeMask(4, 1, Uint8Array.from(v));
    expect(intersectionOverUnion(of(255, 255, 128, 0), of(0, 200, 255, 255))).toBe(0.5);
    expect(intersectionOverUnion(of(0, 0, 0, 0), of(0, 0, 0, 0))).toBe(1);
  });

  test('one for each kind of step that makes a mask, with the places of touches and scribbles', () => {
    const { likeliest, ofKinds } = proposeForKinds(leaf);
    const kinds = ofKinds.map(({ run }) => run[0].kind);
    expect(kinds.toSorted()).toEqual(['from-backdrop', 'from-channel', 'from-colour', 'from-strokes', 'from-touch']);
    expect(likeliest.map(({ run }) => run)).toEqual(proposeMasks(leaf).map(({ run }) => run));
    const touched = ofKinds.find(({ run }) => run[0].kind === 'from-touch')!;
    expect(intersectionOverUnion(touched.mask, scan.mask)).toBeGreaterThan(0.9);
  });

  test('of a smaller picture: what is in texels is in those of the full size', () => {
    const half = shrink(leaf, 1, 'colour');
    const [run] = proposeForKinds(half, { scale: 0.5 }).ofKinds.flatMap((p) => (p.run[0].kind === 'from-strokes' ? [p.run] : [])); // prettier-ignore
    const { mask } = evaluateRun(run, { sources: [{ id: 'a', sha256: 'a', picture: leaf }] });
    expect(intersectionOverUnion(mask, scan.mask)).toBeGreaterThan(0.95);
  });

  test('a further source that is called its mask comes first', () => {
    const picture = toRgba8(scan.mask);
    const [first] = proposeMasks(leaf, { byName: { id: 'm', sha256: 'm', picture } });
    expect(first.run[0]).toMatchObject({ kind: 'from-channel', params: { sourceId: 'm', channel: 'luminance' } });
    expect(Buffer.compare(Buffer.from(first.mask.data), Buffer.from(scan.mask.data))).toBe(0);
  });
});
