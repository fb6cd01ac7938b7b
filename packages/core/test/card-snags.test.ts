import { describe, expect, test } from '@jest/globals';
import {
  CARD_OUTLINE,
  CARD_SIDES,
  laidOnMesh,
  offMesh,
  makeStep,
  meshFacts,
  PIECE_DEFAULTS,
  readObj,
  type CardMesh,
  type PieceDoc,
  type SnagContext,
} from '../src/testing.ts';
import { backUnseen, facesFight, meshUnit, mirroredUvs, outlineCuts } from '../src/snags/card.ts';
import type { SnagCheck } from '../src/snags/snag.ts';

const docOf = (more: Partial<PieceDoc>): PieceDoc => ({ ...structuredClone(PIECE_DEFAULTS), name: 'Test', sources: [], run: [], ...more }); // prettier-ignore
/** What a check says, and what is left of it after its remedy. */
function mended(check: SnagCheck, doc: PieceDoc, more: Partial<SnagContext> = {}) {
  const found = (of: PieceDoc) => check({ ...more, doc: of } as SnagContext);
  const snag = found(doc);
  const after = snag?.remedy?.apply(doc, () => 'made') ?? doc;
  return { text: snag?.text, label: snag?.remedy?.label, after, left: found(after)?.id ?? null };
}
const obj = (text: string) => meshFacts(readObj(new TextEncoder().encode(text)), 'obj');
const own: CardMesh = { sha256: 'a'.repeat(64), fileName: 'x.obj', metres: 1, up: 'y' };

describe('a mesh', () => {
  test('of 80 metres is read in another unit, its card and what was measured on a face with it', () => {
    const mesh = obj('v 0 0 0\nv 80 0 0\nv 0 20 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3\n');
    const placement = { middle: [0.5, 0.5], size: [10, 5], turn: 0, plane: [80, 0, 0, 20] } satisfies CardMesh['placement']; // prettier-ignore
    const { text, label, after, left } = mended(meshUnit, docOf({ mesh: { ...own, placement } }), { mesh });
    expect([text, label, left]).toEqual([expect.stringContaining('80 m'), 'Read it in centimetres', null]);
    expect(after).toMatchObject({ cardWidth: 0.8, mesh: { metres: 0.01, placement: { size: [0.1, 0.05] } } });
    expect(mended(meshUnit, docOf({ mesh: { ...own, metres: 0.01 } }), { mesh }).text).toBeUndefined();
    expect(mended(meshUnit, docOf({ mesh: own })).text).toBeUndefined(); // not known yet
  });

  test('is left for the card, as wide as that was, whatever came between', () => {
    const first = laidOnMesh(docOf({ cardWidth: 0.3 }), own, [2, 1, 0]);
    expect([first.cardWidth, first.mesh]).toEqual([2, { ...own, cardWidth: 0.3 }]);
    const second = laidOnMesh(first, { ...own, fileName: 'y.obj', metres: 0.5 }, [4, 1, 0]);
    expect([second.cardWidth, offMesh(second).cardWidth, offMesh(second).mesh]).toEqual([2, 0.3, undefined]);
    expect(offMesh(docOf({ cardWidth: 2, mesh: own })).cardWidth).toBe(2); // laid on it before that was kept
  });

  test('whose picture is mirrored all over has it mirrored; by a placement it may be, too; some of it is on purpose', () => {
    const mirrored = 'v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 1 0\nvt 0 0\nvt 1 1\nf 1/1 2/2 3/3\n';
    const { after, left } = mended(mirroredUvs, docOf({ mesh: own }), { mesh: obj(mirrored) });
    expect([after.mesh?.placement?.size, left]).toEqual([[-1, 1], null]);
    const right = obj('v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3\n');
    expect(mended(mirroredUvs, docOf({ mesh: own }), { mesh: right }).text).toBeUndefined();
    expect(mended(mirroredUvs, after, { mesh: right }).left).toBeNull();
    const half = obj(`${mirrored}vt 0 0\nvt 1 0\nvt 0 1\nf 1/4 2/5 3/6\n`);
    expect(mended(mirroredUvs, docOf({ mesh: own }), { mesh: half }).text).toBeUndefined();
  });
});

test('an outline set by hand that what is kept has outgrown is fitted again, but where it may cut', () => {
  const byHand = { polygons: [[[0, 0], [1, 0], [0, 1]]] as [number, number][][], holes: [] }; // prettier-ignore
  const doc = docOf({ outline: { ...CARD_OUTLINE, byHand } });
  const { text, after } = mended(outlineCuts, doc, { keptOutside: 12 });
  expect([text, after.outline]).toEqual([expect.stringContaining('12 kept texels'), CARD_OUTLINE]);
  const cuts = docOf({ outline: { ...CARD_OUTLINE, byHand, cuts: true } });
  expect(mended(outlineCuts, cuts, { keptOutside: 12 }).text).toBeUndefined();
  expect(mended(outlineCuts, doc, { keptOutside: 0 }).text).toBeUndefined();
});

test('faces that fight for a pixel, and a colour for a back that is not there', () => {
  const { material } = docOf({});
  const twice = docOf({ sides: CARD_SIDES, material: { ...material, doubleSided: true } });
  expect(mended(facesFight, twice)).toMatchObject({ left: null, after: { material: { doubleSided: false } } });
  const blended = docOf({ sides: { ...CARD_SIDES, apart: 0 }, material: { ...material, mode: 'blend', doubleSided: false } }); // prettier-ignore
  expect(mended(facesFight, blended)).toMatchObject({ left: null, after: { sides: { apart: 1 } } });
  const run = [makeStep('back', 'back-colour')];
  expect(mended(backUnseen, docOf({ run }))).toMatchObject({ left: null, after: { sides: CARD_SIDES } });
  expect(mended(backUnseen, docOf({ run: [{ ...run[0], on: false }] })).text).toBeUndefined();
});
